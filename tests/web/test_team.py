"""Two browsers as two people: the first account, an invitation, what a caller and a viewer see, who did what, and the way out."""

from collections.abc import Iterator

import pyotp
import pytest
from selenium.webdriver.common.keys import Keys

from tests.application import Application
from tests.conftest import VETS
from tests.team.person import PASSWORD
from tests.web.screen import Screen, start_browser

pytestmark = [pytest.mark.browser, pytest.mark.world]
SWEPT = VETS


@pytest.fixture(scope="module")
def other(app: Application) -> Iterator[Screen]:
    browser = start_browser()
    yield Screen(browser, app)
    browser.quit()


def fill(screen: Screen, **fields: str) -> None:
    """Type into fields by their labels (_ for a blank)."""
    for label, text in fields.items():
        path = f"//form//label[span[starts-with(normalize-space(), '{label.replace('_', ' ')}')]]//input"
        field = screen.until(lambda path=path: next(iter(screen.driver.find_elements("xpath", path)), None), label)  # type: ignore[misc]
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text)


def invite(screen: Screen, name: str, email: str, role: str) -> str:
    """Invite somebody on screen; return the link."""
    screen.open("/settings/team")
    screen.by_text("Invite somebody", "button").click()
    fill(screen, Name=name, **{"E-mail_address": email})
    screen.one("form select").send_keys(role)
    screen.by_text("Invite", "form button[type=submit]").click()
    return str(screen.until(lambda: next(iter(screen.all(".font-mono")), None), "the link").text)


def test_two_people_and_a_viewer(screen: Screen, other: Screen, app: Application) -> None:
    screen.open("/settings/team")
    fill(screen, Your_name="Ada Finch", Password=PASSWORD, **{"E-mail_address": "ada@wrenfold.example"})
    assert screen.faults() == []
    screen.by_text("Make my account", "button").click()
    screen.until(lambda: "Invite somebody" in screen.text, "the team")
    link = invite(screen, "Bo Reed", "bo@wrenfold.example", "Caller")
    assert screen.faults() == []

    other.open("/businesses")
    other.until(lambda: "Sign in" in other.text, "a stranger is asked who it is")
    assert other.faults() == []
    fill(other, Password="not-the-right-one", **{"E-mail_address": "bo@wrenfold.example"})
    other.by_text("Sign in", "form button[type=submit]").click()
    other.until(lambda: "password is wrong" in other.text, "refused")
    other.driver.get(link)
    fill(other, Password=PASSWORD)
    assert other.faults() == []
    other.by_text("Save and sign in", "button").click()
    other.until(lambda: other.total > 5, "Bo's table")
    assert not [button for button in other.all("button") if "Export" in button.text], "a caller exports nothing"
    other.open("/settings")
    other.until(lambda: "does not permit" in other.text, "no settings for a caller")

    screen.open("/settings/team")
    row = screen.until(
        lambda: next((one for one in screen.all("tbody tr") if "Bo Reed" in one.text), None), "Bo's line"
    )
    next(button for button in row.find_elements("css selector", "button") if button.text == "Edit").click()
    screen.one("form select").send_keys("Viewer")
    screen.by_text("Save", "form button[type=submit]").click()
    screen.until(lambda: "Viewer" in screen.one("tbody").text, "saved")
    other.open("/businesses")
    other.until(lambda: other.total > 5, "a viewer still sees the table")
    other.until(lambda: "Outreach" not in other.one("nav[aria-label=Places]").text, "but not Outreach")
    rows = other.until(lambda: other.all("[role=row] [role=gridcell]"), "rows")
    assert rows
    other.open(f"/businesses/{app_first(screen)}")
    other.until(lambda: "hidden: your account does not show them" in other.text, "no names and numbers")
    assert other.faults() == []

    screen.open("/settings/activity")
    screen.until(lambda: "Team: save account" in screen.text, "who did what")
    assert screen.faults() == []
    screen.complaints()


def app_first(screen: Screen) -> int:
    """A business, as the browser that is signed in gets it."""
    script = "const done = arguments[0]; fetch('/api/businesses?limit=1&columns=id').then(r => r.json()).then(p => done(p.rows[0][0]))"
    return int(screen.driver.execute_async_script(script))


def test_one_time_codes_a_token_and_the_way_out(screen: Screen, app: Application) -> None:
    screen.open("/settings/account")
    screen.by_text("Switch on", "button").click()
    picture = screen.one("img[alt^='To be scanned']")
    screen.until(lambda: picture.get_property("naturalWidth") > 50, "the picture is drawn")
    secret = screen.one(".font-mono").text
    fill(screen, The_six_digits=pyotp.TOTP(secret).now())
    screen.by_text("Switch on", "form button[type=submit]").click()
    screen.until(lambda: "recovery codes" in screen.text, "recovery codes, once")
    codes = screen.one(".font-mono").text.split()
    assert len(codes) == 10
    assert screen.faults() == []
    screen.by_text("I have it", "button").click()
    fill(screen, What_it_is_for="Our script")
    screen.by_text("Make a token", "button").click()
    screen.until(lambda: "acorn_" in screen.text, "the token, once")
    screen.by_text("Ada Finch", "button").click()
    screen.by_text("Sign out", "button").click()
    screen.until(lambda: screen.driver.title.startswith("Sign in"), "out")
    fill(screen, Password=PASSWORD, **{"E-mail_address": "ada@wrenfold.example"})
    screen.by_text("Sign in", "form button[type=submit]").click()
    fill(screen, **{"One-time_code": codes[0]})
    assert screen.faults() == []
    screen.by_text("Sign in", "form button[type=submit]").click()
    screen.until(lambda: "Your account" in screen.text, "in again, where she was")
