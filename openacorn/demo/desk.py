"""The shipped application, run for a while in this process, and its interface as the demo's people use it."""

import json
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import uvicorn

from openacorn.api.app import create_application
from openacorn.net.ports import listening
from openacorn.settings import Settings

STARTED_WITHIN_S = 60.0
READER = "Mozilla/5.0 (X11; Linux)"
"""How an owner's browser names itself: openings by programs are counted apart."""


class Refused(RuntimeError):
    """The application did not take what the demo's people did; the message says what, and why."""


class Desk:
    """What a person does at the application, over its own interface."""

    def __init__(self, url: str, owners_url: str) -> None:
        self._url, self._owners_url = url, owners_url

    def _ask(self, method: str, path: str, body: Any = None) -> Any:
        """body: a file's text is sent as it is, all else as JSON."""
        kind = "application/octet-stream" if isinstance(body, str) else "application/json"
        data = None if body is None else body.encode() if isinstance(body, str) else json.dumps(body).encode()
        request = urllib.request.Request(f"{self._url}/api{path}", data, {"Content-Type": kind}, method=method)
        try:
            with urllib.request.urlopen(request, timeout=STARTED_WITHIN_S) as answer:
                return json.loads(answer.read() or b"null")
        except urllib.error.HTTPError as error:
            with error:
                raise Refused(f"{method} {path} {body}: {error.read().decode()}") from error

    def get(self, path: str, **query: Any) -> Any:
        """Ask for something."""
        return self._ask("GET", f"{path}?{urllib.parse.urlencode(query)}" if query else path)

    def post(self, path: str, body: Any = None) -> Any:
        """Do something."""
        return self._ask("POST", path, body or {})

    def put(self, path: str, body: Any) -> Any:
        """Change something."""
        return self._ask("PUT", path, body)

    def rows(self, columns: str, limit: int, **query: Any) -> list[list[Any]]:
        """Rows of the table."""
        found: list[list[Any]] = self.get("/businesses", columns=columns, limit=limit, **query)["rows"]
        return found

    def open_page(self, path: str, form: Mapping[str, str] | None = None) -> str:
        """Open an owner's page, or send its form, as its owner."""
        body = urllib.parse.urlencode(form).encode() if form else None
        request = urllib.request.Request(self._owners_url + path, body, {"User-Agent": READER})
        with urllib.request.urlopen(request, timeout=STARTED_WITHIN_S) as answer:
            return str(answer.read().decode("utf-8", "replace"))

    def finish(self, run_id: int, shown: Callable[[dict[str, Any]], None] | None = None) -> None:
        """Wait until a run has audited what it found; the pictures that it takes then can go on later."""
        while True:
            run = self.get(f"/runs/{run_id}")
            if shown is not None:
                shown(run)
            if run["state"] != "running" or _only_looks_left(run["progress"]):
                return
            time.sleep(0.3)


def _only_looks_left(progress: Mapping[str, Any]) -> bool:
    return bool(progress["looks_left"] > 0 and progress["audits_left"] == progress["queries_left"] == 0)


@contextmanager
def desk_on(folder: Path, settings: Settings) -> Iterator[Desk]:
    """The application over a folder, on two free ports of its own."""
    doors = [listening(0), listening(0)]
    ports = [door.getsockname()[1] for door in doors]
    config = uvicorn.Config(
        create_application(folder, settings, (ports[0], ports[1])),
        log_level="warning",
        loop="uvloop",
        timeout_graceful_shutdown=2,
    )
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, kwargs={"sockets": doors}, name="demo desk")
    thread.start()
    until = time.monotonic() + STARTED_WITHIN_S
    while not server.started and thread.is_alive() and time.monotonic() < until:
        time.sleep(0.05)
    try:
        yield Desk(f"http://127.0.0.1:{ports[0]}", f"http://127.0.0.1:{ports[1]}")
    finally:
        server.should_exit = True
        thread.join()
