"""Work lists on paper: call sheets, a list as a table, each with the parts that are wanted."""

import asyncio
from collections.abc import Callable
from dataclasses import asdict
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, pipeline, services, shortlists
from openacorn.clock import today
from openacorn.core.report.on_paper import LIST_COLUMNS, SHEET_PARTS, call_sheets, printed_list
from openacorn.errors import NotFound
from openacorn.outreach import owner_pages as pages
from openacorn.outreach.routes.calls import sheets_of, to_call
from openacorn.outreach.schemas.calls import PaperPartsResponse
from openacorn.outreach.schemas.dialling import CallColumn

router = APIRouter(route_class=DeskRoute, tags=["paper"])
FORMS = ("html", "pdf")
MOST_ON_PAPER, MOST_IN_LIST = 200, 2000
ALL_PARTS, ALL_COLUMNS = list(SHEET_PARTS), list(LIST_COLUMNS)
PartsQuery = Annotated[list[str], Query(max_length=20)]
ColumnsQuery = Annotated[list[str], Query(max_length=20)]


@router.get("/shortlists/{shortlist_id}/call-sheets.{form}")
async def list_on_paper(state: AppDep, shortlist_id: int, form: str, parts: PartsQuery = ALL_PARTS) -> Response:
    """Sheets of businesses to call now, a page each, as "html" or "pdf"; what may not be claimed is left out and said so."""
    found = await asyncio.to_thread(to_call, state, shortlist_id)
    return await _paper(state, form, "call-sheets", lambda: _drawn(state, [call.id for call in found], parts))


@router.get("/shortlists/{shortlist_id}/list.{form}")
async def members_on_paper(
    state: AppDep, shortlist_id: int, form: str, columns: ColumnsQuery = ALL_COLUMNS
) -> Response:
    """A list as a table to be printed, as "html" or "pdf", with the columns that are wanted."""
    return await _paper(state, form, "list", lambda: _list_drawn(state, shortlist_id, columns))


@router.get("/paper-parts")
def paper_parts() -> PaperPartsResponse:
    """What can be left out on paper: parts of a call sheet, columns of a list."""
    return PaperPartsResponse(
        sheet=[CallColumn(id=id_, title=title) for id_, title in SHEET_PARTS.items()],
        columns=[CallColumn(id=id_, title=title) for id_, title in LIST_COLUMNS.items()],
    )


@router.get("/businesses/{business_id}/call-sheet.{form}")
async def on_paper(state: AppDep, business_id: int, form: str, parts: PartsQuery = ALL_PARTS) -> Response:
    """The sheet of one business, as "html" or "pdf"."""
    await asyncio.to_thread(_must_exist, state, business_id)
    return await _paper(state, form, "call-sheets", lambda: _drawn(state, [business_id], parts))


def _must_exist(state: AppState, business_id: int) -> None:
    with state.database.read() as conn:
        businesses.get_business(conn, business_id)


def _drawn(state: AppState, ids: list[int], parts: list[str]) -> str:
    sheets = sheets_of(state, ids[:MOST_ON_PAPER], "")
    with state.database.read() as conn:
        head = pages.letterhead(conn, state.settings)
    return call_sheets(head, sheets, left=len(ids) - len(sheets), parts=frozenset(parts))


def _list_drawn(state: AppState, shortlist_id: int, columns: list[str]) -> str:
    with state.database.read() as conn:
        name = next((item.name for item in shortlists.list_shortlists(conn) if item.id == shortlist_id), "")
        shortlists.must_exist(conn, shortlist_id)
        found, counts = pipeline.list_members(conn, shortlist_id, MOST_IN_LIST)
        head = pages.letterhead(conn, state.settings)
        offers = {service.id: service.title for service in services.list_services(conn)}
    rows = [asdict(member) | {"offer": offers.get(member.offer, member.offer)} for member in found]
    return printed_list(head, name, today(), rows, columns, left=sum(counts.values()) - len(rows))


async def _paper(state: AppState, form: str, name: str, draw: Callable[[], str]) -> Response:
    if form not in FORMS:
        raise NotFound(f"this comes as {' or '.join(FORMS)}, not as {form}")
    async with state.press.drawing:
        html = await asyncio.to_thread(draw)
    if form == "html":
        return HTMLResponse(html)
    headers = {"Content-Disposition": f'attachment; filename="{name}.pdf"'}
    return Response(await state.press.pdf(html), media_type="application/pdf", headers=headers)
