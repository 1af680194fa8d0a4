"""Coverage and comparisons out of the store."""

import sqlite3
from collections import defaultdict

import orjson

from openacorn.business.store import businesses, decisions
from openacorn.core.gather.compare_runs import Change, compare_runs, is_gone
from openacorn.core.gather.coverage import Coverage, coverage
from openacorn.gather.sources._source import UnknownSource, source_of
from openacorn.gather.store import comparisons
from openacorn.runs.store import sweeps

MOST_PAIRS = 100_000


def _independent(source_id: str) -> bool:
    """Own files and rows added by hand tell nothing about what others leave out."""
    try:
        return source_of(source_id).independent
    except UnknownSource:
        return False


def _first_of_pairs(conn: sqlite3.Connection) -> dict[int, int]:
    """Business → the one it probably is a double of: doubtful pairs count as one, or what is held would be overstated."""
    first: dict[int, int] = {}
    for pair in decisions.open_pairs(conn, MOST_PAIRS):
        root = first.get(pair.first, pair.first)
        first[pair.second] = root
    return first


def coverage_of(conn: sqlite3.Connection, sweep_id: int | None) -> dict[str, Coverage]:
    """Trade ("" for all together) → coverage, over the businesses that a sweep has seen (None: all held).

    Businesses held back for their relationship count; rejected ones do not, nor do closed ones.
    """
    seen_by = sweeps.sweeps_by_business(conn)
    first = _first_of_pairs(conn)
    held: dict[int, tuple[str, set[str]]] = {}
    for row in businesses.all_businesses(conn):
        if row["rejected"] or (sweep_id is not None and sweep_id not in seen_by.get(row["id"], ())):
            continue
        sources = {source for source in orjson.loads(row["sources"]) if _independent(source)}
        held.setdefault(first.get(row["id"], row["id"]), (row["trade"], set()))[1].update(sources)
    by_trade: dict[str, list[frozenset[str]]] = defaultdict(list)
    for trade, sources in held.values():
        by_trade[trade].append(frozenset(sources))
    everything = [sources for found in by_trade.values() for sources in found]
    return {"": coverage(everything)} | {trade: coverage(found) for trade, found in sorted(by_trade.items())}


def earlier_run(conn: sqlite3.Connection, run_id: int) -> int | None:
    """The finished run of the same sweep before a run, None for its first. Raises NotFound."""
    runs = comparisons.finished_runs(conn, sweeps.get_run(conn, run_id).sweep_id, run_id - 1)
    return runs[-1] if runs else None


def compare(conn: sqlite3.Connection, earlier: int, later: int) -> list[Change]:
    """What is new, gone and changed from one run of a sweep to a later one. Raises NotFound."""
    run = sweeps.get_run(conn, later)
    sweeps.get_run(conn, earlier)
    before, after = comparisons.businesses_seen(conn, earlier), comparisons.businesses_seen(conn, later)
    runs = comparisons.finished_runs(conn, run.sweep_id, later)
    seen = {run_id: comparisons.listings_seen(conn, run_id) for run_id in runs}
    cut = comparisons.was_cut(conn, later)
    closed = comparisons.closed_businesses(conn)
    gone = frozenset(
        business
        for business, listings in before.items()
        if business not in after
        and is_gone(
            [bool(listings & seen[run_id]) for run_id in runs if run_id >= earlier],
            closed=business in closed,
            cut_short=cut,
        )
    )
    changed = comparisons.field_changes(conn, earlier, later)
    old = {business: {field: pair[0] for field, pair in changed.get(business, {}).items()} for business in before}
    new = {business: {field: pair[1] for field, pair in changed.get(business, {}).items()} for business in after}
    return compare_runs(old, new, gone)
