"""The table's columns in memory, kept in step with the store by change number."""

import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from datetime import datetime
from itertools import islice
from typing import Any

import orjson

from openacorn.core.grid_row import GridRow
from openacorn.core.scored_grid import ScoredGrid
from openacorn.store import businesses, changes, membership
from openacorn.store.db import Database

BATCH = 5000


def _seconds(moment: str | None) -> float | None:
    return datetime.fromisoformat(moment).timestamp() if moment else None


def _state(row: Mapping[str, Any]) -> str:
    if row["rejected"]:
        return "rejected"
    return "standing" if row["standing"] else "held"


def grid_row(row: dict[str, Any], groups: Mapping[str, Sequence[str]]) -> GridRow:
    """A business's wide row as the grid holds it, with what it belongs to (facet → values)."""
    outcomes = orjson.loads(row["outcomes"])  # words as good as the enumeration's, which are words
    numbers = {name: row[name] for name in ("score", "value", "reviews", "rating", "reach", "fit", "lat", "lon")}
    numbers |= {
        "distance": row["distance_m"],
        "audited": _seconds(row["audited_at"]),
        "seen": _seconds(row["first_seen"]),
    }
    own = {"has": orjson.loads(row["channels"]), "source": orjson.loads(row["sources"])}
    return GridRow(
        id=row["id"], name=row["name"], trade=row["trade"], town=row["town"], website=row["website"], offer=row["offer"],
        state=_state(row), numbers=numbers, outcomes=outcomes, groups={**groups, **own}, platform=row["platform"],
    )  # fmt: skip


class Snapshot:
    """Use as `with snapshot.current() as grid`: the grid follows every write that was committed before."""

    def __init__(self, database: Database, checks: Callable[[], tuple[str, ...]]) -> None:
        self._database = database
        self._lock = threading.Lock()
        self._grid = ScoredGrid(checks(), self._saying)
        self._number = -1

    @contextmanager
    def current(self) -> Iterator[ScoredGrid]:
        """The grid, up to date, for this thread alone until the block ends."""
        with self._lock:
            self._follow()
            yield self._grid

    def warm(self) -> None:
        """Load what the store holds, so that nobody waits for it who opens the table first."""
        with self.current():
            pass

    def _saying(self, words: str) -> list[int]:
        with self._database.read() as conn:
            return membership.pages_saying(conn, words)

    def _follow(self) -> None:
        with self._database.read() as conn:
            number = changes.current_change(conn)
            if number == self._number:
                return
            rows, gone = businesses.changed_since(conn, self._number)
            while batch := list(islice(rows, BATCH)):
                groups = membership.groups_of(conn, [row["id"] for row in batch])
                self._grid.put(grid_row(row, groups.get(row["id"], {})) for row in batch)
            self._grid.drop(gone)
            self._number = number
