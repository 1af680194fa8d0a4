"""Appointments with businesses, and the calendar of these and of the days to come back."""

import sqlite3
from datetime import UTC, date, datetime

import phonenumbers

from openacorn.business.store import businesses, pipeline
from openacorn.clock import utc_now
from openacorn.core.outreach.calendar import CalendarEntry, calendar
from openacorn.errors import InvalidInput
from openacorn.outreach.store import appointments
from openacorn.outreach.store.appointments import Appointment


class AppointmentError(InvalidInput):
    """An appointment that cannot be made; the message says why."""

    where = "at"
    remedy = "choose another time"


def moment_of(at: str) -> datetime:
    """A moment with a time zone. Raises AppointmentError."""
    try:
        moment = datetime.fromisoformat(at)
    except ValueError:
        raise AppointmentError(f"{at!r} is no moment; write it like 2026-12-01T14:30+10:00") from None
    if moment.tzinfo is None:
        raise AppointmentError("the time zone is missing; write the time like 2026-12-01T14:30+10:00")
    return moment


def make(conn: sqlite3.Connection, made: Appointment, begins: datetime, today: str) -> int:
    """Make an appointment: it is added to the history, and the business is due on its day on every list. begins: with the time zone
    of its maker. Raises NotFound."""
    businesses.get_business(conn, made.business_id)
    number = appointments.insert_appointment(conn, made)
    said = f"appointment on {begins.date()} at {begins:%H:%M}" + (f", {made.place}" if made.place else "")
    pipeline.add_activity(
        conn, made.business_id, made.by, f"{said}: {made.note}" if made.note else said, utc_now(), "note"
    )
    pipeline.update_all_lists(conn, made.business_id, "", max(begins.date().isoformat(), today))
    return number


def cancel(conn: sqlite3.Connection, number: int, by: str) -> None:
    """Cancel an appointment. Raises NotFound."""
    gone = appointments.delete_appointment(conn, number)
    pipeline.add_activity(conn, gone.business_id, by, f"cancelled the appointment on {gone.at[:10]}", utc_now(), "note")


def _international(number: str) -> str:
    try:
        parsed = phonenumbers.parse(number, None)
        return phonenumbers.format_number(parsed, phonenumbers.PhoneNumberFormat.INTERNATIONAL)
    except phonenumbers.NumberParseException:
        return number


def calendar_of(conn: sqlite3.Connection, name: str, *, url: str = "", business_id: int = 0, by: str = "") -> bytes:
    """The calendar (RFC 5545) of one business or of all. url: of the application, with a slash at its end, under
    which businesses open, "" if it is not to be given; by: of one person."""
    entries = [
        CalendarEntry(
            f"appointment-{item.id}", f"{item.business}: appointment", datetime.fromisoformat(item.at).astimezone(UTC),
            datetime.fromisoformat(item.made_at), item.minutes,
            "\n".join(filter(None, (item.note, _international(item.phone)))), item.place,
            f"{url}businesses/{item.business_id}" if url else "", item.remind_minutes,
        )
        for item in appointments.list_appointments(conn, business_id, by)
    ]  # fmt: skip
    entries += [
        CalendarEntry(
            f"follow-up-{item.business_id}", f"Call {item.business}", date.fromisoformat(item.day),
            datetime.fromisoformat(item.changed), note=_international(item.phone),
            address=f"{url}businesses/{item.business_id}" if url else "",
        )
        for item in appointments.list_follow_ups(conn, business_id, by)
    ]  # fmt: skip
    return calendar(name, entries)
