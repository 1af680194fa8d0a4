"""The listing service: a ranked, capped JSON search by words and radius, in pages."""

import html
from typing import Any

import orjson

from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.gather.sources._source import (
    Endpoint,
    Reading,
    Request,
    Source,
    SourceFailure,
    SourceReply,
    read_rows,
    text_of,
)

CAP, PAGE_SIZE = 60, 20


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask for one page of what lies in the circle around the query's tile."""
    assert query.tile is not None
    circle = query.tile.covering_circle()
    params = {
        "q": query.word,
        "lat": f"{circle.centre.lat:.6f}",
        "lon": f"{circle.centre.lon:.6f}",
        "radius_m": f"{circle.radius_m:.0f}",
        "page": str(query.page),
    }
    return Request(endpoint.url.rstrip("/") + "/v1/search", params, {"X-Api-Key": endpoint.key}, endpoint.pace_s)


def _text(value: Any) -> str:
    return text_of(html.unescape(value)) if isinstance(value, str) else ""


def _listing(row: dict[str, Any], rank: int) -> Listing:
    place, hours = row.get("location") or {}, row.get("hours")
    return Listing(
        source="listing_service",
        source_id=str(row["id"]),
        name=_text(row["name"]),
        category=_text(row.get("category")),
        lat=float(place["lat"]) if "lat" in place else None,
        lon=float(place["lon"]) if "lon" in place else None,
        street=_text(place.get("street")),
        town=_text(place.get("town")),
        postcode=_text(place.get("postcode")),
        phone=_text(row.get("phone")),
        website=_text(row.get("website")),
        rating=row.get("rating"),
        reviews=row.get("review_count"),
        claimed=row.get("claimed"),
        photos=row.get("photo_count"),
        staff_band=_text(row.get("staff")),
        price_band=row.get("price_level"),
        hours="; ".join(hours) if isinstance(hours, list) else "",
        status="closed" if row.get("permanently_closed") else "open",
        rank=rank,
    )


def read(query: Query, _endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read one page. A row without id or name is counted as unreadable; a page that is no JSON is a failure."""
    try:
        page = orjson.loads(reply.body)
        rows = list(page["results"])
    except (orjson.JSONDecodeError, KeyError, TypeError) as error:
        raise SourceFailure(
            f"the answer is not what the listing service sends: {error}", "check the address in the settings"
        ) from error
    listings, unreadable = read_rows(rows, query.seen, _listing)
    return Reading(listings, bool(page.get("more")), unreadable)


SOURCE = Source(
    id="listing_service",
    title="Listing service",
    cap=CAP,
    page_size=PAGE_SIZE,
    ask=ask,
    read=read,
    ranked=True,
    hint="ranked, with ratings and reviews; at most 60 a question",
)
