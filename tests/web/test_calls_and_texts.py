"""Calls by a dialler, the calendar, and a gateway for texts, each set up and used on screen."""

import csv
import io
import urllib.error
import urllib.request
from datetime import UTC, datetime, timedelta
from pathlib import Path

import icalendar
import pytest

from openacorn.sim.text_gateway import KEY
from tests.application import Application
from tests.asking import ids_of, make_list
from tests.conftest import VETS, Coast
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
SWEPT = VETS


@pytest.fixture(scope="module")
def shortlist(app: Application) -> int:
    return make_list(app, "Vets to call", ids_of(app))


def test_a_dialler_calls_a_list(screen: Screen, app: Application, shortlist: int, tmp_path: Path) -> None:
    screen.open(f"/outreach?shortlist={shortlist}")
    screen.by_text("More", "section button").click()
    screen.by_text("Call list for a dialler").click()
    panel = "section[aria-label=Dialler]"
    screen.one(f"{panel} label")
    columns = app.get("/api/call-list-columns")
    more = next(column for column in columns["columns"] if column["id"] not in columns["chosen"])
    screen.by_text(more["title"], f"{panel} label").click()
    screen.until(lambda: more["id"] in app.get("/api/call-list-columns")["chosen"], "the column is remembered")
    assert screen.faults() == []
    listed = list(csv.DictReader(io.StringIO(app.text(f"/api/shortlists/{shortlist}/call-list.csv"))))
    assert more["title"] in listed[0]
    results = tmp_path / "results.csv"
    lines = [f"{listed[0]['Reference']};Interested;ring on Friday", f"{listed[1]['Reference']};Zonk;"]
    results.write_text("\n".join(["reference;outcome;note", *lines]) + "\n", encoding="utf-8")
    screen.one(f"{panel} input[type=file]").send_keys(str(results))
    screen.until(lambda: "Save 1 result" in screen.text, "one of two is understood")
    screen.one("select[aria-label='Meaning of Zonk']").send_keys("no answer")
    screen.by_text("Save 2 results").click()
    screen.until(lambda: "2 results saved" in screen.text, "both are noted")
    business = int(listed[0]["Reference"].removeprefix("acorn-"))
    assert "ring on Friday" in app.get(f"/api/businesses/{business}/activities")[0]["text"]
    assert screen.faults() == []


def test_a_calendar_program_reads_the_appointments(screen: Screen, app: Application, shortlist: int) -> None:
    (member, *_) = app.get(f"/api/shortlists/{shortlist}/board")["members"]
    when = (datetime.now(UTC) + timedelta(days=2)).replace(microsecond=0)
    app.post(
        f"/api/businesses/{member['id']}/appointments",
        {"at": when.isoformat(), "note": "Bring the sketch", "by": "Ada"},
    )
    screen.open("/outreach/calendar")
    screen.until(lambda: "Bring the sketch" in screen.text, "the appointment")
    screen.by_text("Create an address").click()
    address = screen.one("aside[aria-label='Calendar feed'] p.break-all").text
    assert screen.faults() == []
    with urllib.request.urlopen(address, timeout=30) as answer:
        feed = icalendar.Calendar.from_ical(answer.read())
    (event,) = [item for item in feed.walk("VEVENT") if "Bring the sketch" in str(item.get("DESCRIPTION", ""))]
    assert event.decoded("DTSTART") == when
    screen.by_text("Close it").click()
    screen.until(lambda: not screen.all("aside[aria-label='Calendar feed'] p.break-all"), "no address any more")
    with pytest.raises(urllib.error.HTTPError):
        urllib.request.urlopen(address, timeout=30)


def test_a_gateway_is_set_up_and_sends_a_text_to_oneself(screen: Screen, coast: Coast) -> None:
    assert coast.settings.world is not None
    root = f"http://127.0.0.1:{coast.settings.world.agency_ports['texts']}/v1"
    screen.open("/outreach/mailboxes")
    form = "section[aria-label='Text messages']"
    fields = {
        "Address": f"{root}/messages", "Message number": "message.id", "Error": "error", "Sender": "Wrenfold",
        "Body": '{"to": "{to}", "text": "{text}", "reference": "{reference}"}',
        "Ask for them at": f"{root}/inbox?since={{since}}", "List": "items",
    }  # fmt: skip
    for label, text in fields.items():
        field = screen.one(f"{form} input[aria-label='{label}']")
        field.clear()
        field.send_keys(text)
    screen.one("#gateway-key").send_keys("wrong")
    screen.one("#text-countries").send_keys("AU")
    screen.by_text("Save", f"{form} button").click()
    screen.until(lambda: "Saved." in screen.one(form).text, "the gateway")
    screen.one("#test-text").send_keys("0491 570 156")
    screen.by_text("Send", f"{form} button").click()
    screen.until(lambda: "the key is missing or wrong" in screen.one(form).text, "what the gateway said")
    screen.one("#gateway-key").send_keys(KEY)
    screen.by_text("Save", f"{form} button").click()
    screen.until(lambda: screen.one("#gateway-key").get_attribute("value") == "", "the key is kept")
    screen.by_text("Send", f"{form} button").click()
    screen.until(lambda: "The gateway has taken it." in screen.one(form).text, "a text taken")
    assert KEY not in screen.driver.page_source
    assert screen.faults() == []
    assert screen.complaints() == []
