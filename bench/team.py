"""Twenty people at once beside a sweep of the whole coast: how long each waits, whether anything is lost, whether memory grows."""

import http.client
import json
import secrets
import sqlite3
import statistics
import tempfile
import threading
import time
from collections import Counter
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from bench.coast import AREA
from bench.desk_busy import SOURCES, running_application
from openacorn.core.trades.catalogue import OWN

PEOPLE, SECONDS, REST_S = 20, 600.0, 1.0
READS = (
    "/api/businesses?sort=-value", "/api/businesses?check.title=gap", "/api/businesses?q=harbour", "/api/businesses/facets",
    "/api/businesses/{business}", "/api/businesses/{business}/activities", "/api/shortlists",
    "/api/businesses/{business}/call-sheet",
)  # fmt: skip
READ_MS, WRITE_MS = 150, 300
"""What 95 of 100 requests are to stay under."""


@dataclass
class Worker:
    """Somebody who works at the desk: turns pages, opens businesses, notes calls, tags."""

    port: int
    number: int
    cookie: str = ""
    csrf: str = ""
    reads: list[float] = field(default_factory=list)
    writes: list[float] = field(default_factory=list)
    noted: list[str] = field(default_factory=list)
    """Each note that was acknowledged."""

    errors: list[str] = field(default_factory=list)

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any, http.client.HTTPMessage]:
        """One request as this person's browser sends it."""
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=120)
        head = {"Content-Type": "application/json"}
        if self.cookie:
            head |= {"Cookie": f"__Host-acorn={self.cookie}", "X-CSRF-Token": self.csrf}
        line.request(method, path, None if body is None else json.dumps(body), head)
        answer = line.getresponse()
        raw = answer.read()
        line.close()
        return answer.status, json.loads(raw or b"null"), answer.headers

    def enter(self, path: str, body: Any) -> "Worker":
        """Be signed in by a first account, a link or a password."""
        status, found, headers = self.ask("POST", path, body)
        if status >= 300:
            raise RuntimeError(f"{path}: {found}")
        self.cookie, self.csrf = headers["Set-Cookie"].split(";")[0].split("=", 1)[1], found["csrf"]
        return self

    def timed(self, kept: list[float], method: str, path: str, body: Any = None) -> bool:
        """Ask, and keep how long it took; an error is noted."""
        began = time.perf_counter()
        try:
            status, _, _ = self.ask(method, path, body)
        except OSError as error:
            self.errors.append(str(error))
            return False
        kept.append((time.perf_counter() - began) * 1000)
        if status >= 400 and status != 404:  # merged into another meanwhile
            self.errors.append(f"{method} {path}: {status}")
        return status < 400

    def work(self, businesses: list[int], over: threading.Event) -> None:
        """Go on until it is over."""
        turn = self.number
        while not over.wait(REST_S * (0.5 + self.number / PEOPLE)):
            business = businesses[(turn * 7 + self.number) % len(businesses)]
            self.timed(self.reads, "GET", READS[turn % len(READS)].format(business=business))
            if turn % 3 == 0:
                text = f"note {self.number} {turn} {secrets.token_hex(6)}"
                if self.timed(self.writes, "POST", f"/api/businesses/{business}/activities", {"text": text}):
                    self.noted.append(text)
            elif turn % 7 == 0:
                body = {"kind": "tag", "ids": [business], "word": f"tag {self.number}"}
                self.timed(self.writes, "POST", "/api/actions", body)
            turn += 1


def _team(port: int) -> list[Worker]:
    password = "correct-lantern-harbour-17"
    owner = Worker(port, 0).enter(
        "/api/first-owner", {"email": "p0@wrenfold.example", "name": "Person 0", "password": password}
    )
    people = [owner]
    for number in range(1, PEOPLE):
        body = {"email": f"p{number}@wrenfold.example", "name": f"Person {number}", "role": "caller"}
        link = owner.ask("PUT", "/api/team", body)[1]["link"]
        key = link.rpartition("#")[2]
        people.append(Worker(port, number).enter("/api/new-password", {"key": key, "password": password}))
    return people


def _memory_mb(pid: int) -> float:
    lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    return int(next(line for line in lines if line.startswith("VmRSS")).split()[1]) / 1024


def _spread(times: list[float]) -> dict[str, float]:
    marks = statistics.quantiles(times, n=100)
    return {
        "requests": len(times), "p50_ms": round(marks[49], 1), "p95_ms": round(marks[94], 1), "p99_ms": round(marks[98], 1),
        "max_ms": round(max(times), 1),
    }  # fmt: skip


def _sweep_on(owner: Worker, over: threading.Event) -> None:
    """Sweep the coast again and again while the others work."""
    plan = {"trades": [trade.id for trade in OWN], "areas": [AREA], "sources": list(SOURCES)}
    run = owner.ask("POST", "/api/sweeps", {"name": "coast", "plan": plan})[1]
    while not over.wait(1.0):
        if owner.ask("GET", f"/api/runs/{run['run_id']}")[1]["state"] != "running":
            run = owner.ask("POST", f"/api/sweeps/{run['sweep_id']}/runs")[1]


def _lost(store: Path, people: list[Worker]) -> int:
    """Notes that were acknowledged and are not there, each once. A business may have been merged into another meanwhile."""
    with closing(sqlite3.connect(f"file:{store}?mode=ro", uri=True)) as conn:
        there = Counter(row[0] for row in conn.execute("SELECT text FROM step"))
    return sum(there[text] != 1 for person in people for text in person.noted)


def bench_team(seconds: float = SECONDS) -> tuple[dict[str, Any], str]:
    """Figures, and the same for people to read."""
    with tempfile.TemporaryDirectory() as name, running_application(Path(name)) as (port, pid):
        people = _team(port)
        owner, over = people[0], threading.Event()
        sweeping = threading.Thread(target=_sweep_on, args=(owner, over))
        sweeping.start()
        while (
            len(businesses := [row[0] for row in owner.ask("GET", "/api/businesses?columns=id&limit=500")[1]["rows"]])
            < 100
        ):
            time.sleep(1)
        threads = [threading.Thread(target=person.work, args=(businesses, over)) for person in people]
        for thread in threads:
            thread.start()
        time.sleep(seconds / 4)
        early = _memory_mb(pid)
        time.sleep(seconds * 3 / 4)
        late = _memory_mb(pid)
        over.set()
        for thread in [*threads, sweeping]:
            thread.join()
        figures: dict[str, Any] = {
            "people": PEOPLE, "seconds": seconds, "reads": _spread([t for one in people for t in one.reads]),
            "writes": _spread([t for one in people for t in one.writes]), "errors": sum(len(one.errors) for one in people),
            "notes": sum(len(one.noted) for one in people), "lost": _lost(Path(name) / "acorn.db", people),
            "memory_mb_after_a_quarter": round(early), "memory_mb_at_the_end": round(late),
        }  # fmt: skip
        for fault in sorted({fault for one in people for fault in one.errors})[:5]:
            figures.setdefault("first_errors", []).append(fault)
    return figures, _text(figures)


def _row(name: str, spread: dict[str, float], wanted: int) -> str:
    times = f"p50 {spread['p50_ms']:7} ms  p95 {spread['p95_ms']:7} ms (wanted {wanted})  max {spread['max_ms']} ms"
    return f"  {name:8}{spread['requests']:6} {times}\n"


def _text(figures: dict[str, Any]) -> str:
    return (
        f"{figures['people']} people for {figures['seconds']:.0f} s beside sweeps of the whole coast\n"
        + _row("reads", figures["reads"], READ_MS)
        + _row("writes", figures["writes"], WRITE_MS)
        + f"  errors {figures['errors']}, notes acknowledged {figures['notes']}, lost {figures['lost']}\n"
        f"  memory {figures['memory_mb_after_a_quarter']} MB after a quarter, {figures['memory_mb_at_the_end']} MB at the end"
    )
