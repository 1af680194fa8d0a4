"""From an empty folder to businesses on the table, without a terminal and without a file: set-up, settings, health."""

import json
from collections.abc import Iterator
from typing import Any

import pytest
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.application import Application
from tests.gather.api_servers import KEYS, service
from tests.gather.directory_servers import FIRMS, directory
from tests.web.screen import Screen
from tests.web.strangers import strangers

pytestmark = pytest.mark.browser


@pytest.fixture(scope="module")
def port() -> Iterator[int]:
    with strangers() as found:
        yield found


@pytest.fixture(scope="module")
def screen(driver: Any, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Screen]:
    app = Application(tmp_path_factory.mktemp("new") / "data")
    app.start()
    yield Screen(driver, app)
    driver.get("about:blank")
    driver.get_log("browser")
    app.end()
    assert "Traceback" not in app.log.read_text()


def enter(screen: Screen, css: str, text: str) -> None:
    box = screen.one(css)
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys(text or Keys.BACKSPACE)


def write(screen: Screen, label: str, text: str) -> None:
    """Fill the box that has a label."""
    path = f"//label[span[normalize-space()='{label}']]//input"
    box = screen.until(lambda: next(iter(screen.driver.find_elements("xpath", path)), None), label)
    box.send_keys(Keys.CONTROL, "a")
    box.send_keys(text)


def fees(app: Application) -> dict[str, float]:
    return {item["id"]: item["fee"] for item in app.get("/api/services")}


def step(screen: Screen, number: int) -> None:
    screen.until(lambda: f"Step {number} of 6" in screen.text, f"step {number}")
    assert screen.faults() == []


def test_an_empty_folder_opens_on_set_up_which_ends_in_a_first_sweep(screen: Screen, port: int) -> None:
    app = screen.app
    screen.begin()
    step(screen, 1)
    enter(screen, "#name", "Kestrel & Vale")
    enter(screen, "#email", "hello@kestrel.example")
    screen.by_text("Save and continue").click()

    step(screen, 2)
    town = screen.one("input[aria-label='Search a place']")
    town.send_keys("Hobart")
    screen.by_text("254,930", "[role=option]").click()  # of several of that name the largest
    screen.by_text("Save").click()
    screen.until(lambda: "AUD" in screen.text and "Australia/Hobart" in screen.text, "what follows of it")
    screen.by_text("Continue").click()

    step(screen, 3)
    enter(screen, "input[aria-label='Fee of New website']", "3100")
    screen.one("input[aria-label='A month of New website']").click()  # leaving the box keeps it
    screen.by_text("Home-page video", "label").click()
    screen.until(lambda: fees(app).get("new_website") == 3100, "the fee")
    screen.until(lambda: "home_video" not in fees(app), "what is not sold")
    screen.by_text("Continue").click()

    step(screen, 4)
    assert "one question at a time" in screen.text
    screen.by_text("Use it").click()
    screen.until(lambda: "It is set up" in screen.text, "the public service")
    screen.by_text("Continue").click()

    step(screen, 5)
    enter(screen, "[id='set-month_requests']", "2000")
    screen.by_text("Save and continue").click()
    step(screen, 6)
    kept = json.loads((app.folder / "settings.json").read_text())
    assert (kept["agency"], kept["contact_address"], kept["region"]) == (
        "Kestrel & Vale",
        "hello@kestrel.example",
        "AU",
    )
    assert (kept["sources"]["map_data"]["pace_s"], kept["month_requests"]) == (2.0, 2000)

    maps = f"maps.localhost:{port}"
    screen.open("/settings#trusted_hosts")
    enter(screen, "[id='set-trusted_hosts']", f"{maps}, petal.localhost:{port}")
    enter(screen, "[id='set-home']", "-36.905, 161.404")
    enter(screen, "[id='set-sources.map_data.endpoint']", f"http://{maps}/q")
    enter(screen, "[id='set-sources.map_data.pace_s']", "0.02")
    enter(screen, "[id='set-mail.port']", "many")
    assert screen.faults() == []
    screen.by_text("Save").click()
    screen.until(lambda: "This must be a whole number" in screen.text, "what is wrong")
    assert screen.one("[id='set-mail.port']").get_attribute("aria-invalid") == "true"
    enter(screen, "[id='set-mail.port']", "25")
    screen.by_text("Save").click()
    screen.until(lambda: app.get("/api/status")["home"] == [-36.905, 161.404], "the new home")
    screen.until(lambda: not screen.by_text("Save").is_enabled(), "nothing left to save")

    screen.one("button[aria-label='Test: Open map data']").click()
    screen.until(lambda: "It works" in screen.text, "a real answer")
    screen.open("/setup?step=6")
    step(screen, 6)
    screen.one("input[placeholder^='Search 4']").send_keys("florist")
    screen.by_text("Florists", "label").click()
    screen.until(lambda: "About" in screen.text, "an estimate")
    screen.by_text("Start the first sweep").click()
    screen.until(lambda: "/sweeps/runs/" in screen.driver.current_url, "the run")
    run = app.wait_for_run(int(screen.driver.current_url.rsplit("/", 1)[1]))
    assert (run["state"], run["why"]) == ("done", "")
    names = {row[0] for row in app.get("/api/businesses?limit=9&columns=name")["rows"]}
    assert {"Petal & Stem", "The Green Door"} <= names
    screen.open("/")
    screen.until(lambda: "/businesses" in screen.driver.current_url and "Petal & Stem" in screen.text, "the table")
    assert screen.clicks("from an empty folder to the first sweep's businesses") <= 30
    assert screen.complaints() == []


def test_health_says_what_is_missing_with_its_remedy(screen: Screen) -> None:
    screen.open("/settings/health")
    screen.until(lambda: "need you" in screen.text or "works." in screen.text, "what was found")
    assert screen.faults() == []
    assert "There is no backup yet" in screen.text
    assert "Source: Open map data" in screen.text
    assert "Answered with" in screen.text
    screen.open("/settings")
    screen.by_text("Health").click()
    screen.until(lambda: "/settings/health" in screen.driver.current_url, "the way there")


def test_a_json_service_is_added_from_its_documentation_and_swept(screen: Screen) -> None:
    app = screen.app
    with service("plover") as server:
        host = f"127.0.0.1:{server.server_port}"
        trusted = app.get("/api/settings")["sections"]
        kept = next(f["value"] for s in trusted for f in s["fields"] if f["name"] == "trusted_hosts")
        app.put("/api/settings", {"values": {"trusted_hosts": [*kept, host]}})
        screen.begin()
        screen.open("/sweeps/services")
        screen.by_text("Find the places")
        write(
            screen, "Address of a search", f"http://{host}/v2/nearby?centre=-36.905,161.404&km=7&what=florists&size=20"
        )
        write(screen, "Words in it", "florists")
        write(screen, "Its name there", "X-Plover-Key")
        write(screen, "Key", KEYS["plover"])
        assert screen.faults() == []
        screen.by_text("Find the places").click()
        # the service calls the token otherwise in its answer than where it takes it: the trial of the second page tells
        screen.until(lambda: "its paging is not right yet" in screen.text, "what is wrong")
        assert "Amber Amber Flowers 0" in screen.text
        assert screen.faults() == []
        write(screen, "Parameter that takes the token", "resume")
        screen.by_text("Ask again").click()
        screen.until(lambda: "20 further places" in screen.text, "the second page")
        write(screen, "Name", "Plover")
        screen.by_text("Save as a source").click()
        screen.until(lambda: any(item["title"] == "Plover" for item in app.get("/api/sources")), "a source")
        screen.open("/setup?step=6")
        screen.one("input[placeholder^='Search 4']").send_keys("florist")
        screen.by_text("Florists", "label").click()
        screen.until(lambda: "Plover" in screen.text and "About" in screen.text, "its place in the plan")
        screen.by_text("Start the first sweep").click()
        screen.until(lambda: "/sweeps/runs/" in screen.driver.current_url, "the run")
        run = app.wait_for_run(int(screen.driver.current_url.rsplit("/", 1)[1]))
        assert run["state"] == "done"
        assert run["held"] > 100  # past the service's cap of 60
        assert screen.clicks("from a service's documentation to a finished sweep") <= 10
    assert screen.complaints() == []


POINT = """
const frame = document.querySelector('iframe'), section = frame.closest('section');
const found = [...frame.contentDocument.querySelectorAll('*')].find(e => !e.childElementCount && e.textContent.trim() === arguments[0]);
section.scrollIntoView({block: 'center'});
const inside = found.getBoundingClientRect();
section.scrollTop = Math.max(0, inside.top - 150);
const outside = frame.getBoundingClientRect();
return [outside.left + inside.left + 4, outside.top + inside.top + inside.height / 2];
"""


def point(screen: Screen, text: str) -> None:
    """Click what shows a text on the page that lies in the frame."""
    shown = "return document.querySelector('iframe')?.contentDocument?.body?.innerText.includes(arguments[0])"
    screen.until(lambda: screen.driver.execute_script(shown, text), f"{text} in the frame")
    x, y = screen.driver.execute_script(POINT, text)
    moves = ActionBuilder(screen.driver)
    moves.pointer_action.move_to_location(int(x), int(y))
    moves.pointer_action.click()
    moves.perform()


def test_a_directory_is_pointed_at_with_mouse_and_keys_and_swept(screen: Screen) -> None:
    app = screen.app
    first = str(FIRMS[0]["name"])
    with directory("guildhall") as server:
        kept = next(
            f["value"]
            for s in app.get("/api/settings")["sections"]
            for f in s["fields"]
            if f["name"] == "trusted_hosts"
        )
        app.put("/api/settings", {"values": {"trusted_hosts": [*kept, f"127.0.0.1:{server.server_port}"]}})
        screen.begin()
        screen.open("/sweeps/directories")
        write(screen, "Address of a results page", server.url("/suche?was=florists&wo=Brindle+Quay"))
        write(screen, "Words you searched for", "florists")
        write(screen, "Place you searched", "Brindle Quay")
        screen.by_text("Find the list").click()
        recipe = screen.one("section[aria-label='Recipe']")
        screen.until(lambda: "Neues aus der Gilde 0" in recipe.text, "a list that is not the one meant")
        assert screen.faults() == []
        point(screen, first)
        screen.until(lambda: first in screen.one("section[aria-label='Rows found']").text, "the list pointed at")
        screen.by_text("The next page").click()
        point(screen, "weiter")
        screen.until(lambda: "seite=2" in recipe.text, "the next page")
        screen.by_text("A value").click()
        choose = Select(screen.driver.find_element("xpath", "//label[span='It is']//select"))
        choose.select_by_visible_text("the town")
        point(screen, "Brindle Quay")
        screen.until(lambda: "town" in screen.one("section[aria-label='Rows found'] thead").text, "the town")
        choose.select_by_visible_text("the link to its own page")
        pointer = screen.one("button[aria-label^='Point at the page']")
        pointer.send_keys(Keys.ARROW_DOWN, Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)  # the part that holds the firms
        pointer.send_keys(Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ENTER)
        screen.by_text("Read the first one").click()
        screen.until(
            lambda: str(FIRMS[0]["mail"]) in recipe.text and str(FIRMS[0]["phone"]) in recipe.text, "its own page"
        )
        assert screen.faults() == []
        write(screen, "Name", "Guildhall")
        screen.by_text("Save as a source").click()
        screen.until(lambda: any(item["title"] == "Guildhall" for item in app.get("/api/sources")), "a source")
        assert screen.clicks("from a results page to a source, pointed at") <= 20
        number = next(item["id"] for item in app.get("/api/sources") if item["title"] == "Guildhall")
        area = {"name": "Brindle Quay", "lat": -36.905, "lon": 161.404, "radius_m": 4000}
        plan = {"trades": ["florists"], "areas": [area], "sources": [number], "facts": []}
        run = app.wait_for_run(app.post("/api/sweeps", {"name": "Guild", "plan": plan})["run_id"])
        assert (run["state"], run["held"]) == ("done", len(FIRMS))
        emails = {row[0] for row in app.get("/api/businesses?limit=500&columns=email&state=all")["rows"]}
        assert {firm["mail"] for firm in FIRMS} <= emails
    assert screen.complaints() == []
