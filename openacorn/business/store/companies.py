"""Entries of company registers, and the businesses they are joined to."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from openacorn.business.store.listings import StoredListing, stored_listing
from openacorn.core.gather.listing import Listing
from openacorn.db.changes import next_change

ENTRIES = (
    "SELECT id, trade, body, seen_at, business_id FROM listing WHERE source = ? AND business_id IS NULL ORDER BY id"
)
ENTRY = "SELECT id, trade, body, seen_at, business_id FROM listing WHERE id = ?"
SET = """
UPDATE business SET company_id = ?1, company_sure = ?2, founded = ?3, revenue_band = ?4, parent = ?5, changed = ?6
WHERE id = ?7 AND (company_id IS NOT ?1 OR company_sure IS NOT ?2 OR founded != ?3 OR revenue_band != ?4 OR parent != ?5)
"""
FAMILY = """
SELECT id, name, town, trade FROM business WHERE id != ?1 AND (company_id = ?2 OR (parent != '' AND parent = ?3))
ORDER BY name, town, id LIMIT ?4
"""
PAGES_CREATED = """
SELECT business_id, min(json_extract(body, '$.extra.created')) FROM listing
WHERE business_id IS NOT NULL AND json_extract(body, '$.extra.created') IS NOT NULL GROUP BY business_id
"""


@dataclass(frozen=True, slots=True)
class Entry:
    """What the register says of one business: the entry (None: none joined), how sure, and the facts taken from it."""

    company_id: int | None = None
    sure: float | None = None
    founded: str = ""
    revenue_band: str = ""
    parent: str = ""


def entries(conn: sqlite3.Connection, sources: Iterable[str]) -> dict[int, Listing]:
    """Listing id → entry, of all registers."""
    return {row["id"]: stored_listing(row).listing for source in sources for row in conn.execute(ENTRIES, (source,))}


def entry(conn: sqlite3.Connection, listing_id: int) -> StoredListing | None:
    """One entry."""
    row = conn.execute(ENTRY, (listing_id,)).fetchone()
    return stored_listing(row) if row is not None else None


def set_company(conn: sqlite3.Connection, business_id: int, company: Entry) -> bool:
    """Write what the register says of a business; True if that changed."""
    values = (
        company.company_id,
        company.sure,
        company.founded,
        company.revenue_band,
        company.parent,
        next_change(conn),
        business_id,
    )
    return conn.execute(SET, values).rowcount > 0


def family(conn: sqlite3.Connection, row: dict[str, Any], limit: int = 50) -> list[dict[str, Any]]:
    """Other businesses of the same company or under the same parent."""
    if row["company_id"] is None:
        return []
    return [dict(item) for item in conn.execute(FAMILY, (row["id"], row["company_id"], row["parent"], limit))]


def pages_created(conn: sqlite3.Connection) -> dict[int, str]:
    """Business → the date (ISO 8601) its oldest social page was made: it traded by then."""
    return {int(business): str(created) for business, created in conn.execute(PAGES_CREATED)}
