"""Settling: once everything a run gathered is there, merge, chains and relevance anew, whatever the order of arrival was."""

import sqlite3
from collections.abc import Mapping
from typing import Any

from openacorn.core.matching.chains import chains
from openacorn.core.matching.compare import MAX_BLOCK
from openacorn.core.matching.normalise import own_domain
from openacorn.jobs.gathering import queue_audits
from openacorn.jobs.joining import join_all
from openacorn.jobs.merging import Judge, regroup, trade_by_words
from openacorn.net.probes.site import now
from openacorn.settings import Settings
from openacorn.sources._source import joined_sources
from openacorn.store import businesses, listings, standings, sweeps
from openacorn.store.db import Database

WHOLE_UP_TO = 200_000
"""Stores of up to so many listings are settled whole (a few seconds); larger ones around what the run saw."""


def settle(conn: sqlite3.Connection, settings: Settings, *, run_id: int | None = None) -> list[int]:
    """Merge all listings held anew and judge every business; return the businesses whose make-up changed."""
    ids = listings.all_ids(conn, but=joined_sources())
    if run_id is not None and len(ids) > WHOLE_UP_TO:
        seen = listings.seen_in(conn, run_id)
        ids = sorted({*seen, *listings.neighbours(conn, seen, MAX_BLOCK)})
    written = regroup(conn, listings.get_listings(conn, ids), set(), settings)
    join_all(conn)
    judge_all(conn, settings)
    return written


def settle_run(database: Database, run_id: int, settings: Settings) -> None:
    """Settle after a run's gathering, and queue the audits that follow."""
    with database.write() as conn:
        if listings.count_seen(conn, run_id) > WHOLE_UP_TO:
            text = f"more than {WHOLE_UP_TO:,} listings: they stay merged as they came, and chains are not looked for"
            sweeps.add_note(conn, run_id, now(), "info", text)
        else:
            settle(conn, settings, run_id=run_id)
        if "website" in sweeps.plan_from_json(sweeps.get_run(conn, run_id).plan).facts:
            queue_audits(conn, run_id, businesses.ids_of_run(conn, run_id))


def judge_standing(conn: sqlite3.Connection, row: Mapping[str, Any], settings: Settings) -> list[int]:
    """After a change in what one business is to us: judge it and whoever may answer to the same marks; return who changed."""
    judge = Judge(conn, settings)
    near = businesses.alike(conn, row, own_domain(row["website"]) or "")
    return [item["id"] for item in near if standings.set_standing(conn, item["id"], judge.standing(item))]


def judge_all(conn: sqlite3.Connection, settings: Settings) -> int:
    """Relevance, chains and standing of everything held; return how many businesses changed."""
    rows = {row["id"]: row for row in businesses.all_businesses(conn)}
    grouped = chains(rows, settings.region)
    judge = Judge(conn, settings)
    seen_by = sweeps.sweeps_by_business(conn)
    changed = 0
    for business_id, members in listings.by_business(conn):
        row, chain = rows[business_id], grouped.get(business_id, "")
        _, sure = trade_by_words(members, row["name"])
        rejected = judge.rejected(row, row["trade"], sure, seen_by.get(business_id, []), chain)
        changed += businesses.set_judgement(conn, business_id, rejected, chain)
        changed += standings.set_standing(conn, business_id, judge.standing(row))
    return changed
