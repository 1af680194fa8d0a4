"""Businesses: the table, its facets, pins, exports, and one business whole."""

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Any

import orjson
from fastapi import APIRouter, Query, Request
from fastapi.responses import Response, StreamingResponse

from openacorn.api.business_whole import whole
from openacorn.api.deps import Desk, Office, check_ids
from openacorn.api.models.businesses import BusinessTold, Cell, Facets, GridPage, PointsTold
from openacorn.core.audit.check import all_checks
from openacorn.core.audit.extract.contacts import dialled
from openacorn.core.audit.finding import Outcome
from openacorn.core.export.format import all_formats
from openacorn.core.filters import Filter, FilterError, parse_filter, sentence
from openacorn.core.scoring.service import all_services
from openacorn.core.trades.catalogue import all_trades
from openacorn.store import audits, businesses

router = APIRouter(tags=["businesses"])
STRIP = {Outcome.GAP: "g", Outcome.PARTIAL: "p", Outcome.OK: "o", Outcome.NOT_APPLICABLE: "n", Outcome.UNKNOWN: "u"}
COLUMNS = [
    "id", "name", "trade", "town", "distance_m", "website", "phone", "rating", "reviews", "offer", "score", "value", "reach",
    "audited_at", "rejected", "strip", "shortlists",
]  # fmt: skip
MAX_POINTS = 20_000
EXPORT_BATCH = 500
LARGEST = 2**31 - 1
"""No table is longer, and every part of the way (JSON, SQLite, numpy) can hold it."""


def chosen_filter(request: Request) -> Filter:
    """The filter out of the address. Raises FilterError."""
    return parse_filter(dict(request.query_params), check_ids())


def in_words(chosen: Filter) -> str:
    """The filter as a sentence."""
    trades = {trade.id: trade.plural for trade in all_trades()}
    checks = {check.id: check.title for check in all_checks()}
    return sentence(chosen, trades, checks, {service.id: service.title for service in all_services()})


def _strip(outcomes: str) -> str:
    known = orjson.loads(outcomes)
    return "".join(STRIP[Outcome(known[check])] if check in known else "-" for check in check_ids())


def _cells(row: dict[str, Any], lists: dict[int, list[int]]) -> list[Cell]:
    row = row | {"strip": _strip(row["outcomes"]), "shortlists": len(lists.get(row["id"], ()))}
    return [row[column] for column in COLUMNS]


@router.get("/businesses", response_model=GridPage)
def list_businesses(
    desk: Desk,
    request: Request,
    sort: str = "-value",
    offset: int = Query(default=0, ge=0, le=LARGEST),
    limit: int = Query(default=100, ge=1, le=500),
) -> Response:
    """A page of the table. Filter by q, trade, town, website, offer, check.<id>, shortlist, run, state, ids."""
    chosen = chosen_filter(request)
    with desk.snapshot.current() as grid:
        mask = grid.select(chosen)
        ids = grid.order(mask, sort, offset, limit)
        total, held = int(mask.sum()), int(grid.select(Filter()).sum())
    with desk.database.read() as conn:
        rows = businesses.get_businesses(conn, ids)
        _, lists = businesses.groups_of(conn, ids)
    page = {
        "columns": COLUMNS,
        "rows": [_cells(row, lists) for row in rows],
        "total": total,
        "all": held,
        "sentence": in_words(chosen),
        "offset": offset,
    }
    # no response model on the way out: a thousand rows through one cost twice the rest of the request
    return Response(orjson.dumps(page), media_type="application/json")


@router.get("/businesses/facets")
def facets(desk: Desk, request: Request) -> Facets:
    """Counts beside the table."""
    chosen = chosen_filter(request)
    with desk.snapshot.current() as grid:
        return Facets(total=int(grid.select(chosen).sum()), counts=grid.facets(chosen))


@router.get("/businesses/points")
def points(desk: Desk, request: Request) -> PointsTold:
    """Pins of everything that passes the filter, the most valuable first."""
    chosen = chosen_filter(request)
    with desk.snapshot.current() as grid:
        mask = grid.select(chosen)
        ids, total = grid.order(mask, "-value", 0, MAX_POINTS), int(mask.sum())
    with desk.database.read() as conn:
        return PointsTold(points=businesses.points(conn, ids), total=total, cut=total > MAX_POINTS)


# heading → column of the wide row, for what is exported as it stands
PLAIN = {
    "id": "id", "name": "name", "street": "street", "town": "town", "postcode": "postcode", "phone": "phone", "website": "website",
    "rating": "rating", "reviews": "reviews", "score": "score", "latitude": "lat", "longitude": "lon", "rejected": "rejected",
    "audited at": "audited_at",
}  # fmt: skip
EXPORT_HEADER = [*PLAIN, "trade", "best offer", "expected value", "e-mail addresses"]


def _export_rows(desk: Office, ids: Sequence[int]) -> Iterator[list[Cell]]:
    titles = {service.id: service.title for service in all_services()}
    labels = {trade.id: trade.label for trade in all_trades()}
    for start in range(0, len(ids), EXPORT_BATCH):
        with desk.database.read() as conn:
            for row in businesses.get_businesses(conn, ids[start : start + EXPORT_BATCH]):
                mails = [c["value"] for c in audits.contacts_of(conn, row["id"]) if c["kind"] == "email"]
                value = None if row["value"] is None else round(row["value"], 2)
                made = [labels.get(row["trade"], row["trade"]), titles.get(row["offer"], ""), value, "; ".join(mails)]
                outcomes = orjson.loads(row["outcomes"])
                row["phone"] = dialled(row["phone"], desk.settings.region)
                yield [
                    *(row[column] for column in PLAIN.values()),
                    *made,
                    *(outcomes.get(check, "") for check in check_ids()),
                ]


@router.get("/businesses/export/{format_id}", response_class=StreamingResponse)
def export(desk: Desk, request: Request, format_id: str, sort: str = "-value") -> StreamingResponse:
    """Everything that passes the filter (or `ids`, what was picked), as a file."""
    formats = all_formats()
    if format_id not in formats:
        raise FilterError(f"there is no export format {format_id!r}; choose from {', '.join(formats)}")
    chosen = chosen_filter(request)
    with desk.snapshot.current() as grid:
        mask = grid.select(chosen)
        ids = grid.order(mask, sort, 0, int(mask.sum()))
    form = formats[format_id]
    header = [*EXPORT_HEADER, *(check.title for check in all_checks())]
    name = f"businesses-{datetime.now(UTC):%Y-%m-%d}.{form.suffix}"
    return StreamingResponse(
        form.write(header, _export_rows(desk, ids)),
        media_type=form.media_type,
        headers={"Content-Disposition": f'attachment; filename="{name}"', "X-Row-Count": str(len(ids))},
    )


@router.get("/businesses/{business_id}")
def get_business(desk: Desk, business_id: int) -> BusinessTold:
    """One business: scores with their terms, findings with evidence, contacts, and where each fact came from."""
    with desk.database.read() as conn:
        return whole(conn, business_id)
