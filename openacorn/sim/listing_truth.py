"""The truth about each business's listings, from the coast's files alone. Only tests and benchmarks read it.

Nothing of the product's code is used: neighbours are counted by hand, thresholds are said again.
"""

import json
import math
from collections import defaultdict
from datetime import date
from pathlib import Path
from typing import Any

from openacorn.sim.truth import GAP, OK, PARTIAL, Answer

PEERS, MIN_PEERS, DOUBT = 25, 8, 3
"""DOUBT: pins are scattered, so which businesses are the nearest is only known to within so many of them."""

TOWN_M, SHOWN, FIRST_PAGE, CAP, STIR = 10_000.0, 3, 20, 60, 0.1
"""STIR: by how much the service stirs its order from one question to the next."""

Row = dict[str, Any]


def _metres(lat: float, lon: float, row: Row) -> float:
    north, east = row["location"]["lat"] - lat, row["location"]["lon"] - lon
    return 111_195 * math.hypot(north, east * math.cos(math.radians(lat)))


def _one(outcomes: set[str]) -> Answer | None:
    """The answer if there is only one; None if it depends on what cannot be known for certain."""
    return Answer(outcomes.pop()) if len(outcomes) == 1 else None


def _reviews(row: Row, of_trade: list[Row]) -> Answer | None:
    """The count against the nearest: a gap in the last quarter, partial in the lower half."""
    here = row["location"]
    others = sorted(
        (other for other in of_trade if other is not row), key=lambda other: _metres(here["lat"], here["lon"], other)
    )[:PEERS]
    if len(others) < MIN_PEERS:
        return None
    count = row["review_count"]
    below = (sum(other["review_count"] < count for other in others) - DOUBT) / len(others)
    not_above = (sum(other["review_count"] <= count for other in others) + DOUBT) / len(others)
    outcomes = {GAP if share < 0.25 else PARTIAL if share < 0.5 else OK for share in (below, not_above)}
    return _one(outcomes)


def _rating(row: Row) -> Answer | None:
    """Below 3.5 is low and from 4.2 good anywhere; in between the neighbours decide, which is not said again here."""
    if row["rating"] is None or row["review_count"] < 5 or 3.5 <= row["rating"] < 4.2:
        return None
    return Answer(GAP if row["rating"] < 3.5 else OK)


def _profile(row: Row) -> Answer:
    parts = ("phone", "website", "hours", "category", "photo_count")
    missing = sum(not row[part] for part in parts) + (not row["location"]["street"])
    return Answer(OK if missing == 0 else PARTIAL if missing < 3 else GAP)


def _rank(row: Row, of_trade: list[Row], towns: dict[str, tuple[float, float]]) -> Answer | None:
    """The place among those around the town's centre, best known first; None where stirring could move it across a bound."""
    lat, lon = towns[row["location"]["town"]]
    near = [other for other in of_trade if _metres(lat, lon, other) <= TOWN_M]
    if row not in near:
        return None
    own = row["prominence"]
    surely = sum(other["prominence"] > own * (1 + STIR) for other in near if other is not row)
    perhaps = sum(other["prominence"] * (1 + STIR) > own for other in near if other is not row)
    outcomes = {
        OK if place <= SHOWN else PARTIAL if place <= FIRST_PAGE else GAP for place in (surely + 1, perhaps + 1)
    }
    return _one(outcomes)


def _social(page: Row, asked: date) -> dict[str, Answer]:
    days = (asked - date.fromisoformat(page["last_post"])).days
    return {
        "social_activity": Answer(GAP if days > 180 else PARTIAL if days > 60 else OK),
        "social_ads": Answer(OK if page["ads_running"] else GAP),
    }


def reputation_truth(world: Path, asked: date) -> dict[int, dict[str, Answer]]:
    """Business id → check id → what is so, where the listing service and the social network were asked on a day; nothing of what is
    not certain.

    Only businesses of one listing: which of two is the fuller one is a matter of taste.
    """

    def read(name: str) -> Any:
        return json.loads((world / name).read_text(encoding="utf-8"))

    owners = read("truth.json")["listing_owner"]
    pages = {owners["social_pages"][page["id"]]: page for page in read("social.json")}
    towns = {place["name"]: (place["lat"], place["lon"]) for place in read("places.json")}
    by_business, by_trade = defaultdict(list), defaultdict(list)
    for row in read("listings.json"):
        owner = owners["listing_service"][row["id"]]
        if owner is not None:
            by_business[owner].append(row)
        if owner is not None and not row["permanently_closed"]:
            by_trade[row["_term"]].append(row)
    found: dict[int, dict[str, Answer]] = {}
    for business, own in by_business.items():
        (row, *more) = own
        if more or row["permanently_closed"] or row["category"] == "Point of interest":
            continue
        of_trade = by_trade[row["_term"]]
        photos = row["photo_count"]
        stated = {
            "claimed": Answer(OK if row["claimed"] else GAP),
            "listing_photos": Answer(GAP if photos == 0 else PARTIAL if photos < 5 else OK),
            "profile_complete": _profile(row),
            "rating": _rating(row),
            "reviews_volume": _reviews(row, of_trade),
            "search_rank": _rank(row, of_trade, towns),
        }
        if page := pages.get(business):
            # the coast's sources differ in spelling alone
            stated |= _social(page, asked) | {"listings_agree": Answer(OK)}
        found[business] = {check: answer for check, answer in stated.items() if answer is not None}
    return found
