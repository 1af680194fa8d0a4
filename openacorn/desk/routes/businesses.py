"""Businesses: the table, its facets, pins, and one business whole."""

import math
import sqlite3
from collections.abc import Sequence

import orjson
from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.api.who import IdentityDep
from openacorn.business.columns import COLUMNS, PAGE_COLUMNS, STORED_IN_ROW, USUAL_COLUMNS
from openacorn.business.store import businesses, membership, pictures, shortlists
from openacorn.clock import now
from openacorn.core.audit.check import check_ids
from openacorn.core.desk.cursor import Cursor, decode_cursor, encode_cursor
from openacorn.core.desk.filter_words import clauses, sentence
from openacorn.core.desk.filters import Filter, FilterError, parse_filter
from openacorn.core.desk.grid_row import NUMBERS
from openacorn.core.team.permission import Permission
from openacorn.desk.hiding import check_lists, hide_cells, hide_lists, hide_people
from openacorn.desk.panel import whole
from openacorn.desk.schemas.businesses import (
    BusinessColumnResponse,
    BusinessResponse,
    Facets,
    GridPage,
    PointsResponse,
)
from openacorn.desk.table import cells, names_for
from openacorn.team.identity import EVERYBODY, Identity, NotPermitted

router = APIRouter(route_class=DeskRoute, tags=["businesses"])
PAGING = frozenset({"sort", "columns", "more", "offset", "limit", "cursor"})
MAX_POINTS = 20_000
LARGEST = 2**31 - 1
"""No table is longer, and every part of the way (JSON, SQLite, numpy) can hold it."""


def chosen_filter(request: Request) -> Filter:
    """The filter out of the address. Raises FilterError, NotPermitted: what pages say may name people."""
    chosen = parse_filter(dict(request.query_params), check_ids())
    check_lists(request.app.state.app_state.database, chosen)
    if chosen.pages and Permission.PEOPLE not in request.scope.get("identity", EVERYBODY).permissions:
        raise NotPermitted("your account does not permit searching what pages say: it may name people")
    return chosen


def _columns(asked: str, more: str) -> tuple[str, ...]:
    chosen = tuple(filter(None, asked.split(","))) or USUAL_COLUMNS
    wanted = tuple(dict.fromkeys([*chosen, *filter(None, more.split(","))]))
    strange = [name for name in wanted if name not in PAGE_COLUMNS]
    if strange:
        raise FilterError(f"there is no column {strange[0]!r}; choose from {', '.join(PAGE_COLUMNS)}")
    return wanted


@router.get("/columns")
def list_columns() -> list[BusinessColumnResponse]:
    """The columns that a page of the table can hold, in their usual order."""
    return [BusinessColumnResponse.model_validate(column) for column in COLUMNS if column.id in PAGE_COLUMNS]


@router.get("/businesses", response_model=GridPage)
def list_businesses(
    state: AppDep,
    who: IdentityDep,
    request: Request,
    sort: str = "-value",
    columns: str = "",
    more: str = "",
    offset: int = Query(default=0, ge=0, le=LARGEST),
    limit: int = Query(default=100, ge=1, le=500),
    cursor: str = Query(default="", max_length=60),
) -> Response:
    """A page of the table. Filter by q, pages, state, ids, within, the facets, check.<id> and ranges of numbers.

    columns: ids with commas between, the usual ones if none; more: others on top of them. cursor: `next` of the page before, to
    go on after its last business even if others came or went meanwhile; `next` is "" on the last page.
    """
    chosen, shown, open_ = chosen_filter(request), _columns(columns, more), Permission.PEOPLE in who.permissions
    params = {name: value for name, value in request.query_params.items() if name not in PAGING}
    with state.snapshot.current() as grid:
        held = int(grid.live().sum())
        mask = grid.select(chosen, now().timestamp())
        if cursor:
            seen = decode_cursor(cursor, params, sort)
            offset = min(LARGEST, grid.place_after(mask, sort, seen.last, seen.offset))
        ids, total = grid.order(mask, sort, offset, limit), int(mask.sum())
        behind = grid.behind
    with state.database.read() as conn:
        rows, groups = businesses.table_rows(conn, ids, STORED_IN_ROW), membership.groups_of(conn, ids)
        hide_lists(groups, shortlists.hidden_lists(conn))
        for number, at in pictures.pictured(conn, ids).items():
            groups.setdefault(number, {})["pictured"] = [at]
        names = names_for(conn)
        parts, words = clauses(chosen, names), sentence(chosen, names)
    listed = [cells(row, groups.get(row["id"], {}), shown) for row in rows]
    page = {
        "columns": shown,
        "rows": [found if open_ else hide_cells(shown, found) for found in listed],
        "total": total,
        "all": held,
        "sentence": words,
        "clauses": [{"key": part.key, "text": part.text} for part in parts],
        "offset": offset,
        "next": encode_cursor(Cursor(ids[-1], offset + len(ids)), params, sort)
        if offset + len(ids) < total and ids
        else "",
        "behind": behind,
    }
    # no response model on the way out: a thousand rows through one cost twice the rest of the request
    return Response(orjson.dumps(page), media_type="application/json")


def _wanted(of: str) -> frozenset[str] | None:
    return frozenset(part for part in of.split(",") if part) or None


@router.get("/businesses/facets")
def facets(state: AppDep, request: Request, of: str = "") -> Facets:
    """Counts beside the table. `of`: the facets wanted, with commas between; all of them if empty."""
    chosen, moment = chosen_filter(request), now().timestamp()
    with state.snapshot.current() as grid:
        total = int(grid.select(chosen, moment).sum())
        counts = grid.facets(chosen, moment, _wanted(of))
        spread = grid.histograms(chosen, moment)
        behind = grid.behind
    with state.database.read() as conn:
        names = names_for(conn)
        for hidden in shortlists.hidden_lists(conn):
            counts.get("shortlist", {}).pop(hidden, None)
        labels: dict[str, dict[str, str]] = {
            facet: {value: names[facet](value) for value in counts[facet]}
            for facet in ("source", "shortlist")
            if facet in counts
        }
    return Facets(
        total=total,
        counts=counts,
        labels=labels,
        histograms=spread,
        behind=behind,
    )


@router.get("/businesses/points")
def points(state: AppDep, request: Request, of: str = "score") -> PointsResponse:
    """Pins of everything that passes the filter, the most valuable first, each with the number `of` it."""
    chosen = chosen_filter(request)
    if of not in NUMBERS:
        raise FilterError(f"there is no number {of!r}; choose from {', '.join(NUMBERS)}")
    with state.snapshot.current() as grid:
        mask = grid.select(chosen, now().timestamp())
        ids, total = grid.order(mask, "-value", 0, MAX_POINTS), int(mask.sum())
        numbers = grid.numbers_for(of, ids)
        behind = grid.behind
    with state.database.read() as conn:
        pins = businesses.points(conn, ids)
    result = [(*pin, None if math.isnan(numbers[pin[0]]) else numbers[pin[0]]) for pin in pins]
    return PointsResponse(points=result, total=total, cut=total > MAX_POINTS, behind=behind)


@router.get("/businesses/compare")
def compare(state: AppDep, who: IdentityDep, ids: str) -> list[BusinessResponse]:
    """Two to four businesses, whole, to be laid side by side."""
    wanted: Sequence[int] = parse_filter({"ids": ids}, ()).ids
    if not 2 <= len(wanted) <= 4:
        raise FilterError(f"ids={ids}: choose two to four businesses to compare")
    with state.database.read() as conn:
        return [_seen_by(conn, who, whole(conn, business_id, state.settings.region)) for business_id in wanted]


def _seen_by(conn: sqlite3.Connection, who: Identity, business: BusinessResponse) -> BusinessResponse:
    hidden = shortlists.hidden_lists(conn)
    business.shortlists = [number for number in business.shortlists if str(number) not in hidden]
    return business if Permission.PEOPLE in who.permissions else hide_people(business)


@router.get("/businesses/{business_id}")
def get_business(state: AppDep, who: IdentityDep, business_id: int) -> BusinessResponse:
    """One business: scores with their terms, findings with evidence, contacts, and where each fact came from."""
    with state.database.read() as conn:
        return _seen_by(conn, who, whole(conn, business_id, state.settings.region))
