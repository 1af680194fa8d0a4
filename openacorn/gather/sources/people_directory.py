"""A people directory: who works at a company, by its domain, else by its name and town."""

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

CAP, PAGE_SIZE = 25, 25


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask who is at a company: `query.word` is its domain, or with a `place` its name there."""
    what = {"company": query.word, "town": query.place} if query.place else {"domain": query.word}
    return Request(
        endpoint.url.rstrip("/") + "/v1/persons", what, {"Authorization": f"Bearer {endpoint.key}"}, endpoint.pace_s
    )


def _listing(row: dict[str, Any], query: Query, rank: int) -> Listing:
    """A person's place of work, with the person among its facts."""
    company = row.get("company") or {}
    return Listing(
        source=query.source, source_id=str(row["id"]), name=text_of(company.get("name")), town=text_of(company.get("town")),
        website=text_of(company.get("domain")), rank=rank,
        extra={"person": text_of(row["name"]), "role": text_of(row.get("role")), "profile": text_of(row.get("profile"))},
    )  # fmt: skip


def read(query: Query, _endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read the persons found."""
    try:
        rows = list(orjson.loads(reply.body)["persons"])
    except (orjson.JSONDecodeError, KeyError, TypeError) as error:
        raise SourceFailure(
            f"the answer is not what the people directory sends: {error}", "check the address in the settings"
        ) from error
    listings, unreadable = read_rows(rows, query.seen, lambda row, rank: _listing(row, query, rank))
    return Reading(listings, False, unreadable)


SOURCE = Source(
    id="people_directory",
    title="People directory",
    cap=CAP,
    page_size=PAGE_SIZE,
    ask=ask,
    read=read,
    by="business",
    joins=True,
    independent=False,
    hint="people by company domain or name, with role and profile address",
)
