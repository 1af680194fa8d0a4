"""Messages, end to end on screen: three mailboxes, a sequence of four steps, ten days, what comes back, and an answer."""

from collections.abc import Iterator
from typing import Any

import pytest
from selenium.webdriver.support.ui import Select

from openacorn.sim.addresses import POST_HOST, POST_PASSWORD
from tests.application import Application, application
from tests.asking import ids_of, make_list
from tests.conftest import Coast, circle
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
PLAN = {
    "trades": ["vets", "opticians", "florists", "physiotherapists"], "areas": [circle(-37.02, 160.02, 60_000.0)],
    "sources": ["listing_service"], "facts": ["website", "contacts", "people", "mailboxes"],
}  # fmt: skip
LIST, TRIED = "To write to", "Bookings"


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    settings = coast.settings.model_copy(update={"time_zone": "Australia/Sydney"})
    with application(tmp_path_factory.mktemp("messages"), settings, coast.read("places.json")) as running:
        running.wait_for_run(running.post("/api/sweeps", {"name": "All", "plan": PLAN})["run_id"])
        make_list(running, LIST, ids_of(running))
        make_list(running, TRIED, ids_of(running, "offer=booking_shop"))
        yield running


def fill(screen: Screen, name: str, text: str) -> None:
    field = screen.one(f"#{name}")
    field.clear()
    field.send_keys(text)


def choose(screen: Screen, css: str, text: str) -> None:
    screen.until(lambda: any(option.text.startswith(text) for option in Select(screen.one(css)).options), text)
    box = Select(screen.one(css))
    box.select_by_visible_text(next(option.text for option in box.options if option.text.startswith(text)))


def add_mailboxes(screen: Screen) -> None:
    screen.open("/outreach/mailboxes")
    screen.until(lambda: "No mailbox yet" in screen.text, "an empty list that says what to do")
    for name in ("ada", "ines", "tomas"):
        screen.by_text("Add a mailbox").click()
        for field, text in (("address", f"{name}@wrenfold.example"), ("name", name.title()), ("smtp_host", POST_HOST),
                            ("imap_host", POST_HOST), ("password", POST_PASSWORD), ("daily_limit", "9")):  # fmt: skip
            fill(screen, field, text)
        assert screen.faults() == []
        screen.one("form[aria-label=Mailbox] button[type=submit]").click()
        screen.by_text(f"{name}@wrenfold.example", "strong")
    screen.by_text("Test sign-in").click()
    screen.until(lambda: "Sending and reading work." in screen.text, "a sign-in that works")
    fill(screen, "by-hand", "0")
    fill(screen, "post-address", "4 Harbour Road, Port Ellery")
    screen.one("form[aria-label='Rules for sending'] button[type=submit]").click()
    screen.until(lambda: "Saved." in screen.text, "the rules")
    assert POST_PASSWORD not in screen.driver.page_source


def try_a_template(screen: Screen) -> None:
    screen.open("/outreach/templates")
    screen.until(lambda: "name of the person who writes" in screen.text, "what is missing for everybody")
    screen.one("nav[aria-label=Outreach] label input").send_keys("Ada Wren")
    screen.open("/outreach/templates?kind=email&id=booking_shop/email/first-note")
    choose(screen, "select[aria-label='List to preview with']", TRIED)
    screen.until(lambda: screen.all("aside[aria-label=Preview] button[title]"), "a sentence that names its finding")
    assert " get it" in screen.one("aside[aria-label=Preview]").text
    titles = [button.get_attribute("title") or "" for button in screen.all("aside[aria-label=Preview] button[title]")]
    assert any("http" in title for title in titles)
    text = screen.one("textarea[aria-label=Text]")
    text.send_keys("\n{{ nonsense }}")
    screen.until(lambda: "there is no fact 'nonsense'" in screen.text.lower(), "an error in words")
    assert screen.faults() == []


def make_a_sequence(screen: Screen) -> None:
    screen.open("/outreach/sequences")
    screen.by_text("New sequence").click()
    screen.one("form input:not([type])").send_keys("Four steps")
    for _ in range(3):
        screen.by_text("Add a step").click()
    choose(screen, "select[aria-label='Kind of step 3']", "Task: call")
    days = screen.one("input[aria-label='Days before step 2']")
    days.clear()
    days.send_keys("2")
    assert screen.faults() == []
    screen.by_text("Save").click()
    screen.by_text("Four steps", "a").click()
    screen.by_text("Add businesses").click()
    choose(screen, "section[aria-label='Add businesses'] select", LIST)
    screen.until(lambda: "can be added" in screen.text and "are left out" in screen.text, "who is taken and who is not")
    screen.one("section[aria-label='Add businesses'] button:not(:disabled)").click()
    screen.until(lambda: not screen.all("section[aria-label='Add businesses']"), "the list put in")
    screen.until(lambda: len(screen.all("tbody tr")) >= 40, "forty businesses on their way")
    assert screen.faults() == []


def two_at_one_message(screen: Screen) -> None:
    """Somebody else changes a message that is being edited: nothing is overwritten, and both texts can be kept."""
    screen.open("/outreach/queue")
    screen.until(lambda: screen.all("tbody tr td button"), "a message that waits")
    number = screen.app.get("/api/queue")["lines"][0]["id"]
    screen.one("tbody tr td button").click()
    screen.by_text("Edit", "aside[aria-label=Message] button").click()
    text = screen.until(lambda: next(iter(screen.all("aside textarea[aria-label=Text]")), None), "its text")
    theirs = screen.app.get(f"/api/messages/{number}")
    body = {"subject": theirs["subject"], "text": f"{theirs['text']}\n\nTheirs was quicker.", "language": ""}
    screen.app.put(f"/api/messages/{number}", body)
    text.send_keys("\n\nMine came later.")
    screen.by_text("Save", "aside[aria-label=Message] button").click()
    screen.until(lambda: "changed this meanwhile" in screen.text, "it is said")
    assert "Mine came later" not in screen.app.get(f"/api/messages/{number}")["text"]
    assert screen.faults() == []
    screen.by_text("Put both into the text", "button").click()
    screen.until(lambda: "Theirs was quicker" in str(text.get_property("value")), "both are in the box")
    screen.by_text("Save", "aside[aria-label=Message] button").click()
    screen.until(lambda: screen.all("aside[aria-label=Message] h2"), "saved")
    kept = screen.app.get(f"/api/messages/{number}")["text"]
    assert "Theirs was quicker" in kept
    assert "Mine came later" in kept


def let_days_pass(screen: Screen) -> None:
    screen.open("/outreach/queue")
    screen.until(lambda: "Waiting" in screen.text, "the queue")
    screen.by_text("demo data").click()
    screen.by_text("Let a day pass", "[role=menuitem]").click()
    screen.until(lambda: "time is passing" in screen.text, "time that passes")
    screen.until(lambda: "time is passing" not in screen.text, "a day later")
    for _ in range(9):
        screen.app.post("/api/demo/hours?hours=24")
    screen.open("/outreach/queue?show=sent")
    screen.until(lambda: len(screen.all("tbody tr")) > 60, "what was sent")
    screen.one("tbody tr td button").click()
    screen.until(lambda: screen.all("aside[aria-label=Message] h2"), "a message")
    assert screen.faults() == []


def answer_somebody(screen: Screen) -> dict[str, Any]:
    arrived = screen.app.get("/api/inbox")["arrived"]
    reply = next(item for item in arrived if item["kind"] == "reply" and not item["done"])
    screen.open("/outreach/inbox")
    screen.by_text(reply["business"], "button").click()
    screen.until(lambda: len(screen.all("section[aria-label=Conversation] ol li")) >= 2, "the conversation")
    assert screen.faults() == []
    screen.one("#answer").send_keys("Gladly. Does Thursday at ten suit you?")
    screen.by_text("Send", "section[aria-label=Conversation] button").click()
    screen.until(lambda: "Thursday at ten" in screen.one("section[aria-label=Conversation] ol").text, "the answer")
    found: dict[str, Any] = reply
    return found


def test_from_three_mailboxes_to_an_answer(screen: Screen) -> None:
    add_mailboxes(screen)
    try_a_template(screen)
    make_a_sequence(screen)
    two_at_one_message(screen)
    let_days_pass(screen)
    reply = answer_somebody(screen)
    board = screen.app.get("/api/shortlists/1/board")["members"]
    assert next(m["stage"] for m in board if m["id"] == reply["business_id"]) == "talking"
    assert [text for text in screen.complaints() if "412" not in text] == [], "but for the conflict that was wanted"
