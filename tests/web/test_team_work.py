"""A team's screens: passkeys by a device of the browser's, lists for some, one's own day, allowances, links that end, backups, conflicts."""

import json
import re
from typing import Any

import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.common.virtual_authenticator import Protocol, Transport, VirtualAuthenticatorOptions

from tests.application import Application
from tests.conftest import VETS
from tests.team.person import PASSWORD, Person, first_owner, invited
from tests.web.screen import Screen
from tests.web.test_team import fill

pytestmark = [pytest.mark.browser, pytest.mark.world]
SWEPT = VETS


@pytest.fixture(scope="module")
def ada(app: Application) -> Person:
    return first_owner(app)


@pytest.fixture(scope="module")
def bo(ada: Person) -> Person:
    return invited(ada, "bo@wrenfold.example", "Bo Reed", "manager")


def entered(screen: Screen, path: str) -> None:
    """Ada is signed in at a screen."""
    screen.open(path)
    screen.until(lambda: screen.all("input[type=password]") or "Ada Finch" in screen.text, "the door, or the screen")
    if screen.all("main input[type=password]") and "Sign in" in screen.driver.title:
        fill(screen, Password=PASSWORD, **{"E-mail_address": "ada@wrenfold.example"})
        screen.by_text("Sign in", "form button[type=submit]").click()
    screen.until(lambda: "Ada Finch" in screen.text, "signed in")


def test_a_passkey_instead_of_a_password(screen: Screen, ada: Person, app: Application) -> None:
    """Chromium's own authenticator, which asks for its holder; passkeys are for a name, so the screen is opened by one."""
    device = VirtualAuthenticatorOptions(
        protocol=Protocol.CTAP2,
        transport=Transport.INTERNAL,
        has_resident_key=True,
        has_user_verification=True,
        is_user_verified=True,
    )
    screen.driver.add_virtual_authenticator(device)
    here = app.url.replace("127.0.0.1", "localhost")
    screen.driver.get(f"{here}/settings/account")
    fill(screen, Password=PASSWORD, **{"E-mail_address": "ada@wrenfold.example"})
    screen.by_text("Sign in", "form button[type=submit]").click()
    screen.until(lambda: "Passkeys" in screen.text, "the account")
    fill(screen, Name_of_this_device="Ada's laptop", Your_password=PASSWORD)
    screen.by_text("Add a passkey", "button").click()
    screen.until(lambda: "Ada's laptop" in screen.one("section[aria-label='Your account']").text, "the passkey is kept")
    assert screen.faults() == []
    screen.by_text("Ada Finch", "button").click()
    screen.by_text("Sign out", "[role=menuitem]").click()
    screen.until(lambda: screen.driver.title.startswith("Sign in"), "out")
    assert screen.faults() == []
    screen.by_text("Use a passkey", "button").click()
    screen.until(lambda: "last used" in screen.text, "in again, with nothing typed")
    screen.driver.remove_virtual_authenticator()


def test_a_list_for_some_and_ones_own_day(screen: Screen, ada: Person, bo: Person) -> None:
    ids = [row[0] for row in ada.get("/api/businesses?columns=id&limit=6")["rows"]]
    number = ada.do("POST", "/api/shortlists", {"name": "Round the harbour"})["id"]
    entered(screen, "/settings/team")
    screen.by_text("Add a rule", "button").click()
    screen.by_text("Ada Finch", "section[aria-label=Assignment] label").click()
    assert screen.faults() == []
    screen.by_text("Save", "section[aria-label=Assignment] button").click()
    screen.until(lambda: ada.get("/api/assignment-rules")["rules"], "the rule is kept")
    ada.do("POST", f"/api/shortlists/{number}/members", {"ids": ids})
    ada.do(
        "POST",
        f"/api/shortlists/{number}/members/move",
        {"ids": ids[:2], "stage": "talking", "follow_up": "2020-02-01"},
    )
    screen.open(f"/outreach?shortlist={number}")
    screen.by_text("More", "button").click()
    screen.by_text("Who sees this list", "button").click()
    screen.until(lambda: "owners and managers, and:" in screen.text, "who sees it")
    screen.by_text("owners and managers, and:", "label").click()
    assert screen.faults() == []
    screen.by_text("Save", "section[aria-label='Who sees this'] button").click()
    screen.until(lambda: screen.all("nav [aria-label='not for everybody']"), "a lock beside its name")
    assert ada.get(f"/api/shortlists/{number}/sharing")["private"] is True
    screen.open("/outreach/my-day")
    screen.until(lambda: len(screen.all("section[aria-label=Due] li")) == 2, "what is due")
    assert len(screen.all("section[aria-label='New for you'] li")) == 4
    assert screen.faults() == []
    screen.one("section[aria-label=Due] li a").click()
    screen.until(lambda: "/outreach/call" in screen.driver.current_url, "the call sheet")


def test_an_allowance_is_set_and_said(screen: Screen, ada: Person) -> None:
    ada.ask("POST", "/api/businesses/export/csv")
    entered(screen, "/settings/spending")
    field = screen.until(lambda: next(iter(screen.all("[aria-label='Files a month, Ada Finch']")), None), "her limit")
    field.send_keys("1", Keys.ENTER)
    screen.until(lambda: screen.all("[aria-label='your allowance is nearly used up']"), "a mark at her name")
    assert screen.faults() == []
    screen.by_text("Ada Finch", "button").click()
    screen.until(lambda: "of 1 files taken out this month" in screen.text, "said in the menu")
    screen.open("/businesses")
    screen.until(lambda: screen.total > 5, "the table")
    screen.by_text("Export", "button").click()
    screen.until(lambda: screen.all("[role=dialog]"), "the dialog")
    screen.by_text("Export", "[role=dialog] button").click()
    screen.until(lambda: "Ask Ada Finch" in screen.text, "refused, with who can raise it")
    account = next(one["id"] for one in ada.get("/api/team")["people"] if one["name"] == "Ada Finch")
    ada.do("PUT", f"/api/spending/{account}", {})


def test_a_view_is_shared_by_a_link_that_ends(screen: Screen, ada: Person, app: Application) -> None:
    entered(screen, "/businesses?trade=vets")
    screen.until(lambda: screen.total > 5, "the table")
    screen.one("[aria-label='Share by a link']").click()
    screen.until(lambda: "by a link" in screen.text, "the dialog")
    heading = "//label[span[normalize-space()='Heading']]//input"
    screen.driver.find_element("xpath", heading).send_keys("Vets for our partner")
    assert screen.faults() == []
    screen.by_text("Make a link", "button").click()
    link = screen.until(lambda: next(iter(screen.all("[role=dialog] .font-mono")), None), "the link").text
    screen.driver.delete_all_cookies()
    screen.driver.get(link)
    screen.until(lambda: len(screen.all("tbody tr")) > 5, "the view, without an account")
    assert "Vets for our partner" in screen.text
    assert screen.faults() == []
    number = next(one["id"] for one in ada.get("/api/view-links")["links"] if one["name"] == "Vets for our partner")
    ada.do("DELETE", f"/api/view-links/{number}")
    screen.driver.refresh()
    screen.until(lambda: "good no more" in screen.text, "ended")


def test_more_tabs_than_a_browser_has_connections(screen: Screen, ada: Person) -> None:
    """Chromium has six to a server for all tabs together, and each tab follows what others change."""
    entered(screen, "/businesses")
    first = screen.driver.current_window_handle
    for number in range(8):
        screen.driver.switch_to.new_window("tab")
        screen.open("/businesses")
        screen.until(lambda: screen.total > 5, f"tab {number + 1}")
    for tab in screen.driver.window_handles:
        if tab != first:
            screen.driver.switch_to.window(tab)
            screen.driver.close()
    screen.driver.switch_to.window(first)
    screen.driver.refresh()
    screen.until(lambda: screen.total > 5, "the first tab")


def test_backups_and_everything_as_a_file(screen: Screen, ada: Person, app: Application, tmp_path: Any) -> None:
    entered(screen, "/settings/backups")
    screen.until(lambda: "Make a key first" in screen.text, "no key yet")
    screen.by_text("Make a key", "button").click()
    screen.until(lambda: "AGE-SECRET-KEY-" in screen.text, "the key, once")
    assert screen.faults() == []
    screen.by_text("I have it", "button").click()
    screen.by_text("Back up now", "button").click()
    screen.until(lambda: re.search(r"open-acorn-\d{4}.*\.zip\.age", screen.text), "a backup")
    assert len(list((app.folder / "acorn-backups").glob("*.age"))) == 1
    path = tmp_path / "kites.ndjson"
    head = {"open_acorn": 1, "made_at": "2026-11-30T09:00:00+00:00", "agency": "Ferris & Lund", "businesses": 1, "sources": {}, "trades": [], "relationships": []}  # fmt: skip
    listing = {
        "source": "x",
        "source_id": "1",
        "trade": "vets",
        "seen_at": "2026-11-30T09:00:00+00:00",
        "listing": {"name": "Kites of Kelpford"},
    }
    path.write_text(
        "\n".join(map(json.dumps, [head, {"business": {}, "listings": [listing]}, {"broken": 1}])), encoding="utf-8"
    )
    screen.one("input[type=file]").send_keys(str(path))
    screen.until(lambda: "1 businesses taken in, 1 of them new" in screen.text, "taken in")
    assert "line 3" in screen.text
    assert screen.faults() == []


def test_whose_change_stays_is_asked(screen: Screen, ada: Person, bo: Person) -> None:
    def changed(text: str) -> None:
        """Ada edits the agency's name while Bo saves another."""
        entered(screen, "/settings")
        field = screen.until(lambda: next(iter(screen.all("#set-agency")), None), "the field")
        bo.do("PUT", "/api/settings", {"values": {"agency": f"Bo's {text}"}})
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(f"Ada's {text}")
        screen.by_text("Save", "button[type=submit]").click()
        screen.until(lambda: "Bo Reed changed this meanwhile" in screen.text, "both are there")

    changed("first")
    assert screen.faults() == []
    screen.by_text("Take theirs", "button").click()
    screen.until(lambda: screen.one("#set-agency").get_property("value") == "Bo's first", "theirs")
    changed("second")
    screen.by_text("Keep mine", "button").click()
    screen.until(lambda: ada.get("/api/status")["agency"] == "Ada's second", "mine")
