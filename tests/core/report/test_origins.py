"""What an owner is shown of the data about them: every fact with whose word it is, in their order and language."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.languages.catalogue import LANGUAGES
from openacorn.core.report.letterhead import Letterhead
from openacorn.core.report.origins import FIELDS, HeldFact, origin_lines, origins_page

AT = "2026-11-29T10:00:00+00:00"
HEAD = Letterhead(name="Wrenfold Studio", email="hello@wrenfold.example")


def test_each_fact_once_in_order_and_what_the_website_shows_last() -> None:
    facts = [
        HeldFact("website", "https://gullhaven-vets.example", "Open map data", AT), HeldFact("name", "Gullhaven Vets", "Open map data", AT),
        HeldFact("phone", "+61355500100", "", AT), HeldFact("staff_band", "2-4", "Listing service", AT), HeldFact("town", "", "Listing service", AT),
    ]  # fmt: skip
    contacts = [
        ("phone", "+61355500100", "https://x.example/"),
        ("email", "hello@x.example", "https://x.example/contact"),
        ("social", "@x", "p"),
    ]
    lines = origin_lines(facts, contacts, "en")
    assert [(line.title, line.value, line.source, line.day) for line in lines] == [
        ("Name", "Gullhaven Vets", "Open map data", "29 November 2026"),
        ("Phone", "+61355500100", "A list of ours", "29 November 2026"),
        ("Website", "https://gullhaven-vets.example", "Open map data", "29 November 2026"),
        ("E-mail address", "hello@x.example", "https://x.example/contact", ""),
        ("Social page", "@x", "p", ""),
    ]


@pytest.mark.parametrize("language", LANGUAGES)
def test_in_every_language_nothing_is_left_in_english(language: str) -> None:
    facts = [HeldFact(field, "x", "", AT) for field in FIELDS]
    html = origins_page(HEAD, "Gullhaven Vets", origin_lines(facts, [], language), ["1"], token="t", language=language)
    english = (
        "What we hold about you",
        "Where it came from",
        "Your say",
        "A list of ours",
        "Opening hours",
        "Back to the page",
    )
    assert [words for words in english if words in html] == (list(english) if language == "en" else [])


@given(st.text(max_size=40), st.sampled_from(sorted(FIELDS)), st.text(max_size=40))
def test_whatever_is_held_is_text(value: str, field: str, source: str) -> None:
    """Markup in a listing's name or in the name of a source is shown, not carried out."""
    lines = origin_lines(
        [HeldFact(field, f"{value}<script>x</script>", f"{source}<img src=x>", AT)],
        [("email", "<b>", "javascript:x")],
        "en",
    )
    html = origins_page(HEAD, f"{value}<i>", lines, [], token='t"><script>', language="en")
    assert "<script" not in html
    assert "<img" not in html
    assert "<i>" not in html
