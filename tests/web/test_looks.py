"""A sweep opens the sites of its best offers in a browser; table, panel and owners' pages show the pictures."""

import urllib.parse
import urllib.request
from typing import Any

import pytest
from selenium import webdriver

from tests.application import Application, application
from tests.conftest import Coast, circle
from tests.web.screen import Screen

pytestmark = [pytest.mark.world, pytest.mark.browser]
PLAN: dict[str, Any] = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 4000)], "sources": ["listing_service"]}


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Any:
    settings = coast.settings.model_copy(update={"browser_looks": 2})
    with application(tmp_path_factory.mktemp("looks"), settings, coast.read("places.json")) as running:
        yield running


def pictured(app: Application) -> list[int]:
    """Businesses with pictures of their sites, as the table has it."""
    page = app.get("/api/businesses?columns=id,pictured&limit=500")
    found = [row[0] for row in page["rows"] if row[1]]
    assert all(set(app.get(f"/api/businesses/{number}")["pictures"]) == {"desk", "phone"} for number in found)
    return found


def picture(url: str) -> bytes:
    with urllib.request.urlopen(url, timeout=30) as answer:
        assert answer.headers["Content-Type"] == "image/webp"
        return bytes(answer.read())


def test_the_best_offers_are_opened_and_the_next_time_the_next_best(app: Application) -> None:
    sweep = app.post("/api/sweeps", {"name": "Vets", "plan": PLAN})
    run = app.wait_for_run(sweep["run_id"])
    assert (run["state"], run["progress"]["looks_done"], run["progress"]["looks_left"]) == ("done", 2, 0), run["why"]
    seen = pictured(app)
    assert len(seen) == 2
    readable = "sort=-value&limit=500&check.answers=ok&check.real_site=ok,unknown"
    worth = app.get(f"/api/businesses?columns=id,value&{readable}")["rows"]
    least = min(value for number, value in worth if number in seen)
    # a look can change what an offer is worth a little; nobody else was worth clearly more
    assert [number for number, value in worth if value and value > 1.25 * least and number not in seen] == []
    for number in seen:
        business = app.get(f"/api/businesses/{number}")
        outcomes = {finding["check"]: finding["outcome"] for finding in business["findings"]}
        assert outcomes["overflow"] in {"ok", "gap", "unknown"}
        assert outcomes["load_measured"] != "unknown" or "browser" in str(business["findings"])
        history = app.get(f"/api/businesses/{number}/history")
        assert len(history["audits"]) == 1  # a look is no second audit
    again = app.wait_for_run(app.post(f"/api/sweeps/{sweep['sweep_id']}/runs")["run_id"])
    assert again["progress"]["looks_done"] == 2
    assert len(pictured(app)) == 4


def test_an_owners_page_shows_the_site_as_it_was_when_the_page_was_made(app: Application) -> None:
    (number, *_) = pictured(app)
    app.wait_for_run(app.post("/api/owner-pages", {"ids": [number], "share": True})["run_id"])
    page = app.get(f"/api/businesses/{number}/owner-page")
    token = page["address"].rpartition("/")[2]
    with urllib.request.urlopen(f"{app.owners_url}/o/{token}", timeout=30) as answer:
        shown = answer.read().decode()
    assert "How your website looks on a phone" in shown
    assert f'src="/o/{token}/phone.webp"' in shown
    body = picture(f"{app.owners_url}/o/{token}/phone.webp")
    assert body == picture(f"{app.url}/api/businesses/{number}/pictures/phone")
    assert body == picture(f"{app.url}/api/owner-pages/{page['id']}/phone.webp")
    app.wait_for_run(app.post("/api/audits", {"ids": [number], "rendered": True})["run_id"])
    app.wait_for_run(app.post("/api/owner-pages", {"ids": [number]})["run_id"])
    assert picture(f"{app.owners_url}/o/{token}/phone.webp") == body  # as it was shared, until it is shared again
    with urllib.request.urlopen(f"{app.url}/api/owner-pages/{page['id']}/pdf", timeout=120) as answer:
        assert answer.read(5) == b"%PDF-"


LOADED = "return [...document.querySelectorAll(arguments[0])].map((image) => image.complete && image.naturalWidth > 0)"


def test_the_table_and_the_panel_show_the_pictures(app: Application, driver: Any) -> None:
    (number, *_) = pictured(app)
    name = app.get(f"/api/businesses/{number}")["name"]
    screen = Screen(driver, app)
    screen.open(f"/businesses?q={urllib.parse.quote(name)}")
    site = screen.one(f"[role=row][data-id='{number}'] .decoration-dotted")
    webdriver.ActionChains(driver).move_to_element(site).perform()
    peek = f"body > div > div img[src*='/businesses/{number}/pictures/']"
    screen.until(lambda: driver.execute_script(LOADED, peek) == [True, True], "both pictures under the pointer")
    site.click()
    panel = "section[aria-label='The site'] img"
    screen.until(lambda: driver.execute_script(LOADED, panel) == [True, True], "both pictures in the panel")
    above = [screen.one(css).location["y"] for css in (panel, "section[aria-label='Findings']")]
    assert above == sorted(above)
    assert screen.faults() == []


def test_an_owner_sees_it_on_a_phone(app: Application, driver: Any) -> None:
    (number, *_) = pictured(app)
    size = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    try:
        driver.get(app.get(f"/api/businesses/{number}/owner-page")["address"])
        screen = Screen(driver, app)
        screen.until(lambda: driver.execute_script(LOADED, ".look img") == [True], "the picture")
        assert driver.execute_script("return document.documentElement.scrollWidth") <= 390
        assert screen.faults() == []
    finally:
        driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride", {**size, "width": 1280, "height": 800, "mobile": False}
        )
        driver.get("about:blank")
