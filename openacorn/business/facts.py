"""What is known of a business, field by field, and which of its listings said it: chosen again whenever somebody asks."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from openacorn.business.store import audits, listings
from openacorn.business.store.listings import StoredListing
from openacorn.core.audit.address import host_of
from openacorn.core.match.merge import Fact, merge


@dataclass(frozen=True, slots=True)
class SourcedFact:
    """A field's chosen value, the listing that said it, and the values not chosen."""

    field: str
    value: Any
    listing: StoredListing
    others: tuple[Any, ...]


def in_order(members: Sequence[StoredListing]) -> list[StoredListing]:
    """Listings in the order of their source and id, so that no choice depends on the order of arrival."""
    return sorted(members, key=lambda item: (item.listing.source, item.listing.source_id))


def choose_facts(
    conn: sqlite3.Connection, members: Sequence[StoredListing], business_id: int | None, region: str | None
) -> dict[str, Fact]:
    """Field → fact, by the listings of a business; one that is named by its domain alone has the name that its pages give."""
    facts = merge([item.listing for item in members], region)
    if business_id is not None and "website" in facts and "name" in facts:
        host = host_of(str(facts["website"].value))
        if facts["name"].value == host and (named := audits.site_name(conn, business_id)):
            facts["name"] = replace(facts["name"], value=named)
    return facts


def facts_of(conn: sqlite3.Connection, business_id: int, region: str | None) -> list[SourcedFact]:
    """The facts of a business, in the order of a listing's fields."""
    members = in_order(listings.listings_of(conn, business_id))
    return [
        SourcedFact(field, fact.value, members[fact.listing], fact.others)
        for field, fact in choose_facts(conn, members, business_id, region).items()
    ]
