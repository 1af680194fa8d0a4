"""The table's columns in memory, kept in step with the store by change number."""

import threading
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from datetime import datetime
from itertools import islice
from typing import Any

import orjson

from openacorn.business import grid_file
from openacorn.business.store import businesses, membership
from openacorn.core.desk.grid_row import GridRow
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.db import changes
from openacorn.db.database import Database

BATCH = 500
"""Rows put at once: the table is held for some milliseconds."""

FIRST_BATCH = 5000
"""At the start, when there is no table yet that anybody could be shown."""

WORTH_A_FILE = 5_000
"""Fewer businesses are read from the store in no time."""

PATIENCE_S = 1.0
"""Longer nobody waits for what has just come or changed; and not at all where more than BATCH businesses that are there changed."""

PATIENCE_BESIDE_RUN_S = 0.03
"""While a run goes on something changes all the time: what is not there yet comes with the next look."""


def _seconds(moment: str | None) -> float | None:
    return datetime.fromisoformat(moment).timestamp() if moment else None


def _state(row: Mapping[str, Any]) -> str:
    if row["rejected"]:
        return "rejected"
    return "relationship" if row["relationship"] else "held"


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
    """Use as `with snapshot.current() as grid`: the grid follows every write that was committed before.

    What changed is read in a thread of its own and put into the grid a few hundred rows at a time, so that a large change (a
    re-scoring, a run's end) delays no request: meanwhile the table is shown as far as it is loaded.
    """

    def __init__(self, database: Database, checks: Callable[[], tuple[str, ...]]) -> None:
        self._database = database
        self.beside_run: Callable[[], bool] = lambda: False
        """Does a run go on that writes businesses?"""
        self._lock = threading.Lock()
        self._grid = ScoredGrid(checks(), self._saying)
        self._number = -1
        self._copied = -1
        """The change number up to which the file beside the database has everything; -1 for none."""
        self._moved = threading.Condition()
        self._following: threading.Thread | None = None
        self._fault: BaseException | None = None
        self._renewing = False
        """Are many businesses changing that the grid holds already, so that it can be shown meanwhile?"""

    @contextmanager
    def current(self, *, exact: bool = False) -> Iterator[ScoredGrid]:
        """The grid for this thread alone until the block ends. exact: wait until it holds every change, however long that takes."""
        self._wait(exact=exact)
        with self._lock:
            self._grid.behind = self._following is not None
            yield self._grid

    def warm(self) -> None:
        """Load what the store holds, so that nobody waits for it who opens the table first."""
        self._wait(exact=True)
        self.save()

    def save(self) -> None:
        """Write the file that the next start begins with, where that is worth the while."""
        before = grid_file.mark_of(self._database)  # read first: who is erased from now on shall not stand in the file
        self._wait(exact=True)
        with self._lock:
            number = self._number
            if len(self._grid) < WORTH_A_FILE or number == self._copied:
                return
            draft, mark = grid_file.write_draft(self._database, self._grid, number)
        if grid_file.save(self._database, draft, mark, before):
            self._copied = number

    def _begin(self) -> None:
        """Take the columns of the file, if there is one that fits; what has changed since is read after that."""
        grid = ScoredGrid(self._grid.checks, self._saying)
        number = grid_file.load(self._database, grid)
        if number >= 0:
            with self._lock:
                self._grid, self._number, self._copied = grid, number, number

    def _saying(self, words: str) -> list[int]:
        with self._database.read() as conn:
            return membership.pages_saying(conn, words)

    def _wait(self, *, exact: bool) -> None:
        with self._database.read() as conn:
            number = changes.current_change(conn)
        with self._moved:
            # the first time there is nothing yet that could be shown
            patience = PATIENCE_BESIDE_RUN_S if self.beside_run() else PATIENCE_S
            until = None if exact or self._number < 0 else time.monotonic() + patience
            while self._number < number and (until is None or not self._renewing):
                if self._following is None:
                    self._fault, self._renewing = None, False
                    self._following = threading.Thread(target=self._follow, name="snapshot", daemon=True)
                    self._following.start()
                if not self._moved.wait(None if until is None else until - time.monotonic()) and until is not None:
                    return
                if self._fault is not None:
                    raise self._fault

    def _follow(self) -> None:
        fault: BaseException | None = None
        number = self._number
        try:
            number = self._catch_up()
        except Exception as error:  # who waits gets the error
            fault = error
        with self._moved:
            self._number, self._fault, self._following, self._renewing = number, fault, None, False
            self._moved.notify_all()

    def _catch_up(self) -> int:
        """Put what has changed into the grid; return the change number that it holds then."""
        if self._number < 0:
            self._begin()
        with self._database.read() as conn:
            number = changes.current_change(conn)
            rows, gone = businesses.changed_since(conn, self._number)
            size = FIRST_BATCH if self._number < 0 else BATCH
            while batch := list(islice(rows, size)):
                if len(batch) == size and self._grid.holds([row["id"] for row in batch]):
                    self._hurry_nobody()
                groups = membership.groups_of(conn, [row["id"] for row in batch])
                made = [grid_row(row, groups.get(row["id"], {})) for row in batch]
                with self._lock:
                    self._grid.put(made)
        with self._lock:
            self._grid.drop(gone)
        return number

    def _hurry_nobody(self) -> None:
        with self._moved:
            self._renewing = True
            self._moved.notify_all()
