"""A new website, begun on screen: its words changed, its look chosen, shared, and read by its owner on a phone."""

import pytest

from tests.application import Application
from tests.asking import ids_of
from tests.conftest import circle
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
PLAN = {"trades": ["florists"], "areas": [circle(-37.02, 160.02, 5000.0)], "sources": ["listing_service"]}
PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
DESKTOP = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}


@pytest.fixture(scope="module")
def business(app: Application) -> int:
    app.wait_for_run(app.post("/api/sweeps", {"name": "Florists", "plan": PLAN})["run_id"])
    for number in ids_of(app, "sort=-reviews"):
        if app.post(f"/api/businesses/{number}/website", {"by": "Bo"})["site"]["read_pages"]:
            return number
    raise AssertionError("no website of the coast has text")


def test_from_the_old_words_to_the_owners_phone(screen: Screen, business: int) -> None:
    screen.open(f"/businesses/{business}")
    screen.by_text("New website").click()
    screen.until(lambda: "had text to begin with" in screen.text, "what it rests on")
    assert "Which customer may be quoted" in screen.one("aside[aria-label='What is done with it']").text
    assert screen.faults() == []
    text = screen.one("section[aria-label='About us'] textarea")
    text.clear()
    text.send_keys("Flowers from our own garden, since we were children.")
    screen.by_text("Who works here", "aside label").click()
    screen.by_text("Loom", "aside label").click()
    screen.by_text("Dark", "aside label").click()
    screen.by_text("Save", "section[aria-label='New website'] button").click()
    screen.until(
        lambda: len(screen.all("aside[aria-label='What is done with it'] li button")) >= 1, "a version to go back to"
    )
    about = screen.one("section[aria-label='About us']").text
    assert "changed, from" in about
    assert "Before:" in about
    screen.by_text("Preview").click()
    frame = screen.one("iframe[title='The new website']")
    assert screen.faults() == []
    screen.by_text("Share it").click()
    address = screen.one("aside[aria-label='What is done with it'] p.break-all").text
    assert frame.is_displayed()
    screen.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    try:
        for page in ("", "services.html", "about.html", "contact.html", "privacy.html"):
            screen.driver.get(address + page)
            assert screen.driver.execute_script("return document.documentElement.scrollWidth <= innerWidth"), page
            assert screen.faults() == [], page
        screen.driver.get(address)
        screen.by_text("About us", "nav a").click()
        screen.until(lambda: "Flowers from our own garden" in screen.text, "the owner reads what was written")
        assert screen.complaints() == []
    finally:
        screen.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", DESKTOP)
    screen.open(f"/businesses/{business}/website")
    screen.until(lambda: "Opened" in screen.one("aside[aria-label='What is done with it']").text, "a view was counted")
    screen.by_text("Withdraw").click()
    screen.until(lambda: "Withdrawn" in screen.text, "the address is shut")


def test_its_pictures_are_taken_over_and_it_is_published(screen: Screen, app: Application, business: int) -> None:
    pictured = (number for number in ids_of(app) if app.get(f"/api/businesses/{number}/website/pictures")["waiting"])
    number = next(pictured)
    app.post(f"/api/businesses/{number}/website", {"by": "Bo"})
    screen.open(f"/businesses/{number}/website")
    screen.by_text("Pictures", "button").click()
    screen.by_text("Take over", "button").click()
    screen.until(lambda: screen.all("input[aria-label='What picture 1 shows']"), "a picture in its place")
    screen.one("input[aria-label='What picture 1 shows']").send_keys(" The harbour at dawn")
    screen.by_text("The owner agreed", "label").click()
    screen.until(lambda: "They are in the files for the host" in screen.text, "consent is noted")
    assert screen.faults() == []
    screen.by_text("Save", "section[aria-label='New website'] button").click()
    screen.until(lambda: app.get(f"/api/businesses/{number}/website")["site"]["pictures"], "it was saved")
    screen.until(lambda: not screen.by_text("Save", "button").is_enabled(), "the saved website is shown")
    assert screen.all("input[aria-label='What picture 1 shows']"), "one stays where one was"
    for shown in ("index", "about", "services"):
        screen.driver.get(f"{app.url}/api/businesses/{number}/website/preview/{shown}.html")
        assert screen.faults() == [], shown
    screen.open(f"/businesses/{number}/website")
    screen.by_text("Publish", "button").click()
    screen.by_text("Add a host", "button").click()
    screen.by_text("A folder of this machine", "label").click()
    screen.by_text("Name", "form[aria-label=Host] label").click()
    screen.driver.switch_to.active_element.send_keys("Our own server")
    screen.by_text("Folder", "form[aria-label=Host] label:last-of-type").click()
    screen.driver.switch_to.active_element.send_keys("websites")
    assert screen.faults() == []
    screen.by_text("Try and save", "button").click()
    screen.until(lambda: "Folder there" in screen.text, "the host was saved")
    screen.all("section[aria-label='New website'] button.bg-leaf")[-1].click()
    screen.until(lambda: "files written" in screen.text, "it was published")
    assert screen.faults() == []
    assert screen.complaints() == []
    there = app.folder / "deliveries" / "websites"
    (page,) = there.rglob("index.html")
    assert "The harbour at dawn" in page.read_text()
    assert list(there.rglob("*.avif"))


def test_won_by_a_proposal_accepted_on_a_phone(screen: Screen, app: Application, business: int) -> None:
    screen.open(f"/businesses/{business}")
    screen.by_text("Proposals").click()
    form = "form[aria-label=Proposal]"
    screen.one(f"{form} input[aria-label=Amount]").clear()
    screen.one(f"{form} input[aria-label=Amount]").send_keys("2400")
    screen.one(f"{form} textarea").send_keys("We begin in the first week of May.")
    assert screen.faults() == []
    screen.by_text("Save", f"{form} button").click()
    screen.by_text("Share it").click()
    address = screen.one("aside[aria-label=Proposals] p.break-all").text.partition(" ")[0]
    screen.until(
        lambda: screen.all("iframe[title='The proposal as its owner sees it']"), "the page as the owner sees it"
    )
    screen.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    try:
        screen.driver.get(address)
        assert "We begin in the first week of May." in screen.text
        assert screen.faults() == []
        assert screen.driver.execute_script("return document.documentElement.scrollWidth <= innerWidth")
        screen.one("input[name=name]").send_keys("Rosa Fern")
        screen.one("input[name=agreed]").click()
        screen.by_text("Accept the proposal", "button").click()
        screen.until(lambda: "Accepted by Rosa Fern" in screen.text, "the acceptance")
        assert screen.faults() == []
    finally:
        screen.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", DESKTOP)
    screen.open(f"/businesses/{business}/proposals")
    screen.until(lambda: "accepted by Rosa Fern" in screen.text, "who accepted it, and when")
    assert app.get(f"/api/businesses/{business}/call-sheet")["relationship"] == "client"
    assert screen.complaints() == []
