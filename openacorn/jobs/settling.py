"""Settling: once everything a run gathered is there, merge, chains and relevance anew, whatever the order of arrival was."""

import sqlite3
from collections import defaultdict
from collections.abc import Mapping
from typing import Any

from openacorn.core.matching.compare import MAX_BLOCK
from openacorn.core.matching.normalise import name_tokens, own_domain, trade_words
from openacorn.jobs.gathering import queue_audits
from openacorn.jobs.merging import Judge, regroup, trade_by_words
from openacorn.net.probes.site import now
from openacorn.settings import Settings
from openacorn.store import businesses, listings, standings, sweeps
from openacorn.store.db import Database

WHOLE_UP_TO = 200_000
"""Stores of up to so many listings are settled whole (a few seconds); larger ones around what the run saw."""

CHAIN_AT = 2
"""So many places under one name and one site are a chain."""


def settle(conn: sqlite3.Connection, settings: Settings, *, run_id: int | None = None) -> list[int]:
    """Merge all listings held anew and judge every business; return the businesses whose make-up changed."""
    ids = listings.all_ids(conn)
    if run_id is not None and len(ids) > WHOLE_UP_TO:
        seen = listings.seen_in(conn, run_id)
        ids = sorted({*seen, *listings.neighbours(conn, seen, MAX_BLOCK)})
    written = regroup(conn, listings.get_listings(conn, ids), set(), settings)
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
        queue_audits(conn, run_id, businesses.ids_of_run(conn, run_id))


def chains(rows: Mapping[int, Mapping[str, Any]]) -> dict[int, str]:
    """Business id → name of its chain: those that share a site of their own and the telling words of their names."""
    families: dict[tuple[str, frozenset[str]], list[int]] = defaultdict(list)
    for business_id, row in rows.items():
        domain = own_domain(str(row["website"]))
        telling = name_tokens(str(row["name"])) - trade_words() - name_tokens(str(row["town"]))
        if domain and telling:
            families[(domain, telling)].append(business_id)
    found: dict[int, str] = {}
    for members in families.values():
        if len(members) >= CHAIN_AT:
            name = min((str(rows[member]["name"]) for member in members), key=lambda said: (len(said), said))
            found |= dict.fromkeys(members, name)
    return found


def judge_all(conn: sqlite3.Connection, settings: Settings) -> int:
    """Relevance, chains and standing of everything held; return how many businesses changed."""
    rows = {row["id"]: row for row in businesses.all_businesses(conn)}
    grouped = chains(rows)
    judge = Judge(conn, settings)
    seen_by = sweeps.sweeps_by_business(conn)
    changed = 0
    for business_id, row in rows.items():
        chain = grouped.get(business_id, "")
        members = listings.listings_of(conn, business_id)
        _, sure = trade_by_words(members, row["name"]) if members else ("", True)
        rejected = judge.rejected(row, row["trade"], sure, seen_by.get(business_id, []), chain)
        changed += businesses.set_judgement(conn, business_id, rejected, chain)
        changed += standings.set_standing(conn, business_id, judge.standing(row))
    return changed
