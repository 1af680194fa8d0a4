"""Relevance rules, relationships, and two runs side by side."""

from datetime import date
from math import inf
from typing import Any

import pytest

from openacorn.core.gather.bands import band
from openacorn.core.gather.compare_runs import Change, compare_runs, is_gone
from openacorn.core.match.relationship import identifiers_in, identifiers_of, relationship_among
from openacorn.core.match.relevance import RuleError, Rules, rejected_by, rules_of

FACTS: dict[str, Any] = {
    "name": "Harbour Boat Hire",
    "category": "Boat rental services",
    "reviews": 12,
    "rating": 4.1,
    "phone": "+61355501234",
    "staff_band": "5-9",
    "revenue_band": "250k-500k",
    "founded": "2026-03-02",
}
TODAY = date(2026, 11, 24)

REJECTED = [
    ("nothing", {}, ""),
    ("category says", {"category_never": ["boat rental"]}, "category says “boat rental”"),
    ("plural or singular", {"category_never": ["rental service"]}, "category says “rental service”"),
    ("words apart are no phrase", {"category_never": ["boat services"]}, ""),
    ("a phrase at the very end", {"pages_any": ["trips daily"]}, ""),
    ("longer than the text", {"name_never": ["harbour boat hire and more"]}, ""),
    ("category must say", {"category_has": ["boatyard", "shipwright"]}, "says none of boatyard, shipwright"),
    ("name", {"name_never": ["hire"]}, "name says “hire”"),
    ("few reviews", {"reviews_from": 20}, "reviews 12, under 20"),
    ("just enough reviews", {"reviews_from": 12}, ""),
    ("just few enough", {"reviews_to": 12}, ""),
    ("founded on that day", {"founded_from": "2026-03-02", "founded_to": "2026-03-02"}, ""),
    ("rating", {"rating_to": 4.0}, "rating 4.1, over 4"),
    ("unknown is not low", {"price_from": 2}, ""),
    ("chain", {"independent": True}, "part of a chain"),
    ("needs", {"needs": ["website"]}, "no website is listed"),
    ("lacks", {"lacks": ["phone"]}, "a phone is listed"),
    ("staff reach in", {"staff_from": 8}, ""),
    ("staff too many", {"staff_to": 4}, "staff 5-9, out of range"),
    ("revenue too small", {"revenue_from": 600_000}, "revenue 250k-500k, out of range"),
    ("revenue reaches in", {"revenue_to": 300_000}, ""),
    ("founded before", {"founded_from": "2026-04-01"}, "trading since 2026-03-02, before 2026-04-01"),
    ("founded after", {"founded_to": "2020-01-01"}, "trading since 2026-03-02, after"),
    ("new enough", {"new_weeks": 40}, ""),
    ("not new", {"new_weeks": 12}, "not new within 12 weeks"),
    ("pages never", {"pages_never": ["fishing trips"]}, "pages mention “fishing trips”"),
    ("pages any", {"pages_any": ["slipway", "moorings"]}, "pages mention none"),
    ("pages all", {"pages_all": ["fishing trips", "crew"]}, "pages do not mention “crew”"),
]


@pytest.mark.parametrize(("raw", "reason"), [case[1:] for case in REJECTED], ids=[case[0] for case in REJECTED])
def test_rules(raw: dict[str, Any], reason: str) -> None:
    pages = "We run Fishing trips daily."
    answer = rejected_by(rules_of(raw), FACTS, chain=True, today=TODAY, pages=pages)
    assert reason in answer if reason else answer == ""


def test_new_within_so_many_weeks_counts_the_day_itself() -> None:
    for today, rejected in ((date(2026, 5, 11), False), (date(2026, 5, 12), True)):  # 70 and 71 days after the founding
        assert bool(rejected_by(rules_of({"new_weeks": 10}), FACTS, chain=False, today=today, pages=None)) is rejected


def test_a_short_number_of_six_digits_is_a_phone() -> None:
    # ACMA numbering plan: 13 12 34 and the like are whole numbers
    assert [mark.value for mark, _ in identifiers_in("13 12 34", "AU")[0]] == ["+61131234"]


def test_pages_that_were_not_read_reject_nobody() -> None:
    rules = Rules(pages_all=("crew",), pages_any=("slipway",))
    assert rejected_by(rules, FACTS, chain=False, today=TODAY, pages=None) == ""


def test_what_is_not_known_rejects_nobody() -> None:
    rules = rules_of({"staff_from": 5, "revenue_from": 1e6, "founded_from": "2020-01-01", "new_weeks": 4})
    assert rejected_by(rules, {"name": "Kelp & Co"}, chain=False, today=TODAY) == ""


@pytest.mark.parametrize(
    ("text", "expected"),
    [("2-4", (2, 4)), ("20+", (20, inf)), ("1", (1, 1)), ("under 250k", (0, 250_000)), ("1m–5m", (1e6, 5e6)),
     ("5m+", (5e6, inf)), ("10,000 to 20,000", (10_000, 20_000)), ("a few", None), ("", None), ("$1.5m", (1.5e6, 1.5e6))],
)  # fmt: skip
def test_bands(text: str, expected: tuple[float, float] | None) -> None:
    assert band(text) == expected


@pytest.mark.parametrize(
    ("raw", "says"),
    [({"rating_from": 4, "rating_to": 3}, "nothing could pass"), ({"shoe": 1}, "no rule 'shoe'"), ({"founded_from": "last May"}, "founded_from: 'last May' is no date"), ({"new_weeks": 0}, "at least one week"), ({"needs": ["hat"]}, "no attribute 'hat'"), ({"needs": ["phone"], "lacks": ["phone"]}, "both required and excluded")],
)  # fmt: skip
def test_rules_that_make_no_sense_are_refused(raw: dict[str, Any], says: str) -> None:
    with pytest.raises(RuleError, match=says):
        rules_of(raw)


LIST = """harbourvets.example
https://www.gull.example/contact, 03 5550 7777
hello@heron.example
Anchor Florist, Gannet Bay
"Tide Optical";Larch Flat

somebody
"""


def test_a_relationship_list_is_read_line_by_line() -> None:
    marks, refused = identifiers_in(LIST, "AU")
    assert [(mark.identifier_type, mark.value) for mark, _ in marks] == [
        ("domain", "harbourvets.example"), ("domain", "gull.example"), ("phone", "+61355507777"), ("email", "hello@heron.example"),
        ("name", "anchor florist @ gannet bay"), ("name", "optical tide @ larch flat"),
    ]  # fmt: skip
    assert refused == ["somebody"]


@pytest.mark.parametrize(
    ("result", "expected"),
    [
        ({"website": "http://www.harbourvets.example/x"}, "client"),
        ({"phones": ["(03) 5550 7777"]}, "client"),
        ({"name": "The Anchor Florists Pty Ltd", "places": ["Gannet Bay"]}, "client"),
        ({"name": "Anchor Florist", "places": ["Port Ellery"]}, ""),
        ({"website": "harbourvets.example", "emails": ["no@no.example"]}, "refused"),  # the graver of two
        ({"website": "https://facebook.com/harbourvets"}, ""),
    ],
)
def test_a_business_is_recognised_by_any_of_its_marks(result: dict[str, Any], expected: str) -> None:
    known = {(mark.identifier_type, mark.value): "client" for mark, _ in identifiers_in(LIST, "AU")[0]}
    known["email", "no@no.example"] = "refused"
    assert relationship_among(identifiers_of("AU", **result), known) == expected


@pytest.mark.parametrize(
    ("seen", "closed", "cut", "gone"),
    [
        ([True, True], False, False, False),
        ([True, False], False, False, False),  # once is chance
        ([True, False, False], False, False, True),
        ([True, False, False], False, True, False),  # nobody knows what was cut off
        ([True, False, False, True], False, False, False),
        ([True], True, False, True),
    ],
)
def test_gone(seen: list[bool], closed: bool, cut: bool, gone: bool) -> None:
    assert is_gone(seen, closed=closed, cut_short=cut) is gone


def test_two_runs_side_by_side() -> None:
    before = {1: {"phone": "a", "rank": 3}, 2: {}, 3: {}}
    after = {1: {"phone": "b", "rank": 9}, 4: {}}
    assert compare_runs(before, after, frozenset({2})) == [
        Change("new", 4),
        Change("gone", 2),
        Change("changed", 1, "phone", "a", "b"),
    ]
