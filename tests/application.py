"""The application as a process of its own, for tests that kill it, drive it by browser, or ask it over HTTP."""

import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from openacorn.db.database import Database
from openacorn.gather.store import places
from openacorn.settings import Settings, save_settings
from openacorn.sim.serve import free_ports

ROOT = Path(__file__).resolve().parents[1]
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
        self._process: subprocess.Popen[str] | None = None

    def start(self) -> None:
        """Start and wait until it answers."""
        command = [sys.executable, "-m", "openacorn.cli", "serve", "--data", str(self.folder), "--port", str(self.port)]
        with self.log.open("a") as log:
            self._process = subprocess.Popen(
                command,
                cwd=ROOT,
                env={**os.environ, "PYTHONPATH": str(ROOT), "ACORN_STRICT": "1"},
                stdout=subprocess.PIPE,
                stderr=log,
                text=True,
            )
        until = time.monotonic() + STARTED_WITHIN_S
        while time.monotonic() < until:
            try:
                self.get("/api/status")
                return
            except (urllib.error.URLError, ConnectionError):
                assert self._process.poll() is None, f"the application ended at start: {self.log.read_text()[-2000:]}"
                time.sleep(0.1)
        self.end(signal.SIGKILL)  # no other test may meet it
        raise AssertionError(f"the application does not answer: {self.log.read_text()[-2000:]}")

    def end(self, how: int = signal.SIGINT) -> None:
        """Send a signal and wait for the end."""
        if self._process is not None:
            self._process.send_signal(how)
            self._process.wait(timeout=60)
            if self._process.stdout:
                self._process.stdout.close()
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

    def text(self, path: str) -> str:
        """An answer as text."""
        with urllib.request.urlopen(self.url + path, timeout=60) as answer:
            return str(answer.read().decode("utf-8-sig"))

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
            return json.load(answer)

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


@contextmanager
def application(folder: Path, settings: Settings, gazetteer: list[dict[str, Any]]) -> Iterator[Application]:
    """An application over fresh data; ended on leaving."""
    owners_port = settings.owners_port or free_ports(1)[0]
    save_settings(folder, settings.model_copy(update={"owners_port": owners_port}))
    database = Database(folder / "acorn.db")
    with database.write() as conn:
        places.replace_places(conn, gazetteer)
    database.close()
    running = Application(folder)
    running.owners_url = f"http://127.0.0.1:{owners_port}"
    running.start()
    try:
        yield running
    finally:
        running.end()
