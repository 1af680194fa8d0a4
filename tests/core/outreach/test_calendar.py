"""The calendar against readers of other libraries, and the standard's own rules on lines and text (RFC 5545, 3.1 and 3.3.11)."""

import re
from datetime import UTC, date, datetime, timedelta

import vobject
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from openacorn.core.outreach.calendar import CalendarEntry, calendar

CHANGED = datetime(2026, 11, 2, 8, tzinfo=UTC)
VISIT = CalendarEntry(
    "appointment-3", "Lantern Opticians: appointment", datetime(2026, 12, 1, 3, 30, tzinfo=UTC), CHANGED, 45,
    "Bring the sketch; ask for Ada, not Ines", "4 Harbour Road", "http://127.0.0.1/businesses/7", 15,
)  # fmt: skip
CALL = CalendarEntry("follow-up-8", "Call Ropewalk Florist", date(2026, 12, 4), CHANGED)


def test_another_library_reads_what_was_written() -> None:
    read = vobject.readOne(calendar("Wrenfold Studio", [VISIT, CALL]).decode())
    visit, call = read.contents["vevent"]
    assert visit.summary.value == VISIT.title
    assert visit.dtstart.value == VISIT.starts
    assert visit.dtend.value - visit.dtstart.value == timedelta(minutes=45)
    assert (visit.description.value, visit.location.value) == (VISIT.note, VISIT.place)
    assert visit.valarm.trigger.value == timedelta(minutes=-15)
    assert (call.dtstart.value, call.transp.value) == (CALL.starts, "TRANSPARENT")
    assert len({item.uid.value for item in (visit, call)}) == 2


@given(st.text(alphabet=st.characters(exclude_categories=("Cs", "Cc")), max_size=200))
def test_lines_are_short_and_text_comes_back_whole(title: str) -> None:
    body = calendar(title, [CalendarEntry("follow-up-1", title, date(2026, 12, 4), CHANGED)])
    lines = body.split(b"\r\n")
    assert max(map(len, lines)) <= 75
    assert b"\n" not in body.replace(b"\r\n", b"")
    (event,) = Calendar.from_ical(body).walk("VEVENT")
    assert str(event["SUMMARY"]) == title
    assert sum(line.startswith(b"SUMMARY") for line in lines) == 1, "nothing in a title makes a line of its own"


def test_every_entry_has_what_the_standard_asks_for() -> None:
    """3.6.1: a UID and a DTSTAMP each; 3.4: BEGIN and END, version and product."""
    text = calendar("Wrenfold Studio", [VISIT, CALL]).decode()
    assert text.startswith("BEGIN:VCALENDAR\r\n")
    assert text.endswith("END:VCALENDAR\r\n")
    assert len(re.findall(r"^DTSTAMP:20261102T080000Z", text, re.M)) == len(re.findall(r"^UID:", text, re.M)) == 2
    assert "VERSION:2.0" in text
