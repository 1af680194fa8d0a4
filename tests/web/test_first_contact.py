"""First contact, end to end: five picked by keys, called, one lost for good and one won; an owner's page opened on a phone, answered,
and shared again once its site had changed."""

import json
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.keys import Keys

from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import REGISTRY, world_sources
from tests.application import Application, application
from tests.conftest import circle, remake
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
PLAN = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 5000)], "sources": ["listing_service"]}
PHONE = {"width": 390, "height": 800, "deviceScaleFactor": 1, "mobile": True}
DESK = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}


@contextmanager
def running(world: Path, data: Path) -> Iterator[Application]:
    with running_world(world) as servers:
        settings = Settings(
            agency="Wrenfold Studio", region="AU", world=servers, sources=world_sources(servers), browser_looks=0,
            **REGISTRY,
        )  # fmt: skip
        with application(data, settings, json.loads((world / "places.json").read_text())) as app:
            yield app


def sheet_there(screen: Screen) -> bool:
    """Is the sheet there whose offer a result is noted for? Until then keys do nothing."""
    return not screen.all("section[aria-label='Call sheet'] button:disabled")


def heading(screen: Screen) -> str:
    """Whose sheet it is; read in one go, as sheets follow one another quickly."""
    found = "return document.querySelector(\"section[aria-label='Call sheet'] h1\")?.textContent"
    return str(screen.driver.execute_script(found))


def pick_five_by_keys(screen: Screen) -> list[str]:
    screen.open("/businesses?sort=-value")
    screen.until(lambda: len(screen.all("[role=row]")) > 6, "rows")
    screen.keys("x", "j", "x", "j", "x", "j", "x", "j", "x", "s")
    screen.one("input[aria-label='Name of a new shortlist']").send_keys("Monday", Keys.ENTER)
    screen.until(lambda: "Put 5 businesses on a shortlist" in screen.text, "five picked")
    number = screen.app.get("/api/shortlists")[0]["id"]
    return [member["name"] for member in screen.app.get(f"/api/shortlists/{number}/board")["members"]]


def call_them(screen: Screen, names: list[str]) -> None:
    """The first asks not to be called again, the second buys, the third is not there, the fourth is to be called back."""
    screen.open("/outreach")
    screen.by_text("Call").click()
    screen.until(lambda: heading(screen) == names[0] and sheet_there(screen), "the first sheet")
    assert screen.faults() == []
    assert len(screen.all("section[aria-label='Call sheet'] ol li")) <= 3
    screen.keys("m", "No more calls, please")
    screen.keys(Keys.ESCAPE, "r")
    screen.one("form[aria-label^=Refused]")
    screen.keys(Keys.ENTER)
    screen.until(lambda: heading(screen) == names[1] and sheet_there(screen), "the second sheet")
    screen.keys("w")
    screen.one("form[aria-label^=Won] input").send_keys("2800", Keys.ENTER)
    screen.until(lambda: heading(screen) == names[2] and sheet_there(screen), "the third sheet")
    screen.keys("n")
    screen.until(lambda: heading(screen) == names[3] and sheet_there(screen), "the fourth sheet")
    screen.keys("b")
    screen.one("form[aria-label^='Call back'] input").send_keys(Keys.ENTER)
    screen.until(lambda: heading(screen) == names[4] and sheet_there(screen), "the fifth sheet")
    screen.keys("u")
    screen.until(lambda: "Undone" in screen.text, "the call back is taken back")
    screen.keys("k")
    screen.until(lambda: heading(screen) == names[3] and sheet_there(screen), "it is to be called again")


def selected(screen: Screen, query: str = "") -> list[str]:
    return [row[0] for row in screen.app.get(f"/api/businesses?columns=name&limit=500&{query}")["rows"]]


def open_on_a_phone(screen: Screen, address: str) -> None:
    screen.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    screen.driver.get(address)


def claims(screen: Screen) -> list[str]:
    return [head.text for head in screen.all("ol.claims h3")]


def share_page(screen: Screen, business: int) -> str:
    screen.open(f"/outreach/page/{business}")
    screen.by_text("Create the page").click()
    screen.by_text("Share it").click()
    screen.until(lambda: "Nobody has opened it yet" in screen.text, "it is shared")
    assert screen.faults() == []
    return str(screen.app.get(f"/api/businesses/{business}/owner-page")["address"])


def answer(screen: Screen, address: str) -> list[str]:
    """Open the page as its owner does, and write back."""
    open_on_a_phone(screen, address)
    result = claims(screen)
    assert screen.driver.execute_script("return document.documentElement.scrollWidth") <= PHONE["width"]
    assert screen.faults() == []
    time.sleep(3.1)  # nobody writes faster; a machine would
    for field, words in (("name", "Petra Haldane"), ("reach", "0491 570 006"), ("text", "Please call me on Tuesday")):
        screen.one(f"#{field}").send_keys(words)
    screen.by_text("Send it to").click()
    screen.until(lambda: "your message has arrived" in screen.text, "thanks")
    screen.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", DESK)
    return result


def test_from_a_shortlist_to_a_refusal_a_sale_and_an_owner_who_writes_back(driver: Any, tmp_path: Path) -> None:
    world, data = tmp_path / "world", tmp_path / "data"
    make_world(world, per_trade=30)
    vets = [row for row in json.loads((world / "truth.json").read_text())["businesses"] if row["trade"] == "vets"]
    result = next(
        row for row in vets if (row["archetype"], row["town"], row["closed"]) == ("modern", "Port Ellery", False)
    )
    bare = {"pixels": [], "manager": False, "consent": False, "hidden_analytics": False, "hidden_pixel": False}
    remake(world, result["host"], analytics="", title="none", **bare)
    with running(world, data) as app:
        screen = Screen(driver, app)
        app.wait_for_run(app.post("/api/sweeps", {"name": "Vets", "plan": PLAN})["run_id"])
        names = pick_five_by_keys(screen)
        call_them(screen, names)
        for query in ("", "shortlist=1", "has=phone", "pages=vet"):
            assert not {names[0], names[1]} & set(selected(screen, query))
        assert {names[0], names[1]} <= set(selected(screen, "state=relationship"))
        fourth = next(
            row[0] for row in app.get("/api/businesses?columns=id,name&limit=500")["rows"] if row[1] == names[3]
        )
        app.post(f"/api/businesses/{fourth}/contacts", {"result": "call back", "follow_up": "2030-01-02", "by": "Ada"})
        screen.open("/outreach")
        screen.until(
            lambda: "call back on 2 Jan 2030" in screen.one("section[aria-label=contacted]").text, "a day in words"
        )
        screen.until(lambda: names[0] in screen.one("section[aria-label=lost]").text, "lost")
        assert "refused" in screen.one("section[aria-label=lost]").text
        assert names[1] in screen.one("section[aria-label=won]").text
        (business,) = app.get(f"/api/businesses?columns=id&state=all&q={result['host']}")["rows"][0]
        address = share_page(screen, business)
        before = answer(screen, address)
        assert "Your website does not count its visitors." in before
        screen.open("/outreach/replies")
        screen.until(lambda: "Please call me on Tuesday" in screen.text, "the message")
        assert "0491 570 006" in screen.text
        assert screen.faults() == []
        screen.by_text("Answered").click()
        screen.until(lambda: "Not answered after all" in screen.text, "answered")
        assert screen.complaints() == []
        driver.get("about:blank")
    remake(world, result["host"], analytics="ga4", title="ok")
    with running(world, data) as app:
        screen = Screen(driver, app)
        screen.open(f"/outreach/page/{business}")
        screen.by_text("Re-check and update").click()
        screen.until(lambda: "No longer true" in screen.text, "what has changed")
        page = app.get(f"/api/businesses/{business}/owner-page")
        address = page["address"]
        open_on_a_phone(screen, address)
        assert claims(screen) == before  # what was shared stands until it is shared again
        driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", DESK)
        screen.open(f"/outreach/page/{business}")
        screen.by_text("Share this instead").click()
        screen.until(lambda: not app.get(f"/api/businesses/{business}/owner-page")["newer"], "shared again")
        driver.get(address)
        after = claims(screen)
        assert after
        assert "Your website does not count its visitors." not in screen.text
        driver.get("about:blank")


def test_a_letterhead_is_kept_and_a_list_is_written_to(screen: Screen) -> None:
    screen.app.wait_for_run(
        screen.app.post(
            "/api/sweeps", {"name": "Vets", "plan": {**PLAN, "facts": ["website", "contacts", "mailboxes"]}}
        )["run_id"]
    )
    screen.open("/outreach/letterhead")
    screen.one("#person").send_keys("Ada Wren")
    screen.by_text("Save").click()
    screen.until(lambda: "Saved." in screen.text, "kept")
    assert screen.app.get("/api/letterhead")["person"] == "Ada Wren"
    assert screen.faults() == []
    ids = [row[0] for row in screen.app.get("/api/businesses?columns=id&limit=30&has=email&sort=-value")["rows"]]
    number = screen.app.post("/api/shortlists", {"name": "To write to"})["id"]
    screen.app.post(f"/api/shortlists/{number}/members", {"ids": ids})
    screen.open(f"/outreach/mailing?shortlist={number}")
    sent = len(screen.until(lambda: screen.all("tbody tr"), "whom is written to"))
    assert screen.faults() == []
    screen.by_text("as sent").click()
    screen.until(lambda: f"{sent} written to" in screen.text, "it is remembered")
    screen.until(lambda: "Nobody can be written to now" in screen.text, "nobody twice")
    screen.open(f"/outreach?shortlist={number}")
    screen.until(lambda: len(screen.all("section[aria-label=contacted] [data-card]")) == sent, "contacted")
    screen.open("/outreach/pages")
    screen.until(lambda: "No page was made yet" in screen.text, "an empty list says what to do")
    assert screen.faults() == []
    assert screen.complaints() == []
