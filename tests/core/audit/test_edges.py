"""Readers at their edges: the last value that counts, and the first that does not."""

import pytest

from openacorn.core.audit.check import run_checks
from openacorn.core.audit.extract.people import find_people
from openacorn.core.audit.extract.phones import find_phones
from openacorn.core.audit.extract.socials import profile_of
from openacorn.core.audit.reputation import SocialPage
from tests.core.audit.reading import AT, judged, page

WORDS = "<p>" + "Kind care for cats and dogs since the beginning. " * 4 + "</p>"


@pytest.mark.parametrize(
    ("label", "booked"),
    [
        ("Book a time with us", True), ("Book a time with us now", False),  # five words are a label, six are a sentence
        ("Book a time with " + "x" * 33, True), ("Book a time with " + "x" * 34, False), ("", False),
    ],
)  # fmt: skip
def test_how_long_a_label_may_be(label: str, booked: bool) -> None:
    found = judged(f"{WORDS}<a href='/x'>{label}</a>")["booking"].outcome
    assert found == ("ok" if booked else "gap")


def test_fields_that_a_table_parted_from_their_form_are_its_own() -> None:
    broken = "<table><form action=/send><tr><td><input name=name><td><input name=email><td><textarea name=message></textarea><td><button>Send</button></form></table>"
    assert judged(WORDS + broken)["contact_form"].outcome == "ok"
    after = "<form action=/find></form><input name=q type=search><form action=/go><input name=a></form>"
    assert judged(WORDS + after)["contact_form"].outcome == "gap"


@pytest.mark.parametrize(("seconds", "sent"), [(0, True), (5, True), (6, False)])
def test_a_page_that_sends_its_visitors_on_does_so_soon(seconds: int, sent: bool) -> None:
    there = page(f'<meta http-equiv="refresh" content="{seconds}; url=/new">{WORDS}').refresh_to
    assert there == ("https://harbourvets.example/new" if sent else None)


def test_a_name_at_the_very_beginning() -> None:
    assert [(person.value, person.how) for person in find_people("Ada Gull, owner")] == [("Ada Gull", "owner")]
    far = "x" * 200 + " Ada Gull, owner " + "y" * 200
    assert [person.value for person in find_people(far)] == ["Ada Gull"]


@pytest.mark.parametrize(
    ("text", "region", "numbers", "open_ones"),
    [
        ("45908000", "DK", [], []),  # digits alone in their line, with nothing that groups them
        ("45 90 80 00", "DK", ["+4545908000"], []),
        ("Tel: 555 1234", "US", [], ["555 1234"]), ("(555) 123456789012", "US", [], ["(555) 123456789012"]),
        ("0000 00000 000000", "US", [], ["0000 00000 000000"]),
        ("12 34 56 78 90 12 34 56 78", "FR", [], []),
    ],
)  # fmt: skip
def test_which_digits_may_be_a_number(text: str, region: str, numbers: list[str], open_ones: list[str]) -> None:
    found, unread = find_phones(text, [], region)
    assert ([item.value for item in found], list(unread)) == (numbers, open_ones)


@pytest.mark.parametrize(
    ("address", "profile"),
    [
        ("https://facebook.com/pages", None), ("https://facebook.com/pages/Gull/123", ("facebook", "https://facebook.com/pages/Gull/123")),
        ("https://www.youtube.com/gullvets", ("youtube", "https://youtube.com/gullvets")), ("https://linkedin.com/gullvets", None),
        ("https://www.youtube.com/gullvets/about", None), ("https://linkedin.com/company/gull", ("linkedin", "https://linkedin.com/company/gull")),
    ],
)  # fmt: skip
def test_what_is_a_profile(address: str, profile: tuple[str, str] | None) -> None:
    found = profile_of(address)
    shown = None if found is None else (found[0], found[1].replace("www.", ""))
    assert shown == profile


def test_the_day_of_a_post_is_told_without_its_hour() -> None:
    posted = SocialPage("https://social.example/gull", AT, 12, "2026-08-20T08:00:00Z", False)
    assert (
        run_checks({SocialPage: posted})["social_activity"].evidence[0].snippet == "last post 2026-08-20, 12 followers"
    )
