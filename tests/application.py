"""The application as a process of its own, for tests that kill it, drive it by browser, or ask it over HTTP."""

import json
import shutil
import signal
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any

from openacorn.db.database import Database
from openacorn.gather.store import places, regions
from openacorn.settings import Settings
from openacorn.settings_file import save_settings
from openacorn.sim.serve import free_ports
from tests.nursery import Child, Nursery

ROOT = Path(__file__).resolve().parents[1]
NURSERY = Nursery()
TEMPLATES: list[Path] = []
"""Where stores lie that others are copied from."""

STARTED_WITHIN_S = 180
"""A machine that is busy with other things takes its time; an application that ends at its start fails at once."""


class Application:
    """A running `./acorn serve` over a data folder."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.port = free_ports(1)[0]
        self.url = f"http://127.0.0.1:{self.port}"
        self.owners_url = ""
        """Where owners' pages are, once it has started with a port for them in its settings."""
        self.log = folder.parent / f"{folder.name}.log"
        """What it writes to standard error, of all its starts."""
        self._process: Child | None = None

    def start(self) -> None:
        """Start and wait until it answers."""
        self._process = NURSERY.serve(["serve", "--data", str(self.folder), "--port", str(self.port)], self.log)
        until = time.monotonic() + STARTED_WITHIN_S
        while time.monotonic() < until:
            try:
                self.get("/api/health/live")
                return
            except (urllib.error.URLError, ConnectionError):
                assert self._process.running, f"the application ended at start: {self.log.read_text()[-2000:]}"
                time.sleep(0.1)
        self.end(signal.SIGKILL)  # no other test may meet it
        raise AssertionError(f"the application does not answer: {self.log.read_text()[-2000:]}")

    def end(self, how: int = signal.SIGINT) -> None:
        """Send a signal and wait for the end."""
        if self._process is not None:
            self._process.end(how, within_s=60)
            self._process = None

    @property
    def process_id(self) -> int:
        """Of the process that runs now."""
        assert self._process is not None
        return self._process.pid

    def get(self, path: str) -> Any:
        """A JSON answer."""
        with urllib.request.urlopen(self.url + path, timeout=60) as answer:
            return json.load(answer)

    def content(self, path: str) -> bytes:
        """An answer as it came."""
        with urllib.request.urlopen(self.url + path, timeout=60) as answer:
            return bytes(answer.read())

    def text(self, path: str) -> str:
        """An answer as text."""
        return self.content(path).decode("utf-8-sig")

    def export(self, path: str) -> bytes:
        """A file that is given out to a POST alone."""
        request = urllib.request.Request(self.url + path, b"", method="POST")
        with urllib.request.urlopen(request, timeout=60) as answer:
            return bytes(answer.read())

    def export_text(self, path: str) -> str:
        """As `export`, decoded."""
        return self.export(path).decode("utf-8-sig")

    def put(self, path: str, body: Any) -> Any:
        """As `post`, to replace something."""
        return self.post(path, body, method="PUT")

    def post(self, path: str, body: Any = None, headers: dict[str, str] | None = None, method: str = "POST") -> Any:
        """A JSON answer to a JSON body."""
        request = urllib.request.Request(
            self.url + path,
            json.dumps(body or {}).encode(),
            {"Content-Type": "application/json", **(headers or {})},
            method=method,
        )
        with urllib.request.urlopen(request, timeout=60) as answer:
            return json.loads(answer.read() or b"null")

    def wait_for_run(self, run_id: int, standstill_s: float = 90) -> dict[str, Any]:
        """Wait until a run has ended; return it. A slow machine may take its time, but a run may not stand still."""
        last, moved = None, time.monotonic()
        while time.monotonic() < moved + standstill_s:
            run: dict[str, Any] = self.get(f"/api/runs/{run_id}")
            if run["state"] != "running":
                return run
            if run != last:
                last, moved = run, time.monotonic()
            time.sleep(0.2)
        raise AssertionError(f"run {run_id} stands still: {last}")


def _fill(path: Path, gazetteer: list[dict[str, Any]]) -> None:
    database = Database(path)
    with database.write() as conn:
        places.replace_places(conn, gazetteer)
        places.fill_if_empty(conn)
        regions.fill_if_empty(conn)
    database.close()


@cache
def _template(gazetteer: str) -> Path:
    """A store with its places and regions, made once for all tests that begin with an empty one."""
    path = Path(tempfile.mkdtemp(prefix="acorn-template-")) / "acorn.db"
    TEMPLATES.append(path.parent)
    _fill(path, json.loads(gazetteer))
    return path


def clear_away() -> None:
    """End what all tests shared."""
    NURSERY.close()
    for folder in TEMPLATES:
        shutil.rmtree(folder)


@contextmanager
def application(folder: Path, settings: Settings, gazetteer: list[dict[str, Any]]) -> Iterator[Application]:
    """An application over fresh data; ended on leaving."""
    owners_port = settings.owners_port or free_ports(1)[0]
    save_settings(folder, settings.model_copy(update={"owners_port": owners_port}))
    if (folder / "acorn.db").exists():  # a test that has put something there beforehand
        _fill(folder / "acorn.db", gazetteer)
    else:
        shutil.copy(_template(json.dumps(gazetteer)), folder / "acorn.db")
    running = Application(folder)
    running.owners_url = f"http://127.0.0.1:{owners_port}"
    running.start()
    try:
        yield running
    finally:
        running.end()
