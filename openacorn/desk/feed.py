"""What changed lately: between the last two runs of each sweep, and between audits, as one list."""

import sqlite3
from dataclasses import dataclass
from typing import Any

from openacorn.business.store import businesses, history
from openacorn.core.gather.compare_runs import Change
from openacorn.gather.coverage import compare
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Run

AUDIT, NEW, GONE, LISTING = "audit", "new", "gone", "listing"
KINDS = {"new": NEW, "gone": GONE, "changed": LISTING}


@dataclass(frozen=True, slots=True)
class Item:
    """One change. kind: audit, new, gone, or listing; about: the check, or the listing's field; at: ISO 8601."""

    kind: str
    at: str
    business_id: int
    name: str
    town: str
    about: str
    before: str
    after: str
    text: str


def _text(change: Change, sweep: str) -> str:
    if change.kind == "changed":
        return f"{change.field} in its listings: {change.before or 'nothing'}, now {change.after or 'nothing'}"
    return f"first seen by “{sweep}”" if change.kind == "new" else f"seen by “{sweep}” no longer"


def _plain(value: Any) -> str:
    return "" if value is None else str(value)


def _of_sweep(conn: sqlite3.Connection, earlier: Run, later: Run) -> list[Item]:
    changes = compare(conn, earlier.id, later.id)
    rows = {row["id"]: row for row in businesses.get_businesses(conn, sorted({c.business for c in changes}))}
    return [
        Item(
            KINDS[c.kind], later.ended_at or later.started_at, c.business, rows[c.business]["name"], rows[c.business]["town"],
            c.field, _plain(c.before), _plain(c.after), _text(c, later.sweep),
        )
        for c in changes
        if c.business in rows and not rows[c.business]["rejected"]
    ]  # fmt: skip


def run_changes(conn: sqlite3.Connection) -> list[Item]:
    """What the last finished run of each sweep found otherwise than the one before it, of businesses in view."""
    by_sweep: dict[int, list[Run]] = {}
    for run in sweeps.list_runs(conn):  # the newest first
        if run.state == "done":
            by_sweep.setdefault(run.sweep_id, []).append(run)
    pairs = [(runs[1], runs[0]) for runs in by_sweep.values() if len(runs) > 1]
    return [item for earlier, later in pairs for item in _of_sweep(conn, earlier, later)]


def latest(conn: sqlite3.Connection, most: int) -> tuple[list[Item], int]:
    """(the latest changes, the newest first; how many there were before the list was cut to `most`)."""
    audited = [
        Item(AUDIT, e.at, e.business_id, e.name, e.town, e.check_id, e.before, e.after, e.text)
        for e in history.events(conn, None, most)
    ]
    found = sorted([*audited, *run_changes(conn)], key=lambda item: item.at, reverse=True)
    total = len(found) - len(audited) + history.count_events(conn)
    return found[:most], total
