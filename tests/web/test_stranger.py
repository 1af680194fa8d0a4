"""A stranger's first hour: `./acorn serve` on an empty folder, with sources, files and websites that nobody here made."""

import csv
import io
import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit
from xml.etree import ElementTree

import openpyxl
import pytest
import vobject
import xlsxwriter
from selenium.webdriver.support.ui import Select

from tests.application import Application
from tests.web.screen import Screen
from tests.web.strangers import FIRMS, strangers

pytestmark = pytest.mark.browser
AREA = {"name": "Brindle Quay", "lat": -36.905, "lon": 161.404, "radius_m": 4000}
MOST_SCREENS = 75


@pytest.fixture(scope="module")
def port() -> Iterator[int]:
    with strangers() as found:
        yield found


@pytest.fixture(scope="module")
def app(port: int, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder = tmp_path_factory.mktemp("house") / "data"
    folder.mkdir()
    hosts = [f"{name}.localhost:{port}" for name in ("maps", "shed", "petal", "tidewater")]
    settings = {
        "agency": "Somebody's",
        "sources": {"map_data": {"endpoint": f"http://{hosts[0]}/q", "pace_s": 0.02}},
        "trusted_hosts": hosts,
    }
    (folder / "settings.json").write_text(json.dumps(settings))
    running = Application(folder)
    running.start()
    yield running
    running.end()
    log = running.log.read_text()
    assert "Traceback" not in log, log[-3000:]
    assert " 500 " not in log


@pytest.fixture(scope="module")
def screen(driver: Any, app: Application) -> Iterator[Screen]:
    yield Screen(driver, app)
    driver.get("about:blank")
    driver.get_log("browser")


def finished(screen: Screen) -> dict[str, Any]:
    """The run on the screen, once it has ended."""
    screen.until(lambda: "/sweeps/runs/" in screen.driver.current_url, "the run")
    return screen.app.wait_for_run(int(screen.driver.current_url.rsplit("/", 1)[1]))


def test_a_workbook_a_paste_and_addresses_come_in_and_the_country_is_asked_for_once(
    screen: Screen, port: int, tmp_path: Path
) -> None:
    book = tmp_path / "Kunden – clients.xlsx"
    rows = [
        ["Clients of 2026"],
        [],
        ["Firm", "Tel.", "Suburb", "Tel."],
        ["Café Müller", "(03) 7010 4460", "Brindle Quay", ""],
        ["Heron Upholstery", "03 7010 4461", "Brindle Quay", "n/a"],
    ]
    with xlsxwriter.Workbook(str(book)) as made:
        sheet = made.add_worksheet("All")
        for number, row in enumerate(rows):
            sheet.write_row(number, 0, row)
    screen.open("/sweeps/files")
    screen.one("input[type=file]").send_keys(str(book))
    screen.until(lambda: "2 rows above the headings are left out" in screen.text, "what is left out")
    assert screen.faults() == []
    Select(screen.one("select[aria-label='What Firm says']")).select_by_visible_text("name")
    start = screen.by_text("Import", "button")
    assert not start.is_enabled()
    label = screen.by_text("Country of numbers like “(03) 7010 4460”", "label")
    Select(label.find_element("css selector", "select")).select_by_visible_text("Australia")
    screen.until(start.is_enabled, "the country is set")
    start.click()
    assert finished(screen)["held"] == 2

    screen.open("/sweeps/files")
    screen.by_text("A pasted list", "label").click()
    screen.one("textarea").send_keys("Salt Road Vets\n03 7010 4470\n\nOrchard Dental\n9 Mill Lane, Brindle Quay\n")
    screen.by_text("Read it").click()
    screen.until(lambda: "Which column is which" in screen.text, "the columns")
    assert "Country of numbers" not in screen.text
    screen.by_text("Import", "button").click()
    assert finished(screen)["held"] == 2

    screen.open("/sweeps/files")
    screen.by_text("Websites", "label").click()
    screen.one("textarea").send_keys(f"http://petal.localhost:{port}/\nhttp://tidewater.localhost:{port}\n")
    screen.by_text("Read it").click()
    screen.by_text("Import", "button").click()
    run = finished(screen)
    assert (run["state"], run["why"], run["held"]) == ("done", "", 2)
    phones = {row[0] for row in screen.app.get("/api/businesses?limit=50&columns=phone")["rows"]}
    assert {"+61370104460", "+61370104461", "+61370104470"} <= phones
    assert screen.complaints() == []


def test_a_directory_is_found_in_its_page_and_swept_beside_map_data(screen: Screen, port: int) -> None:
    screen.open("/sweeps/directories")
    screen.by_text("Find the list")
    boxes = {
        label.text: label.find_element("css selector", "input, textarea, select") for label in screen.all("form label")
    }
    boxes["Address of a results page"].send_keys(f"http://shed.localhost:{port}/find?w=florists&in=Brindle+Quay")
    boxes["Words you searched for"].send_keys("florists")
    boxes["Place you searched"].send_keys("Brindle Quay")
    screen.by_text("Find the list").click()
    plan = screen.one("section[aria-label='Recipe']")
    screen.until(lambda: "Daisy & Son" in plan.text, "its rows")
    screen.by_text("Save as a source").click()
    screen.until(lambda: any(item["id"] == "directory:1" for item in screen.app.get("/api/sources")), "a source")
    sources = ["map_data", "directory:1"]
    plan_of = {"trades": ["florists", "vets"], "areas": [AREA], "sources": sources, "facts": ["website", "contacts"]}
    run = screen.app.wait_for_run(screen.app.post("/api/sweeps", {"name": "Quay", "plan": plan_of})["run_id"])
    assert (run["state"], run["why"]) == ("done", "")
    names = {row[0] for row in screen.app.get("/api/businesses?limit=99&columns=name")["rows"]}
    assert names >= {*FIRMS, "Brindle Quay Vets", "Petal & Stem", "The Green Door"}
    screen.open(f"/sweeps/runs/{run['id']}")
    screen.until(lambda: "Finished" in screen.text, "the run on the screen")
    assert screen.complaints() == []


def links(screen: Screen) -> set[str]:
    """Where the screen leads to, within the application."""
    found = screen.driver.execute_script(
        "return [...document.querySelectorAll('a[href]:not([download])')].map(a => a.href)"
    )
    own = {urlsplit(href) for href in found if href.startswith(screen.app.url)}
    return {f"{url.path}?{url.query}" if url.query else url.path for url in own if not url.path.startswith("/api/")}


def kind(path: str) -> str:
    """Screens that differ in a number or a filter's value alone are one kind."""
    return re.sub(r"=[^&]*", "=", re.sub(r"\d+", "N", path))


def test_every_screen_opens_and_every_link_leads_somewhere(screen: Screen) -> None:
    ahead, seen = ["/"], set[str]()
    while ahead and len(seen) < MOST_SCREENS:
        path = ahead.pop(0)
        if kind(path) in seen:
            continue
        seen.add(kind(path))
        screen.open(path)
        screen.until(lambda: len(screen.text) > 120 and "Loading" not in screen.text, path)
        screen.one("h1, h2")
        assert "went wrong" not in screen.text, path
        assert screen.complaints() == [], path
        ahead += sorted(links(screen))
    assert {"/sweeps", "/businesses", "/offers", "/outreach", "/insight", "/sweeps/files", "/sweeps/runs/N"} <= seen


def test_what_was_done_is_there_after_a_restart_and_leaves_in_every_format(screen: Screen) -> None:
    import pandas as pd

    app = screen.app
    before = app.get("/api/businesses?limit=99&columns=name,phone,town&sort=name")
    screen.driver.get("about:blank")  # so that no poll asks while nobody answers
    app.end()
    app.start()
    assert app.get("/api/businesses?limit=99&columns=name,phone,town&sort=name") == before
    assert app.get("/api/businesses/facets")["labels"]["source"]["file:1"] == "Kunden – clients"
    screen.open("/businesses?source=file:1")
    screen.until(lambda: screen.total == 2 and "Kunden – clients" in screen.text, "the import by its name")
    names = {row[0] for row in before["rows"]}
    bodies = {
        item["id"]: app.export(f"/api/businesses/export/{item['id']}?columns=name,phone,town")
        for item in app.get("/api/exports")["formats"]
    }
    assert {row["name"] for row in csv.DictReader(io.StringIO(bodies["csv"].decode("utf-8-sig")))} == names
    sheet = openpyxl.load_workbook(io.BytesIO(bodies["xlsx"])).active
    assert sheet is not None
    assert {row[0] for row in sheet.iter_rows(min_row=2, values_only=True)} == names
    assert {row["name"] for row in json.loads(bodies["json"])} == names
    assert {json.loads(line)["name"] for line in bodies["ndjson"].splitlines()} == names
    pinned = {item["properties"]["name"] for item in json.loads(bodies["geojson"])["features"]}
    assert {"Brindle Quay Vets", "The Green Door"} <= pinned <= names
    assert {card.fn.value for card in vobject.readComponents(bodies["vcard"].decode())} == names
    assert len(ElementTree.fromstring(bodies["xml"])) == len(before["rows"])
    assert set(pd.read_html(io.BytesIO(bodies["html"]))[0].iloc[:, 0].astype(str)) == names
    assert set(bodies) == {"csv", "xlsx", "json", "ndjson", "geojson", "vcard", "xml", "html"}
    assert screen.complaints() == []
