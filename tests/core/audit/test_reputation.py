"""What listings and social pages say of a name: each outcome of each check, and when listings differ."""

import dataclasses
from typing import Any

import pytest

from openacorn.core.audit.check import run_checks
from openacorn.core.audit.reputation import PROFILE, LocalRank, Reputation, SocialPage, differences
from openacorn.core.gather.listing import Listing

AT = "2026-09-01T00:00:00+00:00"
SAID = Reputation("s", AT, 40, 4.5, True, 9, (), PROFILE, 25, 0.6, 0.6, ("a", "b"), ())
PAGE = SocialPage("https://social.example/gull", AT, 120, "2026-08-20", False)

CASES: list[tuple[str, dict[str, Any], str]] = [
    ("claimed", {}, "ok"),
    ("claimed", {"claimed": False}, "gap"),
    ("claimed", {"claimed": None}, "unknown"),
    ("profile_complete", {}, "ok"),
    ("profile_complete", {"missing": ("hours",)}, "partial"),
    ("profile_complete", {"missing": ("hours", "phone", "photos")}, "gap"),
    ("profile_complete", {"photos": None, "missing": ("photos",)}, "unknown"),
    ("listing_photos", {"photos": 0}, "gap"),
    ("listing_photos", {"photos": 2}, "partial"),
    ("listing_photos", {"photos": None}, "unknown"),
    ("reviews_volume", {"reviews_rank": 0.1}, "gap"),
    ("reviews_volume", {"reviews_rank": 0.4}, "partial"),
    ("reviews_volume", {}, "ok"),
    ("reviews_volume", {"reviews_rank": None}, "unknown"),
    ("rating", {}, "ok"),
    ("rating", {"rating": 3.1}, "gap"),
    ("rating", {"rating": 4.0, "rating_rank": 0.3}, "partial"),
    ("rating", {"rating": 4.0, "rating_rank": 0.7}, "ok"),
    ("rating", {"rating": 1.0, "reviews": 2}, "unknown"),
    ("listings_agree", {}, "ok"),
    ("listings_agree", {"differences": ("phone: 1 (a) / 2 (b)",)}, "partial"),
    ("listings_agree", {"sources": ("a",)}, "not applicable"),
]
SOCIAL: list[tuple[str, dict[str, Any], str]] = [
    ("social_activity", {}, "ok"),
    ("social_activity", {"last_post": "2026-06-10"}, "partial"),
    ("social_activity", {"last_post": "2025-11-01T08:00:00Z"}, "gap"),
    ("social_activity", {"last_post": ""}, "unknown"),
    ("social_ads", {}, "gap"),
    ("social_ads", {"ads_running": True}, "ok"),
    ("social_ads", {"ads_running": None}, "unknown"),
]


@pytest.mark.parametrize(
    ("rank", "outcome", "value"), [(1, "ok", 1), (3, "ok", 3), (4, "partial", 4), (21, "gap", 21), (None, "gap", "beyond 60")]
)  # fmt: skip
def test_the_rank_in_local_search(rank: int | None, outcome: str, value: int | str) -> None:
    found = run_checks({LocalRank: LocalRank("s", AT, "vets", "Larch Flat", rank, 60)})
    assert (found["search_rank"].outcome, found["search_rank"].value) == (outcome, value)


@pytest.mark.parametrize(("check", "changes", "outcome"), CASES)
def test_reputation(check: str, changes: dict[str, Any], outcome: str) -> None:
    assert run_checks({Reputation: dataclasses.replace(SAID, **changes)})[check].outcome == outcome


@pytest.mark.parametrize(("check", "changes", "outcome"), SOCIAL)
def test_social_pages(check: str, changes: dict[str, Any], outcome: str) -> None:
    assert run_checks({SocialPage: dataclasses.replace(PAGE, **changes)})[check].outcome == outcome


def test_only_the_checks_that_the_evidence_is_about_are_answered() -> None:
    assert set(run_checks({SocialPage: PAGE})) == {"social_activity", "social_ads"}


def listing(source: str, **answer: Any) -> Listing:
    return Listing(source, "1", answer.pop("name", "Gull Vets"), **answer)


DIFFER = [
    ("the same", [listing("a", phone="(03) 5550 1234"), listing("b", phone="+61355501234")], 0),
    ("legal suffix", [listing("a"), listing("b", name="Gull Vets Pty Ltd")], 0),
    ("letters without their strokes", [listing("a", name="Sørland Vets"), listing("b", name="Sorland Vets")], 0),
    ("abbreviated", [listing("a", street="14 Mill Lane"), listing("b", street="14 Mill Ln")], 0),
    ("not given", [listing("a", phone="1"), listing("b")], 0),
    ("another number", [listing("a", phone="0355501234"), listing("b", phone="0355509999")], 1),
    (
        "another street and name",
        [listing("a", street="14 Mill Lane"), listing("b", name="Kelp", street="3 Quay Road")],
        2,
    ),
]


@pytest.mark.parametrize(("items", "count"), [case[1:] for case in DIFFER], ids=[case[0] for case in DIFFER])
def test_listings_differ_only_where_a_reader_would_say_so(items: list[Listing], count: int) -> None:
    assert len(differences(items)) == count
