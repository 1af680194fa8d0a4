"""Servers and applications of tests, running for as long as a block does."""

import http.server
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, TypeVar

from openacorn.settings import Settings
from openacorn.settings_file import save_settings
from tests.application import Application

S = TypeVar("S", bound=http.server.ThreadingHTTPServer)


@contextmanager
def served(server: S) -> Iterator[S]:
    """A server in a thread of its own, that ends whole."""
    server.daemon_threads = True
    thread = threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True)
    thread.start()
    try:
        yield server
    finally:
        server.shutdown()
        server.server_close()
        thread.join()


@contextmanager
def new_application(folder: Path, **settings: Any) -> Iterator[Application]:
    """An application on an empty folder with some settings; at its end nothing in it may have failed."""
    save_settings(folder, Settings(**settings))
    running = Application(folder)
    running.start()
    yield running
    running.end()
    log = running.log.read_text()
    assert "Traceback" not in log, log[-3000:]
