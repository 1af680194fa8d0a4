"""What two runs of a sweep saw differently."""

import sqlite3
from typing import Any

import orjson

SEEN_LISTINGS = """
SELECT listing.id, listing.business_id FROM seen JOIN listing ON listing.id = seen.listing_id
JOIN business ON business.id = listing.business_id WHERE seen.run_id = ? AND business.rejected = ''
"""
CHANGES_BETWEEN = """
SELECT listing.business_id, listing_change.field, before, after, run_id FROM listing_change
JOIN listing ON listing.id = listing_change.listing_id JOIN business ON business.id = listing.business_id
WHERE run_id > ? AND run_id <= ? AND business.rejected = '' ORDER BY run_id
"""
RUNS_OF_SWEEP = "SELECT id FROM run WHERE sweep_id = ? AND id <= ? AND state = 'done' ORDER BY id"
CUT = "SELECT count(*) FROM note WHERE run_id = ? AND kind = 'cut short'"
SEEN_IN = "SELECT DISTINCT listing_id FROM seen WHERE run_id = ?"
CLOSED = "SELECT id FROM business WHERE status = 'closed'"


def businesses_seen(conn: sqlite3.Connection, run_id: int) -> dict[int, set[int]]:
    """Business in view → its listings that a run saw."""
    found: dict[int, set[int]] = {}
    for listing, business in conn.execute(SEEN_LISTINGS, (run_id,)):
        found.setdefault(business, set()).add(listing)
    return found


def field_changes(conn: sqlite3.Connection, after_run: int, up_to: int) -> dict[int, dict[str, tuple[Any, Any]]]:
    """Business → field → (first value before, last value after), over the runs after one up to another."""
    found: dict[int, dict[str, tuple[Any, Any]]] = {}
    for business, field, before, after, _ in conn.execute(CHANGES_BETWEEN, (after_run, up_to)):
        first = found.setdefault(business, {}).get(field, (orjson.loads(before), None))[0]
        found[business][field] = (first, orjson.loads(after))
    return found


def finished_runs(conn: sqlite3.Connection, sweep_id: int, up_to: int) -> list[int]:
    """Finished runs of a sweep up to one, oldest first."""
    return [int(row[0]) for row in conn.execute(RUNS_OF_SWEEP, (sweep_id, up_to))]


def was_cut(conn: sqlite3.Connection, run_id: int) -> bool:
    """Was any of a run's queries cut short?"""
    return int(conn.execute(CUT, (run_id,)).fetchone()[0]) > 0


def listings_seen(conn: sqlite3.Connection, run_id: int) -> set[int]:
    """Ids of the listings a run saw."""
    return {int(row[0]) for row in conn.execute(SEEN_IN, (run_id,))}


def closed_businesses(conn: sqlite3.Connection) -> set[int]:
    """Businesses that a source calls closed."""
    return {int(row[0]) for row in conn.execute(CLOSED)}
