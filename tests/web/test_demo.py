"""What only the demo has: its menu, the tour in the order of work, the way out."""

import pytest
from selenium.webdriver.common.keys import Keys

from tests.application import Application
from tests.conftest import circle
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
STOPS = (
    ("Gather", "/sweeps"),
    ("Choose", "/businesses"),
    ("Check", "/businesses?b="),
    ("Work a list", "/outreach"),
    ("Show the findings", "/outreach/pages"),
    ("Learn", "/offers/winning"),
    ("See the whole", "/insight"),
)


@pytest.fixture(scope="module", autouse=True)
def swept(app: Application) -> None:
    plan = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 3000.0)], "facts": []}
    app.wait_for_run(app.post("/api/sweeps", {"name": "Port Ellery", "plan": plan})["run_id"])


def test_the_tour_goes_round_in_the_order_of_work_by_the_keyboard_alone(screen: Screen) -> None:
    screen.open("/")
    screen.by_text("demo data").send_keys(Keys.ENTER)
    screen.by_text("Take the tour", "[role=menuitem]").click()
    for number, (title, path) in enumerate(STOPS, 1):
        tour = screen.one("[aria-label=Tour]")
        screen.until(lambda t=tour, w=title: w in t.text, title)  # type: ignore[misc]
        screen.until(lambda p=path: p in screen.driver.current_url, path)  # type: ignore[misc]
        assert f"{number} of {len(STOPS)}" in tour.text
        if number < len(STOPS):
            screen.driver.switch_to.active_element.send_keys(Keys.ENTER)  # the focus is on Next
    assert screen.complaints() == []
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("[aria-label=Tour]"), "over")
    assert not screen.all(".toured")
    assert screen.faults() == []


def test_an_application_that_is_no_demo_cannot_be_left(screen: Screen) -> None:
    """This one has the coast's servers, but was not started as the demo."""
    screen.open("/sweeps")
    screen.by_text("demo data").click()
    screen.by_text("Start over with nothing", "[role=menuitem]").click()
    screen.until(lambda: "this is not the demo" in screen.text.lower(), "said so")
    assert screen.app.get("/api/status")["demo"]


def test_a_screen_that_an_update_has_taken_away_asks_to_be_reloaded(screen: Screen) -> None:
    """Its part of the application has another name since: trying again would never help."""
    screen.open("/sweeps")
    screen.driver.execute_cdp_cmd("Network.enable", {})
    screen.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/assets/Insight-*"]})
    screen.one("a[href='/insight']").click()
    screen.until(lambda: "Open Acorn was updated" in screen.text, "what to do")
    assert screen.faults() == []
    screen.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
    screen.by_text("Reload").click()
    screen.until(lambda: "Value by town" in screen.text, "the screen")
    screen.driver.get_log("browser")
