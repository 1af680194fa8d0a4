"""Follow-ups and appointments as a calendar that other programs read (RFC 5545)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from icalendar import Event

REFRESH = timedelta(hours=1)
"""How often programs are asked to read a feed again (RFC 7986, 5.7)."""


@dataclass(frozen=True, slots=True)
class CalendarEntry:
    """id: stable, so that a change replaces what was read before; starts: a day, or a moment with a time zone; remind: minutes
    before it, 0 for no reminder; changed: when it was last changed (with a time zone)."""

    id: str
    title: str
    starts: date
    changed: datetime
    minutes: int = 0
    note: str = ""
    place: str = ""
    address: str = ""
    remind: int = 0


def _event(entry: CalendarEntry) -> "Event":
    from icalendar import Alarm, Event

    event = Event()
    event.add("uid", f"{entry.id}@openacorn.invalid")
    event.add("dtstamp", entry.changed)
    event.add("summary", entry.title)
    event.add("dtstart", entry.starts)
    if isinstance(entry.starts, datetime):
        event.add("dtend", entry.starts + timedelta(minutes=entry.minutes))
    else:
        event.add("transp", "TRANSPARENT")  # a day to come back to somebody blocks no hour
    for name, value in (("description", entry.note), ("location", entry.place), ("url", entry.address)):
        if value:
            event.add(name, value)
    if entry.remind:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", entry.title)
        alarm.add("trigger", timedelta(minutes=-entry.remind))
        event.add_component(alarm)
    return event


def calendar(name: str, entries: Iterable[CalendarEntry]) -> bytes:
    """A calendar with its entries. name: shown by the program that reads it."""
    from icalendar import Calendar  # loaded when the first feed is asked for

    made = Calendar()
    made.add("prodid", "-//Open Acorn//EN")
    made.add("version", "2.0")
    made.add("method", "PUBLISH")
    made.add("name", name)
    made.add("refresh-interval", REFRESH, parameters={"VALUE": "DURATION"})
    for entry in entries:
        made.add_component(_event(entry))
    return bytes(made.to_ical())
