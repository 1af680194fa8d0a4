"""What registers and networks say, joined to the businesses that others list."""

import sqlite3

from openacorn.business.store import businesses, companies, own_trades
from openacorn.business.store.companies import Entry
from openacorn.core.gather.listing import Listing
from openacorn.core.match.companies import join_companies
from openacorn.gather.sources._source import joined_sources

COLUMNS = ("company_id", "company_sure", "founded", "revenue_band", "parent")
"""Where a business's row keeps what an Entry says, in its order."""


def _as_listing(row: dict[str, object]) -> Listing:
    """A business as one listing, its trade as the category: what a register's entry is compared with."""
    name, street, town, postcode, category = (
        str(row[field] or "") for field in ("name", "street", "town", "postcode", "category")
    )
    return Listing("", str(row["id"]), name, category, street=street, town=town, postcode=postcode)


def register_matches(conn: sqlite3.Connection) -> list[tuple[int, Entry]]:
    """Join every entry of the registers to its most likely business; return (business, its register entry) of changes.

    Founded: the register's date; else the day its oldest social page was made, by which it traded already.
    """
    entries = companies.entries(conn, joined_sources())
    created = companies.pages_created(conn)
    rows = {row["id"]: row for row in businesses.all_businesses(conn) if row["status"] != "closed"}
    joined = (
        join_companies({key: _as_listing(row) for key, row in rows.items()}, entries, own_trades.trades_there(conn))
        if entries
        else {}
    )
    changed = []
    for business_id, row in rows.items():
        join = joined.get(business_id)
        company = Entry(founded=created.get(business_id, ""))
        if join is not None:
            facts = entries[join.company].extra
            company = Entry(
                join.company,
                join.confidence,
                str(facts.get("incorporated") or company.founded),
                str(facts.get("revenue_band") or ""),
                str(facts.get("parent") or ""),
            )
        if company != Entry(*(row[column] for column in COLUMNS)):
            changed.append((business_id, company))
    return changed
