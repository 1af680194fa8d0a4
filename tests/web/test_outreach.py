"""A shortlist worked on its board, by keys: moved, noted, followed up."""

import pytest
from selenium.webdriver.common.keys import Keys

from tests.application import Application
from tests.conftest import VETS
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
SWEPT = VETS


@pytest.fixture(scope="module")
def shortlist(app: Application) -> int:
    page = app.get("/api/businesses?trade=vets&sort=-value&limit=3")
    number = int(app.post("/api/shortlists", {"name": "Vets to call"})["id"])
    app.post(f"/api/shortlists/{number}/members", {"ids": [row[page["columns"].index("id")] for row in page["rows"]]})
    return number


def cards(screen: Screen, stage: str) -> list[str]:
    return [card.text.split("\n")[0] for card in screen.all(f"section[aria-label={stage}] [data-card]")]


def test_a_card_is_moved_and_worked_by_keys(screen: Screen, shortlist: int) -> None:
    screen.open(f"/outreach?shortlist={shortlist}")
    screen.until(lambda: len(cards(screen, "picked")) == 3, "three picked")
    screen.one("input[placeholder='your name']").send_keys("Ada")
    first = cards(screen, "picked")[0]
    screen.driver.execute_script("document.querySelector('section[aria-label=picked] [data-card]').focus()")
    screen.keys(Keys.ARROW_DOWN, Keys.ARROW_UP)
    for stage in ("contacted", "talking"):
        screen.keys(Keys.ARROW_RIGHT, held=Keys.SHIFT)
        screen.until(lambda stage=stage: cards(screen, stage) == [first], stage)  # type: ignore[misc]
        screen.until(lambda: first in screen.driver.switch_to.active_element.text, "the focus goes along")
    screen.keys(Keys.ENTER)
    panel = screen.one("aside[aria-label='Selected business']")
    assert first in panel.text
    screen.one("#owner").send_keys("Bo", Keys.ENTER)
    note = screen.one("textarea[aria-label='Add a note']")
    note.send_keys("Rings back on Monday")
    screen.by_text("Note it").click()
    steps = "ul[aria-label='Activity'] li"
    screen.until(lambda: "Rings back on Monday" in screen.all(steps)[0].text, "the note")
    assert [step.text.split("\n")[0] for step in screen.all(steps)] == [
        "Rings back on Monday", "now with Bo", "contacted → talking", "picked → contacted",
    ]  # fmt: skip
    assert all("Ada" in step.text for step in screen.all(steps))
    assert screen.faults() == []
    screen.by_text("Rows").click()
    screen.until(lambda: len(screen.all("tbody tr")) == 3, "the same as rows")
    assert screen.faults() == []
    assert screen.complaints() == []
    screen.driver.execute_script("localStorage.clear()")
