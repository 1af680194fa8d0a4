"""A company register, by industry code and town: officers, age, status, parent, revenue."""

from typing import Any

import orjson

from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.trades.trade import Trade
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

CAP, PAGE_SIZE = 10_000, 40
STRUCK_OFF = frozenset({"struck off", "dissolved", "deregistered", "liquidation"})


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask for a page of the companies of a trade's industry codes in a town; by words where the trade has no code."""
    codes = endpoint.trades.of(query.trade).codes
    what = {"industry": ",".join(codes)} if codes else {"q": query.word}
    start = {"start": str(query.seen)} if query.seen else {}
    url = endpoint.url.rstrip("/") + "/v1/companies"
    return Request(
        url, what | {"town": query.place} | start, {"Authorization": f"Bearer {endpoint.key}"}, endpoint.pace_s
    )


def officers_of(text: str) -> list[tuple[str, str]]:
    """(name, role) of each officer out of what a listing's `officers` fact says."""
    parts = (part.partition(",") for part in text.split(";"))
    return [(name.strip(), role.strip()) for name, _, role in parts if name.strip()]


def _listing(row: dict[str, Any], source: str, trade: Trade, rank: int) -> Listing:
    office, parent = row.get("office") or {}, row.get("parent") or {}
    officers = "; ".join(f"{text_of(one['name'])}, {text_of(one.get('role'))}" for one in row.get("officers") or ())
    facts = {
        "trading_as": text_of(row.get("trading_as")), "incorporated": text_of(row.get("incorporated")), "officers": officers,
        "parent": text_of(parent.get("name")),
        "parent_number": text_of(parent.get("number")), "revenue_band": text_of(row.get("revenue_band")),
    }  # fmt: skip
    return Listing(
        source=source, source_id=str(row["number"]), name=text_of(row["name"]), category=trade.label,
        street=text_of(office.get("street")), town=text_of(office.get("town")), postcode=text_of(office.get("postcode")),
        status="closed" if text_of(row.get("status")).lower() in STRUCK_OFF else "open", rank=rank,
        extra={name: value for name, value in facts.items() if value},
    )  # fmt: skip


def read(query: Query, endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read one page of companies."""
    try:
        answer = orjson.loads(reply.body)
        rows, total = list(answer["items"]), int(answer["total"])
    except (orjson.JSONDecodeError, KeyError, TypeError, ValueError) as error:
        raise SourceFailure(
            f"the answer is not what the company register sends: {error}", "check the address in the settings"
        ) from error
    trade = endpoint.trades.of(query.trade)
    listings, unreadable = read_rows(rows, query.seen, lambda row, rank: _listing(row, query.source, trade, rank))
    return Reading(listings, bool(rows) and query.seen + len(rows) < total, unreadable)


SOURCE = Source(
    id="company_register",
    title="Company register",
    cap=CAP,
    page_size=PAGE_SIZE,
    ask=ask,
    read=read,
    by="places",
    joins=True,
    independent=False,
    hint="officers, founding date, parent, revenue; joined to what others list",
)
