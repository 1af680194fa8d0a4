"""How long the table takes while the application is busy: a sweep of the whole coast, offers scored again, PDFs asked for."""

import contextlib
import http.client
import json
import os
import statistics
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

from bench.coast import AREA
from bench.filled import running_on
from openacorn.core.trades.catalogue import OWN
from openacorn.db.database import Database
from openacorn.demo.agency import DIRECTORY_PLAN, demo_settings, prepare_world
from openacorn.gather.store import places, recipes
from openacorn.settings_file import save_settings
from openacorn.sim.run import running_world

READERS, PDFS, RESCORED = 20, 60, 30
REST_S = 1.0
"""What a reader does with a page before asking for the next."""

ASKED = ("sort=-value", "trade=vets", "check.title=gap", "q=harbour", "sort=name&offset=100", "has=email")
RULED = ("title", "sentence", "fee", "monthly", "months", "delivery", "rules", "gates")
SOURCES = ("listing_service", "map_data", "company_register", "directory:1")


def _ask(port: int, method: str, path: str, body: Any = None) -> tuple[int, bytes]:
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
    try:
        head = {"Content-Type": "application/json"} if body is not None else {}
        line.request(method, path, None if body is None else json.dumps(body), head)
        answer = line.getresponse()
        return answer.status, answer.read()
    finally:
        line.close()


def _response(port: int, method: str, path: str, body: Any = None) -> Any:
    status, stated = _ask(port, method, path, body)
    if status >= 400:
        raise RuntimeError(f"{method} {path}: HTTP {status}: {stated[:200].decode(errors='replace')}")
    return json.loads(stated)


def _host_took() -> float:
    """Seconds of processor time that this machine's host gave to others since it started (Linux: "steal"), 0 where unknown."""
    with contextlib.suppress(OSError):
        return int(Path("/proc/stat").read_text().split()[8]) / os.sysconf("SC_CLK_TCK")
    return 0.0


@contextmanager
def running_application(folder: Path) -> Iterator[tuple[int, int]]:
    """The application over the coast's servers, in processes of its own; gives (port, process id)."""
    world_folder = prepare_world(folder)
    with running_world(world_folder) as world:
        save_settings(folder, demo_settings(folder, world))
        database = Database(folder / "acorn.db")
        with database.write() as conn:
            places.replace_places(conn, json.loads((world_folder / "places.json").read_text(encoding="utf-8")))
            recipes.insert_recipe(conn, DIRECTORY_PLAN, "now")
        database.close()
        with running_on(folder) as (url, process_id):
            yield int(url.rpartition(":")[2]), process_id


def _read_while(port: int, work: Callable[[], None]) -> dict[str, Any]:
    """Have READERS turn pages of the table until `work` is done; milliseconds of their requests, and how many failed."""
    over = threading.Event()
    times: list[float] = []
    errors: list[str] = []

    def read(number: int) -> None:
        turn = number
        while not over.wait(REST_S * (0.5 + number / READERS)):
            began = time.perf_counter()
            try:
                status, _ = _ask(port, "GET", f"/api/businesses?{ASKED[turn % len(ASKED)]}")
                if status != 200:
                    errors.append(f"HTTP {status}")
            except OSError as error:
                errors.append(str(error))
            times.append((time.perf_counter() - began) * 1000)
            turn += 1

    readers = [threading.Thread(target=read, args=(number,)) for number in range(READERS)]
    for reader in readers:
        reader.start()
    began, before = time.perf_counter(), _host_took()
    try:
        work()
    finally:
        took, host = time.perf_counter() - began, _host_took() - before
        over.set()
        for reader in readers:
            reader.join()
    marks = statistics.quantiles(times, n=100)
    return {
        "took_s": round(took, 1), "requests": len(times), "errors": len(errors), "p50_ms": round(marks[49], 1),
        "p95_ms": round(marks[94], 1), "max_ms": round(max(times), 1), "host_took_s": round(host, 1),
    }  # fmt: skip


def _sweep(port: int) -> None:
    plan = {"trades": [trade.id for trade in OWN], "areas": [AREA], "sources": list(SOURCES)}
    run = _response(port, "POST", "/api/sweeps", {"name": "coast", "plan": plan})["run_id"]
    while _response(port, "GET", f"/api/runs/{run}")["state"] == "running":
        time.sleep(0.5)


def _rescore(port: int) -> None:
    service = _response(port, "GET", "/api/services")[0]
    asked = {name: service[name] for name in RULED}
    for number in range(RESCORED):
        fee = service["fee"] + (number + 1) % 3 * 100  # the last one as it was
        _response(port, "PUT", f"/api/services/{service['id']}", asked | {"fee": fee, "note": "bench"})


def _print(port: int) -> None:
    ids = [row[0] for row in _response(port, "GET", f"/api/businesses?columns=id&limit={PDFS}")["rows"]]
    run = _response(port, "POST", "/api/owner-pages", {"ids": ids, "share": True})["run_id"]
    while _response(port, "GET", f"/api/runs/{run}")["state"] == "running":
        time.sleep(0.5)
    pages = [page["id"] for page in _response(port, "GET", "/api/owner-pages")["pages"]][:PDFS]
    asking = [threading.Thread(target=_ask, args=(port, "GET", f"/api/owner-pages/{page}/pdf")) for page in pages]
    for one in asking:
        one.start()
    for one in asking:
        one.join()


def table_while_busy() -> dict[str, Any]:
    """Work → the table's times while it goes on."""
    with tempfile.TemporaryDirectory() as name, running_application(Path(name)) as (port, _):
        works = {"sweep of the coast": _sweep, "offers scored anew": _rescore, f"{PDFS} PDFs": _print}
        return {title: _read_while(port, partial(work, port)) for title, work in works.items()}
