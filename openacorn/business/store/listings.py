"""Listings as received, and the keys under which doubles meet."""

import sqlite3
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import groupby
from typing import Any

import orjson

from openacorn.core.gather.listing import Listing

KNOWN = """
SELECT listing.id, body, json_remove(body, '$.rank') = json_remove(?, '$.rank') AS same, business_id, business.rejected
FROM listing LEFT JOIN business ON business.id = business_id WHERE source = ? AND source_id = ?
"""
UPSERT = """
INSERT INTO listing (source, source_id, trade, body, seen_at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (source, source_id) DO UPDATE SET body = excluded.body, seen_at = excluded.seen_at, trade = min(trade, excluded.trade)
RETURNING id
"""
SEE = "INSERT INTO seen (run_id, listing_id) VALUES (?, ?) ON CONFLICT DO NOTHING"
SEEN_BEFORE = "SELECT 1 FROM seen WHERE listing_id = ? AND run_id < ? LIMIT 1"
NOTE_CHANGE = "INSERT OR REPLACE INTO listing_change (run_id, listing_id, field, before, after) VALUES (?, ?, ?, ?, ?)"
DROP_KEYS = "DELETE FROM listing_key WHERE listing_id IN (SELECT value FROM json_each(?))"
ADD_KEY = "INSERT INTO listing_key (key, listing_id) VALUES (?, ?)"
MEETINGS = """
WITH own AS (
  SELECT key, listing_id FROM listing_key WHERE listing_id IN (SELECT value FROM json_each(?))
), shared AS (
  SELECT key FROM listing_key WHERE key IN (SELECT key FROM own) GROUP BY key HAVING count(*) BETWEEN 2 AND ?
)
SELECT DISTINCT min(own.listing_id, other.listing_id), max(own.listing_id, other.listing_id)
FROM shared JOIN own USING (key) JOIN listing_key AS other USING (key) WHERE other.listing_id != own.listing_id
"""
COMPANIONS = """
SELECT value FROM json_each(?1) UNION SELECT other.id FROM listing
JOIN listing AS other USING (business_id) WHERE listing.id IN (SELECT value FROM json_each(?1))
"""
SELECT = """
SELECT id, trade, body, seen_at, business_id FROM listing WHERE id IN (SELECT value FROM json_each(?)) ORDER BY id
"""
OF_BUSINESS = "SELECT id, trade, body, seen_at, business_id FROM listing WHERE business_id = ? ORDER BY id"


MESSAGES = """
SELECT json_extract(body, '$.extra.page') FROM listing WHERE business_id = ? AND json_extract(body, '$.extra.messages') = 1 LIMIT 1
"""


def page_taking_messages(conn: sqlite3.Connection, business_id: int) -> str:
    """The address of a social page of the business that takes messages, "" if none is known."""
    row = conn.execute(MESSAGES, (business_id,)).fetchone()
    return str(row[0] or "") if row is not None else ""


@dataclass(frozen=True, slots=True)
class StoredListing:
    """A listing with where it stands."""

    id: int
    trade: str
    listing: Listing
    seen_at: str
    business_id: int | None


def stored_listing(row: sqlite3.Row) -> StoredListing:
    """A row of the listing table as a listing."""
    return StoredListing(
        row["id"], row["trade"], Listing(**orjson.loads(row["body"])), row["seen_at"], row["business_id"]
    )


@dataclass(frozen=True, slots=True)
class StoredCount:
    """The result of storing listings: ids to be merged (new, changed, or of a rejected business), and businesses seen again."""

    to_merge: tuple[int, ...]
    seen_again: tuple[int, ...]


def put_listings(
    conn: sqlite3.Connection, run_id: int, trade: str, listings: Iterable[Listing], at: str
) -> StoredCount:
    """Keep listings as received, newest wording wins. The rank in an answer is not a change."""
    to_merge, seen_again = [], []
    for listing in listings:
        body = orjson.dumps(listing).decode()
        known = conn.execute(KNOWN, (body, listing.source, listing.source_id)).fetchone()
        listing_id = int(conn.execute(UPSERT, (listing.source, listing.source_id, trade, body, at)).fetchone()[0])
        conn.execute(SEE, (run_id, listing_id))
        if known is not None and not known["same"]:
            _note_changes(conn, run_id, listing_id, orjson.loads(known["body"]), orjson.loads(body))
        if known is None or not known["same"] or known["business_id"] is None or known["rejected"]:
            to_merge.append(listing_id)
        else:
            seen_again.append(int(known["business_id"]))
    return StoredCount(tuple(to_merge), tuple(seen_again))


def _note_changes(
    conn: sqlite3.Connection, run_id: int, listing_id: int, before: dict[str, Any], after: dict[str, Any]
) -> None:
    """Keep what, from and to, unless the listing was first seen in this very run."""
    if conn.execute(SEEN_BEFORE, (listing_id, run_id)).fetchone() is None:
        return
    rows = (
        (run_id, listing_id, field, orjson.dumps(before.get(field)).decode(), orjson.dumps(value).decode())
        for field, value in after.items()
        if field != "rank" and before.get(field) != value
    )
    conn.executemany(NOTE_CHANGE, rows)


def put_keys(conn: sqlite3.Connection, keys: Mapping[int, Iterable[str]]) -> None:
    """Replace the block keys of listings."""
    conn.execute(DROP_KEYS, (orjson.dumps(list(keys)).decode(),))
    conn.executemany(ADD_KEY, sorted((key, listing_id) for listing_id, own in keys.items() for key in own))


def meetings(conn: sqlite3.Connection, ids: Iterable[int], max_block: int) -> list[tuple[int, int]]:
    """Pairs (id, larger id) of listings that share a key, at least one of them of `ids`; each pair once.

    Keys that more than `max_block` listings have are passed over, as the matcher does.
    """
    return [(a, b) for a, b in conn.execute(MEETINGS, (orjson.dumps(list(ids)).decode(), max_block))]


def with_companions(conn: sqlite3.Connection, ids: Iterable[int]) -> list[int]:
    """`ids` and all listings of the same businesses."""
    return [int(row[0]) for row in conn.execute(COMPANIONS, (orjson.dumps(list(ids)).decode(),))]


def get_listings(conn: sqlite3.Connection, ids: Iterable[int]) -> list[StoredListing]:
    """Listings by id, ascending."""
    return [stored_listing(row) for row in conn.execute(SELECT, (orjson.dumps(list(ids)).decode(),))]


def listings_of(conn: sqlite3.Connection, business_id: int) -> list[StoredListing]:
    """The listings a business was merged from."""
    return [stored_listing(row) for row in conn.execute(OF_BUSINESS, (business_id,))]


def assign(conn: sqlite3.Connection, belonging: Iterable[tuple[int, int]]) -> None:
    """Say which business each listing belongs to: (business, listing)."""
    conn.executemany("UPDATE listing SET business_id = ? WHERE id = ?", belonging)


def count_seen(conn: sqlite3.Connection, run_id: int) -> int:
    """How many listings a run has seen."""
    return int(conn.execute("SELECT count(*) FROM seen WHERE run_id = ?", (run_id,)).fetchone()[0])


ALL_IDS = "SELECT id FROM listing WHERE source NOT IN (SELECT value FROM json_each(?)) ORDER BY id"
BY_BUSINESS = """
SELECT id, trade, body, seen_at, business_id FROM listing WHERE business_id IS NOT NULL ORDER BY business_id, id
"""


def all_ids(conn: sqlite3.Connection, *, but: Iterable[str] = ()) -> list[int]:
    """Ids of every listing held, those of the sources `but` left out."""
    return [int(row[0]) for row in conn.execute(ALL_IDS, (orjson.dumps(sorted(but)).decode(),))]


def by_business(conn: sqlite3.Connection) -> Iterator[tuple[int, list[StoredListing]]]:
    """(business, its listings) of everything held, one after the other."""
    for business_id, rows in groupby(conn.execute(BY_BUSINESS), key=lambda row: int(row["business_id"])):
        yield business_id, [stored_listing(row) for row in rows]


def seen_in(conn: sqlite3.Connection, run_id: int) -> list[int]:
    """Ids of the listings a run has seen."""
    return [int(row[0]) for row in conn.execute("SELECT listing_id FROM seen WHERE run_id = ? ORDER BY 1", (run_id,))]


LISTED_EMAIL = """
SELECT json_extract(body, '$.email') FROM listing
WHERE business_id = ? AND json_extract(body, '$.email') != '' ORDER BY id LIMIT 1
"""


def listed_email(conn: sqlite3.Connection, business_id: int) -> str:
    """An e-mail address that a listing of the business gives, "" if none does."""
    row = conn.execute(LISTED_EMAIL, (business_id,)).fetchone()
    return str(row[0]) if row is not None else ""
