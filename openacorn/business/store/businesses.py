"""Businesses: one wide row each, with the facts it was merged from beside it."""

import math
import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.business.store import gone, verdicts
from openacorn.core.match.merge import FIELDS, Fact
from openacorn.db.at_once import rows_at_once
from openacorn.db.changes import next_change

COLUMNS = (*FIELDS, "trade", "distance_m", "rejected", "relationship", "sources")
INSERT = f"""
INSERT INTO business ({", ".join(COLUMNS)}, changed, first_seen) VALUES ({", ".join("?" for _ in COLUMNS)}, ?, ?) RETURNING id
"""
UPDATE = f"UPDATE business SET {', '.join(f'{column} = ?' for column in COLUMNS)}, changed = ? WHERE id = ?"
TEXTS = frozenset(
    {"name", "category", "street", "town", "postcode", "phone", "email", "website", "staff_band", "hours"}
)
MOVE = "UPDATE OR IGNORE {table} SET business_id = ? WHERE business_id = ?"
MOVED = (
    "member", "correction", "verdict", "tag", "exported", "outcome", "step", "owner_page", "enrolment", "message", "incoming",
    "owner_language", "appointment", "call_result_read", "starter_site", "starter_picture", "publication", "proposal", "event",
)  # fmt: skip
"""What the user did about a business goes along when it is merged into another."""

CARRIED_OVER = "SELECT id, founded, revenue_band, chain FROM business WHERE id IN (SELECT value FROM json_each(?))"
CORRECTIONS = "SELECT business_id, field, value FROM correction WHERE business_id IN (SELECT value FROM json_each(?))"
JUDGED = "SELECT * FROM business"
SET_JUDGEMENT = (
    "UPDATE business SET rejected = ?, chain = ?, changed = ? WHERE id = ? AND (rejected != ? OR chain != ?)"
)
BY_IDS = "SELECT * FROM business WHERE id IN (SELECT value FROM json_each(?))"
FOR_GRID = (
    "id", "name", "trade", "town", "website", "offer", "rejected", "relationship", "outcomes", "score", "value", "reviews",
    "rating", "reach", "fit", "lat", "lon", "distance_m", "audited_at", "first_seen", "channels", "sources", "platform",
)  # fmt: skip
CHANGED = f"SELECT {', '.join(FOR_GRID)} FROM business WHERE changed > ? ORDER BY changed"
OF_RUN = """
SELECT business.rejected, count(DISTINCT business.id) FROM seen JOIN listing ON listing.id = seen.listing_id
JOIN business ON business.id = listing.business_id WHERE seen.run_id = ? GROUP BY 1
"""
IDS_OF_RUN = """
SELECT DISTINCT listing.business_id FROM seen JOIN listing ON listing.id = seen.listing_id
WHERE seen.run_id = ? AND listing.business_id IS NOT NULL
"""
PEER_REVIEWS = "SELECT reviews FROM business WHERE trade = ? AND rejected = '' AND reviews IS NOT NULL ORDER BY reviews"
POINTS = "SELECT id, lat, lon, offer FROM business WHERE id IN (SELECT value FROM json_each(?)) AND lat IS NOT NULL"


@dataclass(frozen=True, slots=True)
class Merged:
    """A business as merging sees it. first_seen: when the first of its listings was (ISO 8601)."""

    facts: Mapping[str, Fact]
    first_seen: str
    trade: str
    distance_m: float | None
    rejected: str
    relationship: str = ""
    sources: Sequence[str] = ()


@dataclass(frozen=True, slots=True)
class Carried:
    """What is known of businesses from elsewhere than their listings, for when they are merged again.

    columns: business → its columns that merging keeps; corrections: business → field → the user's own word; judged: businesses
    with a verdict of the user.
    """

    columns: Mapping[int, dict[str, Any]]
    corrections: Mapping[int, dict[str, Any]]
    judged: frozenset[int]


def carried_over(conn: sqlite3.Connection, ids: Iterable[int]) -> Carried:
    """What is known of some businesses from elsewhere than their listings."""
    ids = list(ids)
    wanted = (orjson.dumps(ids).decode(),)
    corrections: dict[int, dict[str, Any]] = defaultdict(dict)
    for business_id, field, value in conn.execute(CORRECTIONS, wanted):
        corrections[business_id][field] = orjson.loads(value)
    columns = {row["id"]: dict(row) for row in conn.execute(CARRIED_OVER, wanted)}
    return Carried(columns, corrections, verdicts.having_verdict(conn, ids))


def save_business(
    conn: sqlite3.Connection, merged: Merged, business_id: int | None, carried: Carried, change: int
) -> int:
    """Insert a business, or replace what merging knows of it; return its id. change: the number of this change."""
    corrected = carried.corrections.get(business_id or 0, {})
    values: list[Any] = []
    for field in FIELDS:
        fact = merged.facts.get(field)
        fallback: Any = "unknown" if field == "status" else "" if field in TEXTS else None
        values.append(corrected.get(field, fact.value if fact else fallback))
    sources = orjson.dumps(sorted(set(merged.sources))).decode()
    rejected = merged.rejected
    if business_id is not None and business_id in carried.judged:
        rejected = verdicts.verdict_over_rules(conn, business_id, rejected)
    values += [merged.trade, merged.distance_m, rejected, merged.relationship, sources, change]
    if business_id is None:
        return int(conn.execute(INSERT, [*values, merged.first_seen]).fetchone()[0])
    conn.execute(UPDATE, [*values, business_id])
    return business_id


def corrections_of(conn: sqlite3.Connection, business_id: int) -> dict[str, Any]:
    """Field → the user's own word on it."""
    found = conn.execute("SELECT field, value FROM correction WHERE business_id = ?", (business_id,))
    return {str(field): orjson.loads(value) for field, value in found}


def correct(conn: sqlite3.Connection, business_id: int, field: str, value: Any, at: str) -> None:
    """Keep the user's word on a field; it wins over every source, also later ones. Raises NotFound."""
    get_business(conn, business_id)
    conn.execute(
        "INSERT OR REPLACE INTO correction (business_id, field, value, at) VALUES (?, ?, ?, ?)",
        (business_id, field, orjson.dumps(value).decode(), at),
    )


def uncorrect(conn: sqlite3.Connection, business_id: int, field: str) -> None:
    """Take the user's word on a field back."""
    conn.execute("DELETE FROM correction WHERE business_id = ? AND field = ?", (business_id, field))


def delete_businesses(conn: sqlite3.Connection, merged: int, keeper: int) -> None:
    """Take away a business that was merged into another; what the user did about it moves along."""
    for table in MOVED:
        conn.execute(MOVE.format(table=table), (keeper, merged))
    conn.execute("DELETE FROM business WHERE id = ?", (merged,))
    conn.execute("DELETE FROM page_text WHERE rowid = ?", (merged,))
    gone.note_gone(conn, merged, keeper)


def get_business(conn: sqlite3.Connection, business_id: int) -> dict[str, Any]:
    """One business as a dict of its columns. Raises NotFound."""
    row = conn.execute("SELECT * FROM business WHERE id = ?", (business_id,)).fetchone()
    if row is None:
        raise gone.not_found(conn, business_id)
    return dict(row)


def get_businesses(conn: sqlite3.Connection, ids: Sequence[int]) -> list[dict[str, Any]]:
    """Businesses in the order of `ids`; ids that are gone are left out."""
    found = {row["id"]: dict(row) for row in conn.execute(BY_IDS, (orjson.dumps(list(ids)).decode(),))}
    return [found[business_id] for business_id in ids if business_id in found]


def table_rows(conn: sqlite3.Connection, ids: Sequence[int], columns: Sequence[str]) -> list[dict[str, Any]]:
    """Some columns of businesses, in the order of `ids`; ids that are gone are left out."""
    wanted = (orjson.dumps(list(ids)).decode(),)
    rows = rows_at_once(conn, ", ".join(columns), "business WHERE id IN (SELECT value FROM json_each(?))", wanted)
    found = {row["id"]: row for row in (dict(zip(columns, values, strict=True)) for values in rows)}
    return [found[business_id] for business_id in ids if business_id in found]


def changed_since(conn: sqlite3.Connection, number: int) -> tuple[Iterator[dict[str, Any]], list[int]]:
    """(the columns FOR_GRID of businesses written after change `number`, ids taken away since)."""
    rows = (dict(row) for row in conn.execute(CHANGED, (number,)))
    return rows, gone.gone_since(conn, number)


def held_in_run(conn: sqlite3.Connection, run_id: int) -> tuple[int, dict[str, int]]:
    """(businesses held that the run saw, reason → businesses rejected)."""
    found = {str(reason): int(count) for reason, count in conn.execute(OF_RUN, (run_id,))}
    return found.pop("", 0), found


def ids_of_run(conn: sqlite3.Connection, run_id: int) -> list[int]:
    """Every business that a run saw, rejected ones too."""
    return [int(row[0]) for row in conn.execute(IDS_OF_RUN, (run_id,))]


def peer_reviews(conn: sqlite3.Connection, trade: str) -> list[int]:
    """Review counts of a trade's held businesses, ascending."""
    return [int(row[0]) for row in conn.execute(PEER_REVIEWS, (trade,))]


PEERS = """
SELECT id, lat, lon, reviews, rating FROM business WHERE trade = ? AND rejected = '' AND lat IS NOT NULL AND lon IS NOT NULL
"""


def peers_of(conn: sqlite3.Connection, trade: str) -> list[tuple[int, float, float, float | None, float | None]]:
    """(id, lat, lon, reviews, rating) of a trade's businesses in view."""
    return [tuple(row) for row in conn.execute(PEERS, (trade,))]


def points(conn: sqlite3.Connection, ids: Sequence[int]) -> list[tuple[int, float, float, str]]:
    """(id, lat, lon, best offer) of those that have a pin."""
    return [tuple(row) for row in conn.execute(POINTS, (orjson.dumps(list(ids)).decode(),))]


def all_businesses(conn: sqlite3.Connection) -> Iterator[dict[str, Any]]:
    """Every business, rejected ones too."""
    return (dict(row) for row in conn.execute(JUDGED))


def list_chain(conn: sqlite3.Connection, chain: str) -> list[dict[str, Any]]:
    """The places of a chain, by name and town; none for ""."""
    if not chain:
        return []
    return [
        dict(row) for row in conn.execute("SELECT * FROM business WHERE chain = ? ORDER BY name, town, id", (chain,))
    ]


FIND_BY_PHONE = "SELECT id FROM business WHERE phone = ? AND phone != '' ORDER BY rejected != '', name LIMIT ?"


def find_by_phone(conn: sqlite3.Connection, phone: str, limit: int) -> list[int]:
    """Ids of businesses with a number (E.164)."""
    return [int(row[0]) for row in conn.execute(FIND_BY_PHONE, (phone, limit))]


ALIKE = """
SELECT * FROM business
WHERE id = :id OR (phone = :phone AND :phone != '') OR (:domain != '' AND instr(website, :domain)) OR (town = :town AND :town != '')
"""


def similar_names(conn: sqlite3.Connection, row: Mapping[str, Any], domain: str) -> list[dict[str, Any]]:
    """A business with those that share its phone, its domain or its town."""
    asked = {"id": row["id"], "phone": row["phone"], "domain": domain, "town": row["town"]}
    return [dict(item) for item in conn.execute(ALIKE, asked)]


AROUND = """
SELECT id, name, town, trade, phone, website, relationship, lat, lon FROM business
WHERE rejected = '' AND id != ? AND lat BETWEEN ? AND ? AND lon BETWEEN ? AND ?
"""


def nearby(conn: sqlite3.Connection, row: Mapping[str, Any], degrees: float) -> list[dict[str, Any]]:
    """Businesses in view in a square round another one's pin."""
    lat, lon = row["lat"], row["lon"]
    wide = degrees / max(0.1, math.cos(math.radians(lat)))
    found = conn.execute(AROUND, (row["id"], lat - degrees, lat + degrees, lon - wide, lon + wide))
    return [dict(item) for item in found]


def any_there(conn: sqlite3.Connection) -> bool:
    """Is there any business at all?"""
    return conn.execute("SELECT 1 FROM business LIMIT 1").fetchone() is not None


def set_relevance(conn: sqlite3.Connection, business_id: int, rejected: str, chain: str) -> bool:
    """Write why a business is rejected ("" if it is not) and its chain; True if that changed."""
    rejected = verdicts.verdict_over_rules(conn, business_id, rejected)
    values = (rejected, chain, next_change(conn), business_id, rejected, chain)
    return conn.execute(SET_JUDGEMENT, values).rowcount > 0


SHARES = """
SELECT count(*) AS held, sum(website != '') AS site, sum(audited_at IS NOT NULL) AS audited,
  sum(audited_at IS NOT NULL AND EXISTS (SELECT 1 FROM contact WHERE business_id = business.id AND kind = 'email')) AS mail,
  sum(EXISTS (SELECT 1 FROM listing WHERE business_id = business.id AND source = 'social_pages')) AS social,
  sum(company_id IS NOT NULL) AS company,
  sum(coalesce(json_extract(outcomes, '$.search_rank') IN ('ok', 'partial', 'gap'), 0)) AS ranked,
  sum(EXISTS (SELECT 1 FROM audit WHERE business_id = business.id AND json_array_length(around, '$.people.people') > 0)) AS people,
  sum(EXISTS (SELECT 1 FROM screenshot WHERE business_id = business.id)) AS seen,
  sum(EXISTS (
    SELECT 1 FROM contact JOIN verification ON address = contact.value WHERE business_id = business.id AND result = 'valid'
  )) AS verified
FROM json_each(:trades) AS asked CROSS JOIN business ON business.id IN (
  SELECT id FROM business WHERE trade = asked.value AND rejected = '' ORDER BY id DESC LIMIT :newest
)
"""
NEWEST = 500
"""Businesses of a trade that its shares are taken from: they are within 4 in a hundred of those of all (95 % of the time)."""


def shares_known(conn: sqlite3.Connection, trades: Iterable[str]) -> dict[str, tuple[int, int]]:
    """Group of facts (core.facts) → (businesses of the trades it is known of, of how many it was looked for).

    Of each trade the NEWEST businesses are counted. A source that never brought anything was never asked, so it tells nothing.
    """
    row = conn.execute(SHARES, {"trades": orjson.dumps(list(trades)).decode(), "newest": NEWEST}).fetchone()
    held = row["held"]
    known = {"website": (row["site"] or 0, held), "contacts": (row["mail"] or 0, row["audited"] or 0)}
    known["whole_site"] = known["contacts"]
    known["mailboxes"] = (row["verified"] or 0, row["audited"] or 0) if row["verified"] else (0, 0)
    known["browser"] = (row["seen"] or 0, row["audited"] or 0) if row["seen"] else (0, 0)
    known["people"] = (row["people"] or 0, row["audited"] or 0) if row["people"] else (0, 0)
    known["rank"] = (row["ranked"] or 0, held) if row["ranked"] else (0, 0)
    for group in ("social", "company"):
        known[group] = (row[group] or 0, held if row[group] else 0)
    return known


UNSCORED = "SELECT id FROM business WHERE fit IS NULL AND outcomes != '{}' ORDER BY id LIMIT ?"


def unscored(conn: sqlite3.Connection, limit: int) -> list[int]:
    """Businesses that something is known of and that were never scored as it is done now: from before an upgrade."""
    return [int(row[0]) for row in conn.execute(UNSCORED, (limit,))]


AUDITED_BEFORE = "SELECT id FROM business WHERE rejected = '' AND audited_at < ? ORDER BY audited_at, id"


def audited_before(conn: sqlite3.Connection, at: str) -> list[int]:
    """Businesses in view whose audit is older than a time (ISO 8601), the oldest first."""
    return [int(row[0]) for row in conn.execute(AUDITED_BEFORE, (at,))]
