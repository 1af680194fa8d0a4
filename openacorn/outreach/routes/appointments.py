"""Appointments: make, list, cancel; as a file for a calendar, and the address of a feed."""

import secrets
import sqlite3
from datetime import UTC

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.schemas import Id
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses
from openacorn.clock import midnight, today, utc_now
from openacorn.outreach import appointments as jobs
from openacorn.outreach.schemas.appointments import AppointmentRequest, CalendarFeed, CalendarFeedRequest
from openacorn.outreach.store import appointments as store
from openacorn.outreach.store.appointments import Appointment

router = APIRouter(route_class=DeskRoute, tags=["appointments"])
TOKEN_BYTES = 18
CALENDAR = "text/calendar; charset=utf-8"


@router.get("/businesses/{business_id}/appointments")
def list_appointments(state: AppDep, business_id: Id) -> list[Appointment]:
    """A business's appointments, the earliest first."""
    with state.database.read() as conn:
        businesses.get_business(conn, business_id)
        return store.list_appointments(conn, business_id)


@router.post("/businesses/{business_id}/appointments", status_code=201)
def make_appointment(state: AppDep, business_id: Id, asked: AppointmentRequest) -> list[Appointment]:
    """Make an appointment; the business is due on its day on every list."""
    begins = jobs.moment_of(asked.at)
    at, by = begins.astimezone(UTC).isoformat(timespec="seconds"), asked.by.strip()
    what = (asked.minutes, asked.place.strip(), asked.note.strip(), asked.remind_minutes)
    made = Appointment(0, business_id, at, *what, by, utc_now())
    with state.database.write() as conn:
        jobs.make(conn, made, begins, today())
        return store.list_appointments(conn, business_id)


@router.get("/appointments")
def list_upcoming(state: AppDep) -> list[Appointment]:
    """Everybody's appointments from today on, the earliest first."""
    with state.database.read() as conn:
        return store.list_appointments(conn, 0, since=midnight())


@router.delete("/appointments/{appointment_id}", status_code=204)
def cancel_appointment(state: AppDep, appointment_id: Id, by: str = Query(default="", max_length=60)) -> None:
    """Cancel an appointment; the history keeps that it was."""
    with state.database.write() as conn:
        jobs.cancel(conn, appointment_id, by.strip())


@router.get("/businesses/{business_id}/calendar.ics")
def business_calendar(state: AppDep, request: Request, business_id: Id) -> Response:
    """A business's appointments and its day to come back, as a file for a calendar (RFC 5545)."""
    with state.database.read() as conn:
        name = businesses.get_business(conn, business_id)["name"]
        body = jobs.calendar_of(conn, name, url=str(request.base_url), business_id=business_id)
    return Response(body, media_type=CALENDAR, headers={"Content-Disposition": 'attachment; filename="calendar.ics"'})


def _feed(state: AppState, conn: sqlite3.Connection, by: str) -> CalendarFeed:
    token = store.get_feed(conn, by)
    address = state.owners_address(f"/o/calendar/{token}.ics")
    return CalendarFeed(address=address if token else "", public=bool(state.settings.public_address))


@router.get("/calendar-feed")
def get_feed(state: AppDep, by: str = Query(default="", max_length=60)) -> CalendarFeed:
    """Where a calendar program reads follow-ups and appointments."""
    with state.database.read() as conn:
        return _feed(state, conn, by.strip())


@router.put("/calendar-feed")
def set_feed(state: AppDep, asked: CalendarFeedRequest) -> CalendarFeed:
    """Give the feed a new address, or close it; the old address opens nothing any more."""
    with state.database.write() as conn:
        store.set_feed(conn, asked.by.strip(), secrets.token_urlsafe(TOKEN_BYTES) if asked.open else "", utc_now())
        return _feed(state, conn, asked.by.strip())
