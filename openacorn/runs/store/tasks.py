"""Units of work: rows that are claimed, done, failed, and claimed again after a crash."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Task:
    """One step of a run. `payload` is JSON of its kind's own shape."""

    id: int
    run_id: int
    kind: str
    lane: str
    key: str
    payload: str


@dataclass(frozen=True, slots=True)
class TileState:
    """A query as the map shows it."""

    lane: str
    key: str
    state: str
    payload: str
    rows: int | None
    full: bool
    error: str


ADD = "INSERT INTO unit (run_id, kind, lane, key, payload) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING"
CLAIM = """
UPDATE unit SET state = 'doing', attempts = attempts + 1
WHERE id IN (SELECT id FROM unit WHERE run_id = ? AND kind = ? AND lane = ? AND state = 'ready' ORDER BY id LIMIT ?)
RETURNING id, run_id, kind, lane, key, payload
"""
FINISH = "UPDATE unit SET state = 'done', rows = ?, full = ?, error = '', remedy = '' WHERE id = ?"
FAIL = "UPDATE unit SET state = 'failed', error = ?, remedy = ? WHERE id = ?"
REQUEUE = """
UPDATE unit SET state = 'ready' WHERE run_id = ? AND state IN (SELECT value FROM json_each(?)) AND (? IS NULL OR lane = ?)
"""
SKIP = "UPDATE unit SET state = 'skipped' WHERE run_id = ? AND kind = ? AND state = 'ready'"
COUNT = "SELECT kind, state, count(*) FROM unit WHERE run_id = ? GROUP BY kind, state"
COUNT_LANES = """
SELECT lane, state, count(*), coalesce(sum(rows), 0) FROM unit WHERE run_id = ? AND kind = 'query' GROUP BY lane, state
"""
FAIL_LANE = """
UPDATE unit SET state = 'failed', error = ?, remedy = ? WHERE run_id = ? AND kind = 'query' AND lane = ? AND state = 'ready'
"""
TILES = "SELECT lane, key, state, payload, rows, full, error FROM unit WHERE run_id = ? AND kind = 'query' ORDER BY id"


def add_tasks(
    conn: sqlite3.Connection, run_id: int, kind: str, units: Iterable[tuple[str, str]], *, lane: str = ""
) -> None:
    """Queue (key, payload) pairs; a key that the run already has is left alone, so that nothing is done twice."""
    conn.executemany(ADD, ((run_id, kind, lane, key, payload) for key, payload in units))


def claim(conn: sqlite3.Connection, run_id: int, kind: str, count: int, *, lane: str = "") -> list[Task]:
    """Take up to `count` ready units of a lane, oldest first."""
    rows = conn.execute(CLAIM, (run_id, kind, lane, count))
    return sorted((Task(**dict(row)) for row in rows), key=lambda unit: unit.id)


def finish(conn: sqlite3.Connection, unit_id: int, rows: int | None = None, *, full: bool = False) -> None:
    """Mark a unit done; `full`: its answer ran into the cap."""
    conn.execute(FINISH, (rows, int(full), unit_id))


def fail(conn: sqlite3.Connection, unit_id: int, error: str, remedy: str) -> None:
    """Keep the reason on the row; it can be queued again."""
    conn.execute(FAIL, (error, remedy, unit_id))


def requeue(conn: sqlite3.Connection, run_id: int, *, failed: bool, lane: str | None = None) -> None:
    """After a restart: what was in flight is ready again; with `failed`, failed units too, all or those of one lane."""
    conn.execute(REQUEUE, (run_id, '["doing", "failed"]' if failed else '["doing"]', lane, lane))


def skip_rest(conn: sqlite3.Connection, run_id: int, kind: str) -> int:
    """Skip what is still ready; return how many."""
    return conn.execute(SKIP, (run_id, kind)).rowcount


def unskip(conn: sqlite3.Connection, run_id: int) -> None:
    """Make skipped units ready again."""
    conn.execute("UPDATE unit SET state = 'ready' WHERE run_id = ? AND state = 'skipped'", (run_id,))


def counts(conn: sqlite3.Connection, run_id: int) -> dict[tuple[str, str], int]:
    """(kind, state) → number of units."""
    return {(str(kind), str(state)): int(count) for kind, state, count in conn.execute(COUNT, (run_id,))}


@dataclass(frozen=True, slots=True)
class LaneCount:
    """Questions of one lane in one state, and the rows they brought."""

    lane: str
    state: str
    units: int
    rows: int


def lane_counts(conn: sqlite3.Connection, run_id: int) -> list[LaneCount]:
    """How far each source's questions are."""
    return [LaneCount(*row) for row in conn.execute(COUNT_LANES, (run_id,))]


@dataclass(frozen=True, slots=True)
class LastAnswer:
    """The result of the last question to a source. at: when its run began; error: "" if it was answered."""

    lane: str
    at: str
    rows: int
    error: str
    remedy: str


LAST_ANSWERS = """
SELECT lane, run.started_at AS at, coalesce(rows, 0) AS rows, error, unit.remedy FROM unit JOIN run ON run.id = run_id
WHERE unit.id IN (SELECT max(id) FROM unit WHERE kind = 'query' AND unit.state IN ('done', 'failed') GROUP BY lane)
ORDER BY lane
"""


def last_answers(conn: sqlite3.Connection) -> list[LastAnswer]:
    """The last answer of each source that was ever asked."""
    return [LastAnswer(*row) for row in conn.execute(LAST_ANSWERS)]


def fail_lane(conn: sqlite3.Connection, run_id: int, lane: str, error: str, remedy: str) -> int:
    """Give up what a lane still has to ask, with the reason; return how many questions that were."""
    return conn.execute(FAIL_LANE, (error, remedy, run_id, lane)).rowcount


def tiles(conn: sqlite3.Connection, run_id: int) -> list[TileState]:
    """All queries of a run in the order they were planned."""
    return [
        TileState(row["lane"], row["key"], row["state"], row["payload"], row["rows"], bool(row["full"]), row["error"])
        for row in conn.execute(TILES, (run_id,))
    ]
