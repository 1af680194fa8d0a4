"""A shortlist as files: audiences for advertisers, address labels, a round of visits."""

import asyncio
from typing import Any

from fastapi import APIRouter, Query
from fastapi.responses import Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.schemas import Id
from openacorn.api.threads import DeskRoute
from openacorn.core.export.audience import AudienceKind, write_audience
from openacorn.core.export.labels import SHEETS, labels_html
from openacorn.core.export.route import FORMS, MOST_STOPS, Stop, order
from openacorn.core.geo.geodesy import Point
from openacorn.errors import InvalidInput
from openacorn.outreach import audiences
from openacorn.outreach.schemas.work_lists import AudienceResponse, LabelChoice, WorkListsResponse

router = APIRouter(route_class=DeskRoute, tags=["work lists"])


class WorkListError(InvalidInput):
    """A file that cannot be made from this list; the message says why."""

    where = "shortlist"
    remedy = "choose another list or another form"


def _lines(row: dict[str, Any]) -> list[str]:
    return [line for line in (row["name"], row["street"], f"{row['town']} {row['postcode']}".strip()) if line]


def _file(body: bytes, media_type: str, name: str) -> Response:
    return Response(body, media_type=media_type, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.get("/shortlists/{shortlist_id}/work-lists")
def choices(state: AppDep, shortlist_id: Id) -> WorkListsResponse:
    """What can be made from a list, and for how many of it."""
    with state.database.read() as conn:
        rows, _ = audiences.willing_members(conn, shortlist_id)
    return WorkListsResponse(
        sheets=[LabelChoice(id=sheet.id, title=sheet.title) for sheet in SHEETS.values()],
        addressed=sum(bool(row["street"] and row["town"]) for row in rows), placed=sum(row["lat"] is not None for row in rows),
        members=len(rows), from_home=state.settings.home is not None,
    )  # fmt: skip


@router.get("/shortlists/{shortlist_id}/audience")
def count_audience(state: AppDep, shortlist_id: Id) -> AudienceResponse:
    """How many rows an audience file of each kind would have."""
    with state.database.read() as conn:
        counts, refused = audiences.counts(conn, shortlist_id, state.settings)
    return AudienceResponse(counts=counts, refused=refused)


@router.get("/shortlists/{shortlist_id}/audience.csv", response_class=Response)
def audience_file(
    state: AppDep, shortlist_id: Id, kind: AudienceKind = "contacts", hash: bool = Query(default=True)
) -> Response:
    """An audience file."""
    with state.database.read() as conn:
        rows, _ = audiences.audience(conn, shortlist_id, kind, state.settings)
        if not rows:
            raise WorkListError("nobody on this list can be in an audience file")
    return _file(write_audience(rows, kind, hash_people=hash), "text/csv; charset=utf-8", f"audience-{kind}.csv")


@router.get("/shortlists/{shortlist_id}/labels.pdf", response_class=Response)
async def labels(
    state: AppDep, shortlist_id: Id, sheet: str = "a4-24", skip: int = Query(default=0, ge=0, le=100)
) -> Response:
    """Address labels of everybody with a postal address, as a PDF to print at full size."""
    chosen = SHEETS.get(sheet)
    if chosen is None:
        raise WorkListError(f"there is no sheet {sheet!r}; choose from {', '.join(SHEETS)}")

    def read() -> list[list[str]]:
        with state.database.read() as conn:
            return [
                _lines(row) for row in audiences.willing_members(conn, shortlist_id)[0] if row["street"] and row["town"]
            ]

    addresses = await asyncio.to_thread(read)
    if not addresses:
        raise WorkListError("nobody on this list has a postal address")
    body = await state.press.pdf(labels_html(chosen, addresses, min(skip, chosen.labels - 1)), {})
    return _file(body, "application/pdf", "labels.pdf")


def _round(state: AppState, shortlist_id: int) -> list[Stop]:
    with state.database.read() as conn:
        rows = [
            row
            for row in audiences.willing_members(conn, shortlist_id)[0]
            if row["lat"] is not None and row["lon"] is not None
        ]
    if not rows:
        raise WorkListError("nobody on this list has a place on the map")
    if len(rows) > MOST_STOPS:
        raise WorkListError(f"a round has at most {MOST_STOPS} stops, and this list has {len(rows):,}")
    stops = [Stop(row["id"], row["name"], ", ".join(_lines(row)[1:]), Point(row["lat"], row["lon"])) for row in rows]
    start = Point(*state.settings.home) if state.settings.home else stops[0].point
    return order(start, stops)[0]


@router.get("/shortlists/{shortlist_id}/round.{form}", response_class=Response)
def visits(state: AppDep, shortlist_id: Id, form: str) -> Response:
    """A round of visits to everybody with a place on the map, the stops in order: GPX, KML or GeoJSON."""
    if form not in FORMS:
        raise WorkListError(f"there is no form {form!r}; choose from {', '.join(FORMS)}")
    write, media_type = FORMS[form]
    return _file(write("Visits", _round(state, shortlist_id)), media_type, f"visits.{form}")
