"""Sweeps, their runs, and the runs' notes."""

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, field
from functools import cached_property
from typing import Any

import orjson

from openacorn.acting import acting_account
from openacorn.core.gather.facts import DEFAULT
from openacorn.core.geo.territory import Territory, checked_territory
from openacorn.core.match.relevance import Rules, rules_of
from openacorn.errors import NotFound


@dataclass(frozen=True)
class Plan:
    """What a sweep asks for, as it is stored.

    areas: parts of the territory, each {name, lat, lon, radius_m} or {name, rings}. sources: connector ids. wanted: stop at
    so many businesses, 0: all there are. place: the territory in a few words. rules: see core.relevance. most_requests: a
    budget for each source, 0: none; most_cost the same in the agency's currency. language: asked of sources and sites
    (BCP 47), "": whatever they answer in. facts: groups of facts to find out (core.facts).
    """

    trades: tuple[str, ...]
    areas: tuple[dict[str, Any], ...]
    sources: tuple[str, ...] = ("listing_service",)
    wanted: int = 0
    place: str = ""
    rules: Rules = field(default_factory=Rules)
    most_requests: int = 0
    most_cost: float = 0.0
    language: str = ""
    facts: tuple[str, ...] = DEFAULT

    @cached_property
    def territory(self) -> Territory:
        """The territory."""
        return checked_territory(self.areas)


def plan_from_json(text: str) -> Plan:
    """A plan out of the JSON that is stored of it; plans of one circle and one source, as first written, are read too."""
    raw = orjson.loads(text)
    if "radius_m" in raw:
        circle = {"name": raw.get("place") or "circle"} | {name: raw.pop(name) for name in ("lat", "lon", "radius_m")}
        raw |= {"areas": [circle], "sources": [raw.pop("source", "listing_service")]}
    lists = {name: tuple(raw.get(name, ())) for name in ("trades", "areas", "sources")}
    lists["facts"] = tuple(raw.get("facts", DEFAULT))
    return Plan(**{**raw, **lists, "rules": rules_of(raw.get("rules") or {})})


def plan_to_json(plan: Plan) -> str:
    """The JSON to store."""
    return orjson.dumps(asdict(plan)).decode()


@dataclass(frozen=True, slots=True)
class Sweep:
    """A saved plan with its latest run, if any."""

    id: int
    name: str
    plan: str
    created_at: str
    last_run: int | None


@dataclass(frozen=True, slots=True)
class Run:
    """One carrying out of a sweep; `state`: running, stopped, done or failed."""

    id: int
    sweep_id: int
    sweep: str
    plan: str
    state: str
    why: str
    remedy: str
    started_at: str
    ended_at: str | None
    requests: int
    retries: int
    cost: float


@dataclass(frozen=True, slots=True)
class Note:
    """Something a user should know of a run."""

    at: str
    kind: str
    text: str
    remedy: str


INSERT_SWEEP = "INSERT INTO sweep (name, plan, created_at) VALUES (?, ?, ?) RETURNING id"
LIST_SWEEPS = """
SELECT sweep.id, name, plan, created_at, (SELECT max(run.id) FROM run WHERE sweep_id = sweep.id) AS last_run
FROM sweep ORDER BY sweep.id DESC
"""
UPDATE_SWEEP = "UPDATE sweep SET name = ?, plan = ? WHERE id = ?"
INSERT_RUN = """
INSERT INTO run (sweep_id, plan, state, started_at, account_id) SELECT id, plan, 'running', ?, ? FROM sweep WHERE id = ?
RETURNING id
"""
SELECT_RUN = """
SELECT run.id, sweep_id, sweep.name AS sweep, run.plan, state, why, remedy, started_at, ended_at, requests, retries, cost
FROM run JOIN sweep ON sweep.id = run.sweep_id
"""
SET_STATE = "UPDATE run SET state = ?, why = ?, remedy = ?, ended_at = ? WHERE id = ?"
ADD_REQUESTS = "UPDATE run SET requests = requests + ?, retries = retries + ?, cost = cost + ? WHERE id = ?"
ADD_SPEND = """
INSERT INTO lane_spend (run_id, source, requests, cost) VALUES (?, ?, ?, ?)
ON CONFLICT (run_id, source) DO UPDATE SET requests = requests + excluded.requests, cost = cost + excluded.cost
"""
SPENT_SINCE = "SELECT coalesce(sum(requests), 0), coalesce(sum(cost), 0) FROM run WHERE started_at >= ?"
INSERT_NOTE = "INSERT INTO note (run_id, at, kind, text, remedy) VALUES (?, ?, ?, ?, ?)"
LIST_NOTES = "SELECT at, kind, text, remedy FROM note WHERE run_id = ? ORDER BY id DESC LIMIT ?"
COUNT_NOTES = "SELECT kind, count(*) FROM note WHERE run_id = ? GROUP BY kind"


def spent_since(conn: sqlite3.Connection, at: str) -> tuple[int, float]:
    """(requests, cost) of the runs that began at a time or later, as far as their lanes have ended."""
    requests, cost = conn.execute(SPENT_SINCE, (at,)).fetchone()
    return int(requests), float(cost)


def add_sweep(conn: sqlite3.Connection, name: str, plan: str, at: str) -> int:
    """Save a plan (JSON); return the sweep's id."""
    return int(conn.execute(INSERT_SWEEP, (name, plan, at)).fetchone()[0])


def update_sweep(conn: sqlite3.Connection, sweep_id: int, name: str, plan: str) -> None:
    """Replace a sweep's name and plan (JSON); its earlier runs keep theirs. Raises NotFound."""
    if conn.execute(UPDATE_SWEEP, (name, plan, sweep_id)).rowcount == 0:
        raise NotFound(f"there is no sweep {sweep_id}")


def gathering_nothing(conn: sqlite3.Connection, name: str, facts: Sequence[str], at: str) -> int:
    """The sweep of that name to which runs belong that ask no source; made if there is none yet. Returns its id."""
    known = next((item.id for item in list_sweeps(conn) if item.name == name), None)
    return known or add_sweep(conn, name, plan_to_json(Plan((), (), (), facts=tuple(facts))), at)


def list_sweeps(conn: sqlite3.Connection) -> list[Sweep]:
    """All sweeps, newest first."""
    return [Sweep(**dict(row)) for row in conn.execute(LIST_SWEEPS)]


def add_run(conn: sqlite3.Connection, sweep_id: int, at: str) -> int:
    """Begin a run of a sweep, for the current user; return its id. Raises NotFound."""
    row = conn.execute(INSERT_RUN, (at, acting_account(), sweep_id)).fetchone()
    if row is None:
        raise NotFound(f"there is no sweep {sweep_id}")
    return int(row[0])


def get_run(conn: sqlite3.Connection, run_id: int) -> Run:
    """One run with its plan. Raises NotFound."""
    row = conn.execute(SELECT_RUN + " WHERE run.id = ?", (run_id,)).fetchone()
    if row is None:
        raise NotFound(f"there is no run {run_id}")
    return Run(**dict(row))


def list_runs(conn: sqlite3.Connection) -> list[Run]:
    """All runs, newest first."""
    return [Run(**dict(row)) for row in conn.execute(SELECT_RUN + " ORDER BY run.id DESC")]


SWEEPS_BY_LISTING = """
SELECT DISTINCT seen.listing_id, run.sweep_id FROM seen JOIN run ON run.id = seen.run_id
WHERE seen.listing_id IN (SELECT value FROM json_each(?))
"""


def sweeps_by_listing(conn: sqlite3.Connection, listing_ids: Iterable[int]) -> dict[int, set[int]]:
    """Listing → the sweeps whose runs have seen it."""
    found: dict[int, set[int]] = {}
    for listing_id, sweep_id in conn.execute(SWEEPS_BY_LISTING, (orjson.dumps(list(listing_ids)).decode(),)):
        found.setdefault(listing_id, set()).add(sweep_id)
    return found


SWEEPS_BY_BUSINESS = """
SELECT DISTINCT listing.business_id, run.sweep_id FROM seen JOIN run ON run.id = seen.run_id
JOIN listing ON listing.id = seen.listing_id WHERE listing.business_id IS NOT NULL ORDER BY run.sweep_id DESC
"""


def sweeps_by_business(conn: sqlite3.Connection) -> dict[int, list[int]]:
    """Business → the sweeps whose runs have seen it, newest first."""
    found: dict[int, list[int]] = {}
    for business_id, sweep_id in conn.execute(SWEEPS_BY_BUSINESS):
        found.setdefault(business_id, []).append(sweep_id)
    return found


def get_plan(conn: sqlite3.Connection, sweep_id: int) -> Plan:
    """The plan of a sweep. Raises NotFound."""
    row = conn.execute("SELECT plan FROM sweep WHERE id = ?", (sweep_id,)).fetchone()
    if row is None:
        raise NotFound(f"there is no sweep {sweep_id}")
    return plan_from_json(row[0])


def running(conn: sqlite3.Connection) -> list[int]:
    """Ids of runs that were under way, oldest first."""
    return [int(row[0]) for row in conn.execute("SELECT id FROM run WHERE state = 'running' ORDER BY id")]


def set_state(
    conn: sqlite3.Connection, run_id: int, state: str, *, at: str | None, why: str = "", remedy: str = ""
) -> None:
    """Change a run's state; `at` is when it ended, None while it goes on."""
    conn.execute(SET_STATE, (state, why, remedy, at, run_id))


def begun_by(conn: sqlite3.Connection, run_id: int) -> int:
    """The account that began a run; 0 for a schedule, and without accounts."""
    return int(conn.execute("SELECT account_id FROM run WHERE id = ?", (run_id,)).fetchone()[0])


def add_requests(conn: sqlite3.Connection, run_id: int, source: str, requests: int, retries: int, cost: float) -> None:
    """Count what asking a source took."""
    conn.execute(ADD_REQUESTS, (requests, retries, cost, run_id))
    conn.execute(ADD_SPEND, (run_id, source, requests, cost))


def add_note(conn: sqlite3.Connection, run_id: int, at: str, kind: str, text: str, remedy: str = "") -> None:
    """Write down something the user should know. kind: info, cut short or failed."""
    conn.execute(INSERT_NOTE, (run_id, at, kind, text, remedy))


def list_notes(conn: sqlite3.Connection, run_id: int, limit: int) -> tuple[list[Note], dict[str, int]]:
    """The latest notes, newest first, and how many there are of each kind."""
    notes = [Note(**dict(row)) for row in conn.execute(LIST_NOTES, (run_id, limit))]
    return notes, {str(kind): int(count) for kind, count in conn.execute(COUNT_NOTES, (run_id,))}
