"""Working the desk: triage by keyboard, a run stopped and resumed on screen, failures explained, the map moved."""

import sqlite3
import time
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from openacorn.api.pages import ASKED_FIRST
from tests.application import Application, application
from tests.conftest import Coast, circle
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
PLAN = {
    "trades": ["vets", "florists"],
    "areas": [circle(-37.02, 160.02, 6000.0)],
    "wanted": 0,
    "place": "Port Ellery",
}


@pytest.fixture(scope="module", autouse=True)
def swept(app: Application) -> None:
    app.wait_for_run(app.post("/api/sweeps", {"name": "Port Ellery", "plan": PLAN})["run_id"])


def cell(screen: Screen, row: int, column: int) -> str:
    shown = screen.all("[role=rowgroup] [role=row]")
    return str(shown[row].find_elements(By.CSS_SELECTOR, "[role=gridcell]")[column].text)


def panel_name(screen: Screen) -> str:
    return str(screen.one("aside[aria-label='Selected business'] h2").text)


def test_a_list_is_triaged_without_the_mouse(screen: Screen) -> None:
    screen.open("/businesses?sort=name")
    screen.until(lambda: screen.total > 30 and len(screen.all("[role=rowgroup] [role=row]")) > 10, "rows")
    names = [
        row["name"] if isinstance(row, dict) else row[1]
        for row in screen.app.get("/api/businesses?sort=name&limit=5")["rows"]
    ]
    screen.keys("j", Keys.ENTER)
    screen.until(lambda: panel_name(screen) == names[1], "the second business")
    screen.keys("j")
    screen.until(lambda: panel_name(screen) == names[2], "the panel follows")
    screen.keys("k", "k")
    screen.until(lambda: panel_name(screen) == names[0], "and back")
    assert "b=" in screen.driver.current_url
    screen.keys("x", "j", "x")
    screen.by_text("deselect 2")
    screen.keys("x")
    screen.by_text("deselect 1")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("aside[aria-label='Selected business']"), "closed")
    screen.keys("/")
    screen.keys("no such name anywhere")
    screen.until(lambda: "No business matches this filter" in screen.text, "an empty state")
    screen.by_text("Clear the filter").click()
    screen.until(lambda: screen.total > 30, "all rows again")


def test_an_address_opens_its_business_and_goes_on_from_there(screen: Screen) -> None:
    rows = screen.app.get("/api/businesses?sort=name&limit=6")["rows"]
    screen.open(f"/businesses?sort=name&b={rows[3][0]}")
    screen.until(lambda: panel_name(screen) == rows[3][1], "the business of the address")
    screen.until(
        lambda: "inset" in screen.one(f"[data-id='{rows[3][0]}']").value_of_css_property("box-shadow"),
        "the cursor on it",
    )
    screen.keys("j")
    screen.until(lambda: panel_name(screen) == rows[4][1], "the next one")


def test_columns_sort_both_ways_and_say_so(screen: Screen) -> None:
    screen.open("/businesses")
    screen.until(lambda: screen.total > 30 and len(screen.all("[role=rowgroup] [role=row]")) > 10, "rows")
    for expected in ("descending", "ascending"):
        screen.by_text("Score", "[role=columnheader] button").click()
        screen.until(lambda expected=expected: screen.all(f"[role=columnheader][aria-sort={expected}]"), expected)  # type: ignore[misc]
    assert "sort=score" in screen.driver.current_url


def test_facets_narrow_each_other_but_not_themselves(screen: Screen) -> None:
    screen.open("/businesses?trade=vets")
    screen.until(lambda: screen.total > 10, "vets")
    vets = screen.total
    assert screen.by_text("Florists", "aside button").text.split()[-1] != "0"  # still choosable
    screen.by_text("Tracking and ads", "aside button").click()
    screen.by_text("Analytics", "aside button").click()
    inside = screen.until(
        lambda: [e for e in screen.all("aside button[aria-pressed]") if e.text.startswith("gap")], "its outcomes"
    )[0]
    count = int(inside.text.split()[-1])
    inside.click()
    screen.until(lambda: screen.total == count, "the facet's own count")
    assert count < vets
    assert "Vets · Analytics: gap" in screen.text
    screen.driver.refresh()
    screen.until(lambda: screen.total == count, "the same after a reload")


def test_a_run_is_stopped_and_resumed_on_screen(screen: Screen) -> None:
    wide = {**PLAN, "trades": ["locksmiths", "opticians", "photographers"], "areas": [circle(-37.02, 160.02, 60_000.0)]}
    run_id = screen.app.post("/api/sweeps", {"name": "The coast", "plan": wide})["run_id"]
    screen.open(f"/sweeps/runs/{run_id}")
    screen.by_text("Pause").click()
    screen.until(lambda: "Stopped by you" in screen.text, "stopped")
    assert screen.faults() == []
    screen.by_text("Resume").click()
    screen.until(lambda: screen.app.get(f"/api/runs/{run_id}")["state"] == "running", "resumed")
    screen.app.wait_for_run(run_id)
    screen.until(lambda: "Finished" in screen.one("section[aria-label=Progress]").text, "finished")
    assert "nothing was cut off" in screen.text
    screen.open("/sweeps")
    screen.by_text("The coast", "a")
    screen.by_text("finished", "td")


def test_the_circle_is_moved_and_widened_on_the_map(screen: Screen) -> None:
    screen.open("/sweeps/new")
    radius = screen.one("input[aria-label='Radius in kilometres']")
    before = float(radius.get_attribute("value"))
    edge = screen.one("[title='Edge of the territory']")
    webdriver.ActionChains(screen.driver).click_and_hold(edge).move_by_offset(60, 0).move_by_offset(
        30, 0
    ).release().perform()
    screen.until(lambda: float(radius.get_attribute("value")) > before, "a wider circle")
    screen.by_text("Vets", "label").click()
    place = screen.one("input[aria-label='Search a place']")
    place.click()
    place.send_keys("Gannet")
    screen.by_text("Gannet Bay", "[role=option]").click()
    name = screen.one("input[aria-label='Name of the sweep']")
    screen.until(lambda: name.get_attribute("value") == "Gannet Bay: vets", "named after the place")
    ground = screen.one(".leaflet-container")
    webdriver.ActionChains(screen.driver).move_to_element_with_offset(ground, -250, -200).click().perform()
    screen.until(lambda: name.get_attribute("value") == "Circle: vets", "a circle that is no place's any more")
    slider = screen.one("input[aria-label='Radius by slider']")
    slider.send_keys(Keys.HOME)
    screen.until(lambda: float(radius.get_attribute("value")) == 0.5, "the slider's least")


def test_findings_open_to_their_evidence(screen: Screen) -> None:
    row = screen.app.get("/api/businesses?check.analytics=gap&limit=1")["rows"][0]
    screen.open(f"/businesses?b={row[0]}")
    summary = screen.until(
        lambda: next((e for e in screen.all("aside summary") if e.text.startswith("Analytics")), None), "the finding"
    )
    summary.click()
    panel = screen.one("aside[aria-label='Selected business']").text
    assert "tag that we know in" in panel or "has collected nothing since" in panel
    assert "Where each fact came from" in panel
    assert screen.complaints() == []


def test_a_source_that_is_not_there_is_explained_where_it_is_met(driver: Any, coast: Coast, tmp_path: Path) -> None:
    settings = coast.settings.model_copy(update={"sources": {}})
    with application(tmp_path, settings, coast.read("places.json")) as app:
        screen = Screen(driver, app)
        screen.open("/sweeps/new")
        screen.until(lambda: "It is not set up" in screen.one("form").text, "said beside the source")
        run_id = app.post("/api/sweeps", {"name": "In vain", "plan": PLAN})["run_id"]
        app.wait_for_run(run_id)
        screen.open(f"/sweeps/runs/{run_id}")
        screen.until(lambda: "Failed" in screen.text, "failed")
        assert "The listing service is not set up. Enter its address and key in Settings." in screen.text
        screen.by_text("Resume")


def test_an_application_that_is_gone_is_said_to_be(driver: Any, coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        screen = Screen(driver, app)
        screen.open("/offers")
        screen.by_text("New website", "nav button")
        app.end()
        screen.until(lambda: "not connected" in screen.text, "said so")
        app.start()
        screen.until(lambda: "not connected" not in screen.text, "and is back")
        time.sleep(0.2)
        driver.get_log("browser")  # the failed polls of this test are not the next one's


def test_what_the_table_asks_first_is_asked_once_and_before_its_code_is_there(screen: Screen) -> None:
    screen.open("/businesses")
    screen.until(lambda: len(screen.all("[role=rowgroup] [role=row]")) > 10, "rows")
    asked: list[list[Any]] = screen.driver.execute_script(
        "return performance.getEntriesByType('resource').map((e) => [e.name.slice(location.origin.length), e.startTime])"
    )
    code = next(start for name, start in asked if name.startswith("/assets/index-") and name.endswith(".js"))
    for address in ASKED_FIRST:
        starts = [start for name, start in asked if name == address]
        assert len(starts) == 1, f"{address} was asked for {len(starts)} times: its letters differ from the table's"
        assert starts[0] < code + 50, f"{address} waited for the code"


def test_an_old_address_leads_to_what_a_business_was_merged_into(screen: Screen) -> None:
    kept = screen.app.get("/api/businesses?columns=id,name&limit=1")["rows"][0]
    with closing(sqlite3.connect(screen.app.folder / "acorn.db")) as conn, conn:
        conn.execute("INSERT INTO business_gone (id, changed, kept_as) VALUES (99999, 1, ?)", (kept[0],))
    screen.open("/businesses/99999")
    screen.until(lambda: f"merged into another, {kept[1]}." in screen.one("[role=alert]").text, "what became of it")
    screen.one("[role=alert] a").click()
    screen.until(lambda: screen.one("article h1").text == kept[1], "the business that it is now")
    screen.open("/businesses/none")
    screen.by_text("There is no such business", "h1")
