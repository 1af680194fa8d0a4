"""Gathering in a browser: an outline of three sources planned and watched, a doubtful pair answered, a merge undone, a list brought in."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

from openacorn.db.database import Database
from openacorn.demo.agency import DIRECTORY_PLAN
from openacorn.gather.store import recipes
from tests.application import application
from tests.conftest import Coast, circle
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]


@pytest.fixture(scope="module")
def screen(driver: Any, coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Screen]:
    folder = tmp_path_factory.mktemp("gathering")
    database = Database(folder / "acorn.db")
    with database.write() as conn:
        recipes.insert_recipe(conn, DIRECTORY_PLAN, "now")
    database.close()
    settings = coast.settings.model_copy(update={"home": (-37.02, 160.02)})
    with application(folder, settings, coast.read("places.json")) as app:
        yield Screen(driver, app)
        driver.get("about:blank")  # its polls of an application that is gone are not the next test's
        driver.get_log("browser")


def test_an_outline_of_three_sources_is_planned_and_watched(screen: Screen) -> None:
    screen.open("/sweeps/new")
    for trade in ("Vets", "Locksmiths", "Photographers"):
        screen.by_text(trade, "label").click()
    for source in ("Open map data", "Tarrow Pages"):
        next(label for label in screen.all("label") if label.text.startswith(source)).click()
    screen.by_text("Draw an outline").click()
    ground = screen.one(".leaflet-container")
    for right, down in ((-250, -200), (250, -180), (200, 250), (-220, 200)):
        webdriver.ActionChains(screen.driver).move_to_element_with_offset(ground, right, down).pause(
            0.35
        ).click().perform()
    screen.by_text("Close the outline").click()
    area = screen.one("ul[aria-label='Areas of the sweep']")
    assert area.text.startswith("Outline")
    narrow = area.text
    screen.by_text("Wider").click()
    screen.until(lambda: screen.one("ul[aria-label='Areas of the sweep']").text != narrow, "a wider outline")
    screen.until(lambda: "asked" in screen.one("form").text, "what each source takes")
    assert screen.faults() == []
    screen.by_text("Start the sweep").click()
    progress = screen.until(lambda: screen.one("section[aria-label=Sources]"), "the lanes")
    assert {"Listing service", "Open map data", "Tarrow Pages"} <= {
        line.split("\n")[0] for line in progress.text.split("\n")
    }
    run_id = int(screen.driver.current_url.rsplit("/", 1)[1])
    run = screen.app.wait_for_run(run_id)
    tiles = screen.app.get(f"/api/runs/{run_id}/tiles")
    assert any(tile["full"] and tile["source"] == "listing_service" for tile in tiles), "a tile was split"
    screen.until(lambda: "in store of about" in screen.one("section[aria-label=Coverage]").text, "coverage")
    assert run["held"] > 100
    assert screen.faults() == []


def test_a_plan_survives_a_reload_is_saved_for_later_and_edited(screen: Screen) -> None:
    screen.open("/sweeps/new")
    screen.by_text("Florists", "label").click()
    name = screen.one("input[aria-label='Name of the sweep']")
    screen.until(lambda: name.get_attribute("value"), "a name made from what is chosen")
    name.send_keys(Keys.CONTROL, "a")
    name.send_keys("Florists of the bay")
    screen.driver.refresh()
    screen.until(
        lambda: screen.one("input[aria-label='Name of the sweep']").get_attribute("value") == "Florists of the bay",
        "the name after a reload",
    )
    screen.until(lambda: "asked" in screen.one("form").text, "an estimate: the trade is still chosen")
    screen.by_text("Save for later", "button").click()
    line = screen.until(
        lambda: next((row for row in screen.all("tbody tr") if "Florists of the bay" in row.text), None), "the sweep"
    )
    assert "never" in line.text
    next(link for link in line.find_elements("css selector", "a") if link.text == "Edit").click()
    screen.by_text("Vets", "label").click()
    assert screen.driver.title == "Edit a sweep – Open Acorn"
    assert screen.faults() == []
    screen.by_text("Save", "button:not([type=submit])").click()
    screen.until(
        lambda: any("Florists of the bay" in row.text and "Vets" in row.text for row in screen.all("tbody tr")),
        "the sweep with both trades",
    )
    screen.open("/sweeps/new")
    empty = screen.one("input[aria-label='Name of the sweep']").get_attribute("value")
    assert empty == "", "a saved draft is forgotten"


def test_a_doubtful_pair_is_answered_by_keyboard_and_a_merge_is_undone(screen: Screen) -> None:
    wide = {
        "trades": ["vets", "florists", "boatyards"],
        "areas": [circle(-37.0, 160.0, 70_000)],
        "sources": ["listing_service", "map_data", "social_pages", "directory:1"],
    }
    screen.app.wait_for_run(screen.app.post("/api/sweeps", {"name": "The coast", "plan": wide})["run_id"])
    before = screen.app.get("/api/duplicates")
    assert before["total"] > 0
    first = before["pairs"][0]
    screen.open("/sweeps/duplicates")
    screen.by_text("Same business?", "h1")
    screen.until(lambda: first["left"]["name"] in screen.text, "the first pair")
    assert screen.faults() == []
    screen.keys("o")
    screen.until(lambda: screen.app.get("/api/duplicates")["total"] < before["total"], "one pair less")
    kept = min(first["left"]["id"], first["right"]["id"])
    origins = screen.app.get(f"/api/businesses/{kept}/origins")
    assert len(origins["listings"]) > 1

    screen.open(f"/businesses?ids={kept}&b={kept}&state=all")
    panel = screen.one("section[aria-label='Where each fact came from']")
    screen.until(lambda: "Your decisions" in panel.text, "the decision")
    last = screen.all("section[aria-label='Where each fact came from'] input[type=checkbox]")[-1]
    last.click()
    screen.by_text("Split it off").click()
    screen.until(
        lambda: len(screen.app.get(f"/api/businesses/{kept}/origins")["listings"]) == len(origins["listings"]) - 1,
        "split",
    )


def test_a_field_is_corrected_in_the_panel_and_taken_back(screen: Screen) -> None:
    row = screen.app.get("/api/businesses?limit=1")["rows"][0]
    screen.open(f"/businesses?b={row[0]}")
    buttons = screen.until(lambda: screen.all("button[title='Edit']"), "facts")
    next(button for button in buttons if button.text == row[1]).click()
    box = screen.one("input[aria-label='Edit name']")
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys("Tide & Daughters", Keys.ENTER)
    screen.until(lambda: screen.app.get(f"/api/businesses/{row[0]}")["name"] == "Tide & Daughters", "corrected")
    screen.by_text("take back").click()
    screen.until(lambda: screen.app.get(f"/api/businesses/{row[0]}")["name"] == row[1], "taken back")


def test_a_directory_is_added_from_a_page_of_results(screen: Screen) -> None:
    screen.open("/sweeps/directories")
    screen.by_text("Find the list")
    boxes = {label.text: label.find_element("css selector", "input, textarea") for label in screen.all("form label")}
    boxes["Address of a results page"].send_keys("http://tarrowpages.example/search?what=boatyards&where=Port+Ellery")
    boxes["Words you searched for"].send_keys("boatyards")
    boxes["Place you searched"].send_keys("Port Ellery")
    screen.by_text("Find the list").click()
    plan = screen.until(lambda: screen.one("section[aria-label='Recipe']"), "a plan")
    assert "Rows found" in plan.text
    assert screen.one("section[aria-label='Recipe'] input").get_attribute("value") == "New directory"
    assert screen.faults() == []
    screen.by_text("Save as a source").click()
    screen.until(lambda: any(item["title"] == "New directory" for item in screen.app.get("/api/sources")), "a source")


def test_a_relationship_list_holds_a_business_back_and_a_pasted_list_comes_in(screen: Screen) -> None:
    row = next(row for row in screen.app.get("/api/businesses?limit=50")["rows"] if row[6])
    screen.open("/sweeps/relationships")
    screen.one("textarea").send_keys(f"{row[6]}\nsomebody")
    screen.by_text("Add").click()
    screen.until(lambda: "1 line could not be read" in screen.text, "what could not be read is left")
    assert screen.app.get("/api/relationships")["counts"] == {"client": 1}
    assert screen.faults() == []
    screen.open("/sweeps/files")
    screen.by_text("A pasted list", "label").click()
    screen.one("textarea").send_keys("Salt Road Vets\n(03) 5550 9876\n")
    screen.by_text("Read it").click()
    screen.until(lambda: "Which column is which" in screen.text, "the columns")
    assert screen.faults() == []
    screen.by_text("Import", "button").click()
    screen.until(lambda: "Finished" in screen.text, "imported")
    find = screen.one("input[aria-label='Find one business']")
    find.send_keys("salt raod vets")
    screen.by_text("Salt Road Vets", "[role=option]")


def test_pasted_towns_become_areas(screen: Screen, tmp_path: Path) -> None:
    screen.open("/sweeps/new")
    screen.by_text("Paste towns, import GeoJSON, keep for later", "summary").click()
    screen.one("details textarea").send_keys("Gannet Bay, 7840, Atlantis")
    screen.by_text("Add them").click()
    areas = screen.until(
        lambda: (
            len(screen.all("ul[aria-label='Areas of the sweep'] li")) == 2
            and screen.one("ul[aria-label='Areas of the sweep']")
        ),
        "two areas",
    )
    assert "Gannet Bay" in areas.text
    assert "7840" in areas.text
    assert "No place is known by this line" in screen.text
    assert screen.one("details textarea").get_attribute("value") == "Atlantis"
