"""What the user decides: one business or two, a field's value, a relationship. Carried out at once, and held on later runs."""

import sqlite3
from collections.abc import Sequence
from typing import Any

from openacorn.business.store import businesses, decisions, listings
from openacorn.core.audit.address import AddressError, clean_url
from openacorn.core.match.merge import FIELDS
from openacorn.errors import InvalidInput, NotFound
from openacorn.match.merging import affected_listings, recluster_listings
from openacorn.match.records import ListingRecords
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

CORRECTABLE = frozenset(FIELDS) - {"status", "lat", "lon"}
NUMBERS = {"rating": float, "reviews": int, "photos": int, "price_band": int}


class DecisionError(InvalidInput):
    """A decision that cannot be carried out; the message says why and what would do."""

    where = "decision"
    remedy = "choose otherwise; nothing was changed"


def _again(conn: sqlite3.Connection, touched: Sequence[int], settings: Settings) -> list[int]:
    """Merge again what stands around the listings `touched`; return the businesses written."""
    records = ListingRecords(conn, settings)
    ids = affected_listings(conn, touched, records)
    written = recluster_listings(conn, listings.get_listings(conn, ids), set(), settings, records)
    Scorer(conn).score(written)
    return written


def _ids(conn: sqlite3.Connection, business_id: int) -> list[int]:
    businesses.get_business(conn, business_id)
    return [held.id for held in listings.listings_of(conn, business_id)]


def join(conn: sqlite3.Connection, one: int, other: int, settings: Settings, at: str) -> int:
    """Make one business of two; return its id. Raises NotFound, DecisionError."""
    if one == other:
        raise DecisionError("this is one business already")
    left, right = _ids(conn, one), _ids(conn, other)
    decisions.decide(conn, left, right, "one", at)
    _again(conn, [*left, *right], settings)
    after = {held.business_id for held in listings.get_listings(conn, [*left, *right])}
    return min(business for business in after if business is not None)


def keep_apart(conn: sqlite3.Connection, one: int, other: int, settings: Settings, at: str) -> None:
    """Say that two businesses are two. Raises NotFound, DecisionError."""
    if one == other:
        raise DecisionError("this is one business; split it by the listings that do not belong to it")
    left, right = _ids(conn, one), _ids(conn, other)
    decisions.decide(conn, left, right, "two", at)
    _again(conn, [*left, *right], settings)


def split(conn: sqlite3.Connection, business_id: int, away: Sequence[int], settings: Settings, at: str) -> list[int]:
    """Take listings out of a business; return the businesses that these are now. Raises NotFound, DecisionError."""
    members = _ids(conn, business_id)
    leaving = [listing for listing in members if listing in set(away)]
    staying = [listing for listing in members if listing not in set(away)]
    if not leaving or not staying:
        raise DecisionError("choose some of the business's listings, not all and not none")
    decisions.decide(conn, leaving, staying, "two", at)
    _again(conn, members, settings)
    return sorted({held.business_id for held in listings.get_listings(conn, leaving) if held.business_id is not None})


def forget(conn: sqlite3.Connection, one: Sequence[int], other: Sequence[int], settings: Settings) -> list[int]:
    """Take a verdict back: the listings are judged by the matcher again."""
    decisions.undecide(conn, one, other)
    return _again(conn, [*one, *other], settings)


def correct(conn: sqlite3.Connection, business_id: int, field: str, value: Any, settings: Settings, at: str) -> None:
    """Keep the user's word on a field (None takes it back). Raises NotFound, DecisionError."""
    if field not in CORRECTABLE:
        raise DecisionError(f"{field!r} cannot be corrected; choose from {', '.join(sorted(CORRECTABLE))}")
    members = _ids(conn, business_id)
    if value is None:
        businesses.uncorrect(conn, business_id, field)
    else:
        if field in NUMBERS:
            try:
                value = NUMBERS[field](value)
            except (TypeError, ValueError):
                raise DecisionError(f"{field}: {value!r} is no number") from None
        elif not isinstance(value, str) or (field == "name" and not value.strip()):
            raise DecisionError(f"{field}: write some text")
        elif field == "website" and value.strip():
            try:
                value = clean_url(value)  # it becomes a link, and somebody will click on it
            except AddressError as error:
                raise DecisionError(f"{field}: {error}") from None
        businesses.correct(conn, business_id, field, value.strip() if isinstance(value, str) else value, at)
    if not members:
        raise NotFound(f"business {business_id} has no listing")
    held = listings.get_listings(conn, members)
    Scorer(conn).score(recluster_listings(conn, held, set(members), settings))
