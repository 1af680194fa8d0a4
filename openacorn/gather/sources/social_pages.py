"""Pages on a social network, by words and town: followers, last post, ads running, created, linked site, e-mail, messages."""

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

CAP, PAGE_SIZE = 5000, 30
FACTS = ("followers", "last_post", "ads_running", "created", "messages")
"""Facts that only this source tells, kept with the listing as they are."""


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask for one page of the pages in a town."""
    params = {"q": query.word, "city": query.place} | ({"after": query.cursor} if query.cursor else {})
    return Request(
        endpoint.url.rstrip("/") + "/v1/pages", params, {"Authorization": f"Bearer {endpoint.key}"}, endpoint.pace_s
    )


def _listing(row: dict[str, Any], query: Query, rank: int) -> Listing:
    """The page's own address stands as its website only where it links to no site."""
    return Listing(
        source=query.source,
        source_id=str(row["id"]),
        name=text_of(row["name"]),
        street=text_of(row.get("street")),
        town=text_of(row.get("city")),
        postcode=text_of(row.get("zip")),
        phone=text_of(row.get("phone")),
        website=text_of(row.get("website")) or text_of(row.get("url")),
        email=text_of(row.get("email")),
        rank=rank,
        extra={fact: row[fact] for fact in FACTS if row.get(fact) is not None} | {"page": text_of(row.get("url"))},
    )


def read(query: Query, _endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read one page of pages."""
    try:
        answer = orjson.loads(reply.body)
        rows = list(answer["data"])
        after = (answer.get("paging") or {}).get("after") or ""
    except (orjson.JSONDecodeError, KeyError, TypeError, AttributeError) as error:
        raise SourceFailure(
            f"the answer is not what the social pages send: {error}", "check the address in the settings"
        ) from error
    listings, unreadable = read_rows(rows, query.seen, lambda row, rank: _listing(row, query, rank))
    return Reading(listings, bool(after), unreadable, str(after))


SOURCE = Source(
    id="social_pages",
    title="Social pages",
    cap=CAP,
    page_size=PAGE_SIZE,
    ask=ask,
    read=read,
    by="places",
    hint="followers, last post, ads running; no pins",
)
