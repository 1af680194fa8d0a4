"""Settling: once everything a run gathered is there, merge, chains and relevance again, whatever the order of arrival was.

What is to change is found aside from writers and then written AT_ONCE businesses at a time, so that others have their turn in
between. What somebody else wrote meanwhile is looked at once more, as it is then.
"""

import sqlite3
from collections.abc import Iterable, Mapping
from typing import Any

from openacorn.business.store import businesses, companies, listings, relationships, verdicts
from openacorn.business.store.listings import StoredListing
from openacorn.clock import utc_now
from openacorn.core.match.chains import chains
from openacorn.core.match.normalise import own_domain
from openacorn.db.batches import batches
from openacorn.db.database import Database
from openacorn.gather.gatherer import queue_audits
from openacorn.gather.sources._source import joined_sources
from openacorn.match.merging import (
    Regrouping,
    RelevanceEvaluator,
    affected_listings,
    merge_new_listings,
    newest_first,
    trade_by_words,
)
from openacorn.match.records import ListingRecords
from openacorn.match.registers import register_matches
from openacorn.runs.store import sweeps
from openacorn.settings import Settings

WHOLE_UP_TO = 200_000
"""Stores of up to so many listings are settled whole (a few seconds); larger ones around what the run saw."""

AT_ONCE = 300
"""Businesses a transaction: it takes about a quarter of a second."""


def recluster(database: Database, settings: Settings, *, run_id: int | None = None) -> list[int]:
    """Merge all listings held again and judge every business; return the businesses whose make-up changed."""
    written = _merge_anew(database, settings, run_id)
    with database.read() as conn:
        joins = register_matches(conn)
    for joined in batches(joins, AT_ONCE):
        with database.write() as conn:
            for business_id, answer in joined:
                companies.set_company(conn, business_id, answer)
    refresh_relevance(database, settings)
    return written


def _around(conn: sqlite3.Connection, run_id: int | None, records: ListingRecords) -> list[StoredListing]:
    """The listings that are merged again: all, or in a large store those around what a run saw."""
    ids = listings.all_ids(conn, but=joined_sources())
    if run_id is not None and len(ids) > WHOLE_UP_TO:
        ids = affected_listings(conn, listings.seen_in(conn, run_id), records)
    return listings.get_listings(conn, ids)


def _merge_anew(database: Database, settings: Settings, run_id: int | None) -> list[int]:
    with database.read() as conn:
        records = ListingRecords(conn, settings)
        found = Regrouping(conn, _around(conn, run_id, records), settings, records=records)
    written: list[int] = []
    moved: list[int] = []
    for groups in batches(found.groups, AT_ONCE):
        with database.write() as conn:
            still = found.still(conn, groups)
            written += found.write(conn, still)
            moved += [listing_id for group in groups if group not in still for listing_id in group]
    with database.write() as conn:
        found.write_pairs(conn)
        if moved:
            written += merge_new_listings(conn, moved, settings)
    return written


def recluster_run(database: Database, run_id: int, settings: Settings) -> None:
    """Settle after a run's gathering, and queue the audits that follow."""
    with database.read() as conn:
        large = listings.count_seen(conn, run_id) > WHOLE_UP_TO
        audited = "website" in sweeps.plan_from_json(sweeps.get_run(conn, run_id).plan).facts
    if large:
        text = f"more than {WHOLE_UP_TO:,} listings: they stay merged as they came, and chains are not looked for"
        with database.write() as conn:
            sweeps.add_note(conn, run_id, utc_now(), "info", text)
    else:
        recluster(database, settings, run_id=run_id)
    if audited:
        with database.read() as conn:
            ids = businesses.ids_of_run(conn, run_id)
        for some in batches(ids, AT_ONCE):
            with database.write() as conn:
                queue_audits(conn, run_id, some)


def refresh_relationship(conn: sqlite3.Connection, row: Mapping[str, Any], settings: Settings) -> list[int]:
    """After a change in what one business is to us: judge it and those that may answer to the same marks; return who changed."""
    return _stand(conn, businesses.similar_names(conn, row, own_domain(row["website"]) or ""), settings)


def refresh_relationships(conn: sqlite3.Connection, settings: Settings) -> list[int]:
    """After a change in the lists of clients and the like: what every business is to us; return who changed."""
    return _stand(conn, businesses.all_businesses(conn), settings)


def _stand(conn: sqlite3.Connection, rows: Iterable[Mapping[str, Any]], settings: Settings) -> list[int]:
    evaluator = RelevanceEvaluator(conn, settings)
    found = [(row["id"], answer) for row in rows if (answer := evaluator.relationship(row)) != row["relationship"]]
    return [business_id for business_id, answer in found if relationships.set_relationship(conn, business_id, answer)]


def refresh_relevance(database: Database, settings: Settings) -> int:
    """Relevance, chains and relationships of everything held; return how many businesses changed."""
    with database.read() as conn:
        judged, grouped = businesses_to_evaluate(conn, settings)
    changed = 0
    for some in batches(judged, AT_ONCE):
        with database.write() as conn:
            changed += _judge(conn, some, grouped, settings)
    return changed


def businesses_to_evaluate(conn: sqlite3.Connection, settings: Settings) -> tuple[list[int], dict[int, str]]:
    """(businesses that would be judged otherwise now, business → its chain)."""
    rows = {row["id"]: row for row in businesses.all_businesses(conn)}
    evaluator = RelevanceEvaluator(conn, settings)
    grouped = chains(rows, evaluator.trades, settings.region)
    seen_by = sweeps.sweeps_by_business(conn)
    ruled = verdicts.ruled(conn)
    found = []
    for business_id, members in listings.by_business(conn):
        row, chain = rows[business_id], grouped.get(business_id, "")
        rejected = _rejected(evaluator, row, members, seen_by.get(business_id, []), chain)
        was = (ruled.get(business_id, row["rejected"]), row["chain"], row["relationship"])
        if (rejected, chain, evaluator.relationship(row)) != was:
            found.append(business_id)
    return found, grouped


def _rejected(
    evaluator: RelevanceEvaluator, row: Mapping[str, Any], members: list[StoredListing], seen_by: list[int], chain: str
) -> str:
    _, sure = trade_by_words(members, row["name"], evaluator.trades)
    return evaluator.rejected(row, row["trade"], sure, seen_by, chain)


def _judge(conn: sqlite3.Connection, ids: list[int], grouped: Mapping[int, str], settings: Settings) -> int:
    """Judge some businesses by what is known of them now; return how many changed."""
    evaluator = RelevanceEvaluator(conn, settings)
    changed = 0
    held = {business_id: listings.listings_of(conn, business_id) for business_id in ids}
    seen_by = sweeps.sweeps_by_listing(conn, [item.id for members in held.values() for item in members])
    for row in businesses.get_businesses(conn, ids):
        members, chain = held[row["id"]], grouped.get(row["id"], "")
        sweeps_there = newest_first(seen_by, members)
        rejected = _rejected(evaluator, row, members, sweeps_there, chain) if members else row["rejected"]
        judged = businesses.set_relevance(conn, row["id"], rejected, chain)
        changed += relationships.set_relationship(conn, row["id"], evaluator.relationship(row)) or judged
    return changed
