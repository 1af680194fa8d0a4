"""Views of owners' pages: counted in memory, written down now and then, so that a visitor of a page waits for no writer."""

import sqlite3
import threading
from collections.abc import Callable

from openacorn.db.database import Database

EVERY_S = 5.0
"""Rest between two times of writing down; a kill loses no more views than that."""


class Views:
    """Views that are not written down yet: page → (how many, when the last). add: writes down how many more a page has."""

    def __init__(self, add: Callable[[sqlite3.Connection, int, int, str], None]) -> None:
        self._add = add
        self._lock = threading.Lock()
        self._seen: dict[int, tuple[int, str]] = {}

    def count(self, page_id: int, at: str) -> None:
        """Somebody has opened a page."""
        with self._lock:
            self._seen[page_id] = (self._seen.get(page_id, (0, ""))[0] + 1, at)

    def of(self, page_id: int) -> tuple[int, str]:
        """(views beyond those in the store, when the last was, "" if there are none)."""
        with self._lock:
            return self._seen.get(page_id, (0, ""))

    def write_down(self, database: Database) -> None:
        """Move what was counted to the store; what comes meanwhile waits for the next time."""
        with self._lock:
            seen = dict(self._seen)
        if not seen:
            return
        with database.write() as conn:
            for page_id, (count, at) in seen.items():
                self._add(conn, page_id, count, at)
        with self._lock:
            for page_id, (count, _) in seen.items():
                now, last = self._seen[page_id]
                if now == count:
                    del self._seen[page_id]
                else:
                    self._seen[page_id] = (now - count, last)
