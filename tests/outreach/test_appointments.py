"""Appointments: made, due on their day, in the feed at an address that only who has it can open, cancelled."""

import re
import urllib.error
import urllib.request

import pytest
from icalendar import Calendar

from tests.application import Application
from tests.asking import failing, ids_of, make_list
from tests.outreach.contacted import app, folder

__all__ = ["app", "folder"]
pytestmark = pytest.mark.world
NOON = "2031-05-06T12:00:00+10:00"


def events(app: Application, address: str) -> list[str]:
    url = app.owners_url + re.sub(r"^https?://[^/]+", "", address)
    with urllib.request.urlopen(url, timeout=30) as answer:
        assert answer.headers["Content-Type"].startswith("text/calendar")
        return sorted(str(event["SUMMARY"]) for event in Calendar.from_ical(answer.read()).walk("VEVENT"))


def test_an_appointment_is_due_on_its_day_and_in_the_feed_until_it_is_cancelled(app: Application) -> None:
    business = ids_of(app)[3]
    number = make_list(app, "Appointments", [business])
    made = app.post(f"/api/businesses/{business}/appointments", {"at": NOON, "note": "Bring the sketch", "by": "Ada"})
    assert made[0]["at"] == "2031-05-06T02:00:00+00:00"
    (member,) = app.get(f"/api/shortlists/{number}/board")["members"]
    assert member["follow_up"] == "2031-05-06"
    assert app.get("/api/calendar-feed?by=Ada")["address"] == ""
    address = app.put("/api/calendar-feed", {"by": "Ada"})["address"]
    name = member["name"]
    assert events(app, address) == [f"{name}: appointment"]  # the list's business is nobody's: no follow-up of Ada's
    everybody = app.put("/api/calendar-feed", {})["address"]
    assert {f"Call {name}", f"{name}: appointment"} <= set(events(app, everybody))
    single = Calendar.from_ical(app.content(f"/api/businesses/{business}/calendar.ics"))
    assert [str(event["URL"]) for event in single.walk("VEVENT")] == [f"{app.url}/businesses/{business}"] * 2
    app.post(f"/api/appointments/{made[0]['id']}?by=Ada", method="DELETE")
    assert events(app, address) == []
    assert failing(app, "DELETE", f"/api/appointments/{made[0]['id']}")[0] == 404
    assert "cancelled the appointment" in app.get(f"/api/businesses/{business}/activities")[0]["text"]


def test_a_closed_feed_opens_nothing(app: Application) -> None:
    old = app.put("/api/calendar-feed", {"by": "Ines"})["address"]
    new = app.put("/api/calendar-feed", {"by": "Ines"})["address"]
    assert old != new
    for address in (old, app.put("/api/calendar-feed", {"by": "Ines", "open": False})["address"] or new):
        with pytest.raises(urllib.error.HTTPError, match="404"):
            events(app, address)


@pytest.mark.parametrize("at", ["2031-05-06T12:00", "next Tuesday", "2031-13-40T12:00+10:00"])
def test_a_moment_that_is_none_says_how_to_write_one(app: Application, at: str) -> None:
    status, body = failing(app, "POST", f"/api/businesses/{ids_of(app)[0]}/appointments", {"at": at})
    assert status == 422
    assert "2026-12-01T14:30+10:00" in str(body)


def test_what_nobody_has_is_on_nobodys_day(app: Application) -> None:
    mine, nobodys = ids_of(app)[4:6]
    number = make_list(app, "Whose day", [mine, nobodys])
    app.post(f"/api/shortlists/{number}/members/move", {"ids": [mine], "owner": "Ada", "by": "Ada"})
    assert mine in [one["id"] for one in app.get("/api/my-day?name=Ada")["new"]]
    unnamed = app.get("/api/my-day")
    assert [unnamed[part] for part in ("due", "new", "answers", "page_replies", "appointments")] == [[], [], [], [], []]
