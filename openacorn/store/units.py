"""Units of work: rows that are claimed, done, failed, and claimed again after a crash."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Unit:
    """One step of a run. `payload` is JSON of its kind's own shape."""

    id: int
    run_id: int
    kind: str
    key: str
    payload: str


@dataclass(frozen=True, slots=True)
class TileState:
    """A query as the map shows it."""

    key: str
    state: str
    payload: str
    rows: int | None
    full: bool
    error: str


ADD = "INSERT INTO unit (run_id, kind, key, payload) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING"
CLAIM = """
UPDATE unit SET state = 'doing', attempts = attempts + 1
WHERE id IN (SELECT id FROM unit WHERE run_id = ? AND kind = ? AND state = 'ready' ORDER BY id LIMIT ?)
RETURNING id, run_id, kind, key, payload
"""
FINISH = "UPDATE unit SET state = 'done', rows = ?, full = ?, error = '', remedy = '' WHERE id = ?"
FAIL = "UPDATE unit SET state = 'failed', error = ?, remedy = ? WHERE id = ?"
REQUEUE = "UPDATE unit SET state = 'ready' WHERE run_id = ? AND state IN (SELECT value FROM json_each(?))"
SKIP = "UPDATE unit SET state = 'skipped' WHERE run_id = ? AND kind = ? AND state = 'ready'"
COUNT = "SELECT kind, state, count(*) FROM unit WHERE run_id = ? GROUP BY kind, state"
TILES = "SELECT key, state, payload, rows, full, error FROM unit WHERE run_id = ? AND kind = 'query' ORDER BY id"


def add_units(conn: sqlite3.Connection, run_id: int, kind: str, units: Iterable[tuple[str, str]]) -> None:
    """Queue (key, payload) pairs; a key that the run already has is left alone, so that nothing is done twice."""
    conn.executemany(ADD, ((run_id, kind, key, payload) for key, payload in units))


def claim(conn: sqlite3.Connection, run_id: int, kind: str, count: int) -> list[Unit]:
    """Take up to `count` ready units, oldest first."""
    return sorted((Unit(**dict(row)) for row in conn.execute(CLAIM, (run_id, kind, count))), key=lambda unit: unit.id)


def finish(conn: sqlite3.Connection, unit_id: int, rows: int | None = None, *, full: bool = False) -> None:
    """Mark a unit done; `full`: its answer ran into the cap."""
    conn.execute(FINISH, (rows, int(full), unit_id))


def fail(conn: sqlite3.Connection, unit_id: int, error: str, remedy: str) -> None:
    """Keep the reason on the row; it can be queued again."""
    conn.execute(FAIL, (error, remedy, unit_id))


def requeue(conn: sqlite3.Connection, run_id: int, *, failed: bool) -> None:
    """After a restart: what was in flight is ready again; with `failed`, failed units too."""
    conn.execute(REQUEUE, (run_id, '["doing", "failed"]' if failed else '["doing"]'))


def skip_rest(conn: sqlite3.Connection, run_id: int, kind: str) -> int:
    """Skip what is still ready; return how many."""
    return conn.execute(SKIP, (run_id, kind)).rowcount


def unskip(conn: sqlite3.Connection, run_id: int) -> None:
    """Make skipped units ready again."""
    conn.execute("UPDATE unit SET state = 'ready' WHERE run_id = ? AND state = 'skipped'", (run_id,))


def counts(conn: sqlite3.Connection, run_id: int) -> dict[tuple[str, str], int]:
    """(kind, state) → number of units."""
    return {(str(kind), str(state)): int(count) for kind, state, count in conn.execute(COUNT, (run_id,))}


def tiles(conn: sqlite3.Connection, run_id: int) -> list[TileState]:
    """All queries of a run in the order they were planned."""
    return [
        TileState(row["key"], row["state"], row["payload"], row["rows"], bool(row["full"]), row["error"])
        for row in conn.execute(TILES, (run_id,))
    ]
