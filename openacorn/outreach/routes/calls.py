"""Calls: who to call from a shortlist, the sheet of one business, and the sheets of a list on paper."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, pipeline, shortlists
from openacorn.clock import midnight, now, today
from openacorn.core.outreach.call_sheet import CallSheet
from openacorn.core.report.claims import too_old
from openacorn.outreach.call_sheets import sheet_of
from openacorn.outreach.pitch import Pitcher, angles_of
from openacorn.outreach.routes.owner_pages import address_of
from openacorn.outreach.schemas.calls import CallResponse, CallSheetResponse
from openacorn.outreach.store import owner_pages

router = APIRouter(route_class=DeskRoute, tags=["calls"])
CALL_COPIED = ("id", "name", "town", "phone", "stage", "owner", "follow_up", "tried_today")


@router.get("/calls")
def due(state: AppDep) -> list[CallResponse]:
    """Businesses to call back by today, on any list, what has been due longest first."""
    return calls_now(state, 0)


@router.get("/shortlists/{shortlist_id}/calls")
def to_call(state: AppDep, shortlist_id: int) -> list[CallResponse]:
    """Businesses to call now: what is due, then the picked, the most valuable first. Those marked are called only where due."""
    with state.database.read() as conn:
        shortlists.must_exist(conn, shortlist_id)
    return calls_now(state, shortlist_id)


def calls_now(state: AppState, shortlist_id: int, owner: str = "") -> list[CallResponse]:
    """Businesses to call now from a list; 0: those due on any. owner: of one person's businesses alone."""
    with state.database.read() as conn:
        moment = now()
        found = pipeline.list_calls(conn, shortlist_id, today(), midnight(), owner)
    return [
        CallResponse(**{name: getattr(call, name) for name in CALL_COPIED}, stale=too_old(call.looked_at, moment))
        for call in found
    ]


def sheets_of(state: AppState, ids: list[int], service: str) -> list[CallSheet]:
    """The call sheets of businesses. service: what is offered, "" for the best of each."""
    with state.database.read() as conn:
        pitcher = Pitcher(conn, region=state.settings.region)
        holding = angles_of(conn, state.snapshot, ids, pitcher.now)
        rows = businesses.get_businesses(conn, ids)
        return [sheet_of(pitcher.pitch(row, holding[row["id"]], service), pitcher) for row in rows]


@router.get("/businesses/{business_id}/call-sheet")
def call_sheet(state: AppDep, business_id: int, service: str = "") -> CallSheetResponse:
    """What to know before calling a business about its best offer, or about another service."""
    with state.database.read() as conn:
        businesses.get_business(conn, business_id)
        last = pipeline.last_spoken(conn, business_id)
        token = owner_pages.open_tokens(conn, [business_id]).get(business_id)
    (sheet,) = sheets_of(state, [business_id], service)
    result = {name: getattr(sheet, name) for name in CallSheet.__slots__}
    shared = address_of(state, token) if token else ""
    return CallSheetResponse.model_validate(result | {"last": last, "shared": shared})
