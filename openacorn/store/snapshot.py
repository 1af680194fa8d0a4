"""The table's columns in memory, kept in step with the store by change number."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import datetime
from itertools import islice
from typing import Any

import orjson

from openacorn.core.audit.finding import Outcome
from openacorn.core.grid import Grid, GridRow
from openacorn.store import businesses, changes
from openacorn.store.db import Database

BATCH = 5000


def grid_row(row: dict[str, Any], runs: list[int], shortlists: list[int]) -> GridRow:
    """A business's wide row as the grid holds it."""
    outcomes = {check: Outcome(outcome) for check, outcome in orjson.loads(row["outcomes"]).items()}
    gaps = sum(outcome is Outcome.GAP for outcome in outcomes.values())
    audited = datetime.fromisoformat(row["audited_at"]).timestamp() if row["audited_at"] else None
    return GridRow(
        id=row["id"],
        name=row["name"],
        trade=row["trade"],
        town=row["town"],
        website=row["website"],
        offer=row["offer"],
        rejected=bool(row["rejected"]),
        numbers={
            "score": row["score"],
            "value": row["value"],
            "reviews": row["reviews"],
            "rating": row["rating"],
            "distance": row["distance_m"],
            "audited": audited,
            "gaps": gaps if outcomes else None,
        },
        outcomes=outcomes,
        runs=tuple(runs),
        shortlists=tuple(shortlists),
    )


class Snapshot:
    """Use as `with snapshot.current() as grid`: the grid follows every write that was committed before."""

    def __init__(self, database: Database, checks: Callable[[], tuple[str, ...]]) -> None:
        self._database = database
        self._lock = threading.Lock()
        self._grid = Grid(checks())
        self._number = -1

    @contextmanager
    def current(self) -> Iterator[Grid]:
        """The grid, up to date, for this thread alone until the block ends."""
        with self._lock:
            self._follow()
            yield self._grid

    def _follow(self) -> None:
        with self._database.read() as conn:
            number = changes.current_change(conn)
            if number == self._number:
                return
            rows, gone = businesses.changed_since(conn, self._number)
            while batch := list(islice(rows, BATCH)):
                runs, lists = businesses.groups_of(conn, [row["id"] for row in batch])
                self._grid.put(grid_row(row, runs.get(row["id"], []), lists.get(row["id"], [])) for row in batch)
            self._grid.drop(gone)
            self._number = number
