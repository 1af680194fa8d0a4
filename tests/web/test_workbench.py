"""The desk's journeys: a list triaged by keys alone, an angle built, a weight dragged, a cross-table opened, actions undone."""

import csv
import io
from typing import Any

import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.application import Application
from tests.conftest import circle
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
PLAN = {
    "trades": ["vets", "florists"],
    "areas": [circle(-37.02, 160.02, 6000.0), circle(-36.78, 160.205, 6000.0)],
    "sources": ["listing_service"],
}


@pytest.fixture(scope="module", autouse=True)
def swept(app: Application) -> None:
    app.wait_for_run(app.post("/api/sweeps", {"name": "Two towns", "plan": PLAN})["run_id"])


def rows_there(screen: Screen) -> None:
    screen.until(lambda: screen.total > 30 and len(screen.all("[role=rowgroup] [role=row]")) > 10, "rows")


def test_twenty_rows_are_triaged_by_keys_alone(screen: Screen) -> None:
    """Ten kept, ten passed over; one rejected with a reason and brought back; a note written on the way."""
    screen.open("/businesses?sort=-value")
    rows_there(screen)
    for number in range(20):
        screen.keys(*("x" if number % 2 == 0 else ""), "j")
    screen.by_text("deselect 10")
    screen.keys("s")
    screen.one("input[aria-label='Name of a new shortlist']").send_keys("Twenty", Keys.ENTER)
    screen.until(lambda: "Put 10 businesses on a shortlist" in screen.text, "ten on the list")
    assert next(item for item in screen.app.get("/api/shortlists") if item["name"] == "Twenty")["members"] == 10
    before = screen.total
    screen.keys("r")
    screen.until(lambda: screen.all("[role=menu]"), "the reasons")
    screen.keys(Keys.ARROW_DOWN, Keys.ENTER)
    screen.until(lambda: screen.total == before - 1, "one row fewer")
    assert "Rejected one business: not a fit" in screen.text
    screen.keys("u")
    screen.until(lambda: screen.total == before, "it is back")
    screen.keys("n")
    note = screen.until(lambda: next(iter(screen.all("textarea[data-note]")), None), "the note")
    screen.until(lambda: screen.driver.switch_to.active_element == note, "the cursor in it")
    note.send_keys("Ask for Petra", Keys.CONTROL, Keys.ENTER)
    screen.until(lambda: "Ask for Petra" in screen.one("section[aria-label=Notes] ul").text, "the note kept")
    assert screen.faults() == []


def test_an_angle_is_built_by_facets_and_counts_the_same_everywhere(screen: Screen) -> None:
    screen.open("/businesses")
    rows_there(screen)
    screen.by_text("email", "aside[aria-label=Filters] button").click()
    screen.until(lambda: "has=email" in screen.driver.current_url, "email")
    screen.driver.execute_script("arguments[0].focus()", screen.one("aside button[title=Vets]"))
    screen.one("[aria-label='must not be: Vets']").send_keys(Keys.ENTER)
    screen.until(lambda: "Email · no Vets" in screen.text, "the sentence")
    least = screen.one("input[aria-label='Reviews, least']")
    least.send_keys("5", Keys.ENTER)
    screen.until(lambda: "at least 5 reviews" in screen.text, "the range")
    count = screen.until(lambda: screen.total if screen.total > 0 else 0, "some")
    assert count == screen.app.get("/api/businesses?has=email&trade=!vets&reviews=5..&limit=1")["total"]
    screen.by_text("save this filter as an angle").click()
    screen.one("input[aria-label='Name of the angle']").send_keys("Florists with mail")
    Select(screen.one("select[aria-label='Service it sells']")).select_by_visible_text("Home-page video")
    screen.one("textarea[aria-label='Opening line']").send_keys("Your flowers would look good in motion.")
    screen.by_text("Keep").click()
    banner = screen.until(
        lambda: [e for e in screen.all("p") if "Your flowers would look good" in e.text], "the banner"
    )
    assert "sells home-page video" in banner[0].text
    own = screen.until(lambda: [e for e in screen.all("aside button") if "Florists with mail" in e.text], "in the list")
    assert own[0].text.split()[-1] == str(count)
    exported = screen.app.export_text("/api/businesses/export/csv?has=email&trade=!vets&reviews=5..&columns=name")
    assert len(list(csv.DictReader(io.StringIO(exported)))) == count
    # a clause is changed where it is read
    screen.by_text("at least 5 reviews", "p button").click()
    least = screen.one("[data-headlessui-state] input[aria-label='Reviews, least']")
    least.send_keys(Keys.CONTROL, "a")
    least.send_keys("9", Keys.ENTER)
    screen.until(lambda: "reviews=9" in screen.driver.current_url and screen.total < count, "fewer with more reviews")
    screen.driver.back()
    screen.until(lambda: screen.total == count, "as before")
    # a clause is taken away where it is read, and the back button brings it back
    screen.by_text("no Vets", "p button").click()
    screen.one("[aria-label='Remove: no Vets']").click()
    screen.until(lambda: screen.total > count, "more without it")
    screen.driver.back()
    screen.until(lambda: screen.total == count, "as before")
    assert screen.faults() == []


def test_of_two_clicks_quicker_than_the_answer_none_is_lost(screen: Screen) -> None:
    screen.open("/businesses")
    rows_there(screen)
    screen.driver.execute_script(
        "for (const name of ['email', 'mobile'])"
        " [...document.querySelectorAll('aside[aria-label=Filters] button')].find(b => b.title === name).click()"
    )
    screen.until(lambda: "has=email%2Cmobile" in screen.driver.current_url, "both")


def ranking(screen: Screen) -> list[str]:
    rows = (
        "return [...document.querySelectorAll('[data-testid=ranking] tbody tr')].slice(0, 10).map(row => row.innerText)"
    )
    return list(screen.driver.execute_script(rows))


def weigh(screen: Screen, check: str, keys: str, times: int) -> None:
    slider: Any = screen.one(f"input[aria-label='Weight of {check}']")
    slider.send_keys(*([keys] * times))


def test_a_weight_is_dragged_seen_cancelled_and_saved(screen: Screen) -> None:
    screen.open("/offers?service=local_listing")
    screen.until(lambda: len(ranking(screen)) == 10, "the ranking")
    before = ranking(screen)
    value = screen.app.get("/api/businesses?sort=-value&limit=50")["rows"]
    weigh(screen, "Listing claimed", Keys.ARROW_LEFT, 7)
    screen.until(lambda: "If you save this" in screen.text and ranking(screen) != before, "re-ranked")
    assert any("→" in row or "↑" in row or "↓" in row for row in ranking(screen))
    assert screen.app.get("/api/businesses?sort=-value&limit=50")["rows"] == value  # nothing is saved yet
    screen.by_text("Cancel").click()
    screen.until(lambda: ranking(screen) == before, "as it was")
    weigh(screen, "Listing claimed", Keys.ARROW_LEFT, 7)
    screen.until(lambda: ranking(screen) != before, "re-ranked again")
    screen.by_text("Save").click()
    screen.until(lambda: "Saved as version" in screen.text, "saved")
    screen.until(lambda: "in force" in screen.one("section[aria-label=Versions] li").text, "a version of its own")
    rule = next(s for s in screen.app.get("/api/services") if s["id"] == "local_listing")["rules"][0]
    assert (rule["check"], rule["weight"]) == ("claimed", 0.5)
    assert screen.faults() == []
    screen.by_text("Restore").click()
    screen.until(
        lambda: screen.app.get("/api/services/local_listing/versions")[0]["note"] == "as shipped again", "restored"
    )
    assert screen.complaints() == []


def test_a_cell_of_the_cross_table_opens_its_rows(screen: Screen) -> None:
    screen.open("/insight?rows=trade&columns=town&measure=count")
    cell = screen.until(lambda: screen.all("section[aria-label='The table'] tbody td a"), "cells")[0]
    count = int(cell.text.replace(",", ""))
    cell.click()
    screen.until(lambda: screen.total == count, "the rows behind it")
    assert "trade=" in screen.driver.current_url
    assert "town=" in screen.driver.current_url


def test_columns_are_chosen_ordered_and_remembered_and_two_sort(screen: Screen) -> None:
    screen.open("/businesses")
    rows_there(screen)
    screen.one("button[aria-label=Columns]").click()
    box = screen.until(lambda: [e for e in screen.all("label") if e.text.strip() == "Reach"], "the choice")[0]
    box.click()
    screen.keys(Keys.ESCAPE)

    def heads() -> list[str]:
        return [head.text for head in screen.all("[role=columnheader]")]

    screen.until(lambda: "Reach" in heads(), "the column")
    screen.driver.refresh()
    rows_there(screen)
    assert "Reach" in heads()
    screen.by_text("Town", "[role=columnheader] button").click()
    screen.driver.execute_script(
        "[...document.querySelectorAll('[role=columnheader] button')].find(b => b.textContent.startsWith('Score'))"
        ".dispatchEvent(new MouseEvent('click', {bubbles: true, shiftKey: true}))"
    )
    screen.until(lambda: "sort=town%2C-score" in screen.driver.current_url, "two columns")
    screen.driver.execute_script("localStorage.clear()")


def test_what_is_picked_is_laid_side_by_side_and_the_map_shows_the_same_selection(screen: Screen) -> None:
    screen.open("/businesses?trade=vets")
    rows_there(screen)
    total = screen.total
    screen.keys("x", "j", "x", "c")
    screen.until(lambda: "Differing findings" in screen.text, "side by side")
    screen.until(lambda: len(screen.all("thead th[scope=col]")) == 2, "both")
    screen.driver.back()
    rows_there(screen)
    screen.keys("m")
    screen.until(lambda: f"of {total} have a pin" in screen.text, "the map")
    first = screen.until(lambda: screen.all("ul[aria-label='The most valuable of them'] button"), "the list")[0]
    first.click()
    screen.one("aside[aria-label='Selected business'] h2")
    screen.keys("e")
    screen.until(lambda: screen.all("article h1"), "as a page of its own")
    assert screen.faults() == []
    assert screen.complaints() == []
