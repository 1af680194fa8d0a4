"""Calls: whom to call from a shortlist, the sheet of one business, and the sheets of a list on paper."""

import asyncio
from datetime import UTC, datetime

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response

from openacorn.api.deps import Desk, Office
from openacorn.api.models.calls import CallSheetTold, CallTold
from openacorn.api.models.work import StepTold
from openacorn.api.routes.owner_pages import address_of
from openacorn.api.threads import DeskRoute
from openacorn.core.outreach.call_sheet import CallSheet
from openacorn.core.report.claims import too_old
from openacorn.core.report.render import call_sheets
from openacorn.jobs import owner_pages as pages
from openacorn.jobs.call_sheets import sheet_of
from openacorn.jobs.days import midnight, today
from openacorn.jobs.pitching import Pitcher, angles_of
from openacorn.store import businesses, owner_pages, shortlists, work
from openacorn.store.sweeps import NotFound

router = APIRouter(route_class=DeskRoute, tags=["calls"])
FORMS = ("html", "pdf")
MOST_ON_PAPER = 200
CALL_COPIED = ("id", "name", "town", "phone", "stage", "owner", "follow_up", "tried_today")


@router.get("/calls")
def due(desk: Desk) -> list[CallTold]:
    """Whoever is to be called back by today, on any list, what has been due longest first."""
    return _to_call(desk, 0)


@router.get("/shortlists/{shortlist_id}/calls")
def to_call(desk: Desk, shortlist_id: int) -> list[CallTold]:
    """Whom to call now: what is due, then the picked, the most valuable first. Nobody with a standing but where it is due."""
    with desk.database.read() as conn:
        shortlists.must_exist(conn, shortlist_id)
    return _to_call(desk, shortlist_id)


def _to_call(desk: Office, shortlist_id: int) -> list[CallTold]:
    with desk.database.read() as conn:
        moment = datetime.now(UTC)
        found = work.to_call(conn, shortlist_id, today(), midnight())
    return [
        CallTold(**{name: getattr(call, name) for name in CALL_COPIED}, stale=too_old(call.looked_at, moment))
        for call in found
    ]


def _sheets(desk: Office, ids: list[int], service: str) -> list[CallSheet]:
    with desk.database.read() as conn:
        pitcher = Pitcher(conn)
        holding = angles_of(conn, desk.snapshot, ids, pitcher.now)
        rows = businesses.get_businesses(conn, ids)
        return [sheet_of(pitcher.pitch(row, holding[row["id"]], service), pitcher) for row in rows]


@router.get("/businesses/{business_id}/call-sheet")
def call_sheet(desk: Desk, business_id: int, service: str = "") -> CallSheetTold:
    """What to know before calling a business about its best offer, or about another service."""
    with desk.database.read() as conn:
        businesses.get_business(conn, business_id)
        last = work.last_spoken(conn, business_id)
        token = owner_pages.open_tokens(conn, [business_id]).get(business_id)
    (sheet,) = _sheets(desk, [business_id], service)
    told = {name: getattr(sheet, name) for name in CallSheet.__slots__}
    shared = address_of(desk, token) if token else ""
    return CallSheetTold.model_validate(told | {"last": last and StepTold.model_validate(last), "shared": shared})


@router.get("/shortlists/{shortlist_id}/call-sheets.{form}")
async def list_on_paper(desk: Desk, shortlist_id: int, form: str) -> Response:
    """Sheets of whom to call now, a page each, as "html" or "pdf"; what may not be claimed is left out and said so."""
    found = await asyncio.to_thread(to_call, desk, shortlist_id)
    return await _paper(desk, [call.id for call in found], form)


@router.get("/businesses/{business_id}/call-sheet.{form}")
async def on_paper(desk: Desk, business_id: int, form: str) -> Response:
    """The sheet of one business, as "html" or "pdf"."""
    await asyncio.to_thread(_must_exist, desk, business_id)
    return await _paper(desk, [business_id], form)


def _must_exist(desk: Office, business_id: int) -> None:
    with desk.database.read() as conn:
        businesses.get_business(conn, business_id)


def _drawn(desk: Office, ids: list[int]) -> str:
    sheets = _sheets(desk, ids[:MOST_ON_PAPER], "")
    with desk.database.read() as conn:
        head = pages.letterhead(conn, desk.settings)
    return call_sheets(head, sheets, left=len(ids) - len(sheets))


async def _paper(desk: Office, ids: list[int], form: str) -> Response:
    if form not in FORMS:
        raise NotFound(f"call sheets come as {' or '.join(FORMS)}, not as {form}")
    async with desk.press.drawing:
        html = await asyncio.to_thread(_drawn, desk, ids)
    if form == "html":
        return HTMLResponse(html)
    headers = {"Content-Disposition": 'attachment; filename="call-sheets.pdf"'}
    return Response(await desk.press.pdf(html), media_type="application/pdf", headers=headers)
