"""Somebody asks to be erased: found on screen, erased, and gone from the business's panel."""

import pytest

from tests.application import Application
from tests.conftest import VETS
from tests.privacy.test_people_data_api import somebody
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
SWEPT = VETS


def test_one_person_is_found_and_erased(screen: Screen, app: Application) -> None:
    number, person = somebody(app)
    screen.open("/settings/people")
    emails, _, names = screen.until(lambda: screen.all("form[aria-label='One person'] input"), "the form")
    names.send_keys(person["name"].split()[0])
    screen.by_text("Find", "button").click()
    screen.until(lambda: "take out too much" in screen.text, "one word alone is refused")
    names.send_keys(f" {person['name'].split(maxsplit=1)[1]}")
    emails.send_keys(person["address"])
    screen.by_text("Find", "button").click()
    screen.until(lambda: "Contacts on a website" in screen.text, "where they stand")
    assert screen.faults() == []
    screen.by_text("Erase", "button").click()
    screen.by_text("Erase for good", "button").click()
    screen.until(lambda: "Erased in" in screen.text, "erased")
    assert "Backups made before today" in screen.text
    assert screen.faults() == []
    screen.open(f"/businesses/{number}")
    screen.until(lambda: "Ways to reach them" in screen.text, "the business is still there")
    assert person["name"] not in screen.text
    assert person["address"] not in screen.text
    assert screen.complaints() == []
