"""Matching beside the same sentences worked pair by pair in plain Python: no columns, no arrays, a dictionary a pair.

The similarities are those of the reference library (PyPI rapidfuzz) asked for two texts at a time; distances are those of
PyPI geographiclib; the weights' iteration follows Winkler 1988, cited in the code, with sums over pairs instead of patterns.
"""

import math
from collections import defaultdict
from itertools import combinations

import pytest
from geographiclib.geodesic import Geodesic
from hypothesis import given, settings
from hypothesis import strategies as st
from rapidfuzz import fuzz
from rapidfuzz.distance import JaroWinkler

from openacorn.core.gather.listing import Listing
from openacorn.core.geo.geodesy import Point, destination
from openacorn.core.match.cluster import cluster, likely_pairs
from openacorn.core.match.compare import LEVELS, SILENT, candidate_pairs, columns_of, compare
from openacorn.core.match.estimate import estimate
from openacorn.core.match.normalise import ListingRecord, block_keys, record_of
from openacorn.core.match.weights import SHIPPED, Model, probability
from openacorn.core.trades.catalogue import catalogue, is_trade

HERE = Point(-37.02, 160.02)
NAMES = ("Gull Vets", "Gul Vets", "Gull Veterinary Clinic", "The Vets", "Vet Clinic", "Gull & Heron Florist", "Heron Florist", "Gull Florist", "Anchor Boatyard", "Anchor Boat Yard", "Anchored Boats")  # fmt: skip
PHONES, TOWNS = ("", "(03) 5550 1234", "03 5550 9999"), ("", "Port Ellery", "Larch Flat", "Ellery")
SITES = ("", "gull.example", "heron.example", "facebook.com/gull", "facebook.com/heron")
STREETS = ("", "1 Salt Road", "3 Salt Rd", "Salt Road", "1 Mill Lane", "9 Miller Lane")
CATEGORIES = ("", "Florist", "Veterinarian", "Sail maker", "Sail loft", "Chandler")


@st.composite
def rows(draw: st.DrawFn) -> Listing:
    name, category, away = (
        draw(st.sampled_from(words)) for words in (NAMES, CATEGORIES, (None, 0, 60, 200, 900, 9000))
    )
    phone, site, street, town = (draw(st.sampled_from(words)) for words in (PHONES, SITES, STREETS, TOWNS))
    at = None if away is None else destination(HERE, 60, float(away))
    lat, lon = (at.lat, at.lon) if at else (None, None)
    return Listing(
        "s", "1", str(name), str(category), lat=lat, lon=lon, phone=phone, website=site, street=street, town=town
    )


def same(a: str, b: str) -> str | None:
    return None if not (a and b) else "same" if a == b else "other"


def name_level(a: ListingRecord, b: ListingRecord) -> str | None:
    if not (a.full and b.full):
        return None
    spelled = fuzz.ratio(a.letters, b.letters)
    whole, within = max(fuzz.ratio(a.full, b.full), spelled), fuzz.token_set_ratio(a.full, b.full)
    if not (a.core and b.core):
        return "general" if whole >= 86 or within == 100 else "unlike"
    if a.core == b.core:
        return "same" if whole >= 90 or within == 100 else "telling"
    if fuzz.ratio(a.core, b.core) >= 86 or whole >= 90:
        return "close"
    begins = JaroWinkler.normalized_similarity(a.letters, b.letters) >= 0.9
    return (
        "part" if begins or fuzz.token_set_ratio(a.core, b.core) >= 90 or fuzz.ratio(a.core, b.core) >= 70 else "unlike"
    )


def street_level(a: ListingRecord, b: ListingRecord) -> str | None:
    if not (a.street and b.street):
        return None
    if a.street != b.street and fuzz.partial_ratio(a.street, b.street) < 86:
        return "other"
    return "street" if not (a.number and b.number) else "same" if a.number == b.number else "number"


def place_level(a: ListingRecord, b: ListingRecord) -> str | None:
    if math.isnan(a.lat) or math.isnan(b.lat):
        apart = a.town and b.town and a.town != b.town and fuzz.token_set_ratio(a.town, b.town) < 100
        return "town" if apart else None
    away = Geodesic.WGS84.Inverse(a.lat, a.lon, b.lat, b.lon)["s12"]
    return "here" if away < 80 else "near" if away < 400 else "town" if away < 3000 else "far"


def category_level(a: str, b: str) -> str | None:
    if not (a and b) or a == b:
        return same(a, b)
    if is_trade(a) and is_trade(b):
        return "other"
    return None if not (is_trade(a) or is_trade(b)) and set(a.split()) & set(b.split()) else "words"


def levels_by_hand(a: ListingRecord, b: ListingRecord) -> dict[str, str | None]:
    return {
        "name": name_level(a, b), "phone": same(a.phone, b.phone), "email": same(a.email, b.email),
        "site": same(a.domain, b.domain) or same(a.page, b.page), "street": street_level(a, b),
        "place": place_level(a, b), "category": category_level(a.category, b.category),
    }  # fmt: skip


def most_by_hand(found: dict[str, str | None]) -> float:
    """What the rules of the match leave of a probability, as sentences."""
    most = 1.0
    unlike = found["name"] == "unlike" and found["site"] != "same" and found["email"] != "same"
    one_phone, elsewhere = found["phone"] == "same", found["street"] in ("number", "other") and found["place"] != "here"
    if unlike:
        one_house = one_phone and found["street"] == "same" and found["category"] == "same" and found["site"] != "other"
        most = 0.6 if one_house else 0.02
    if elsewhere:
        most = min(most, 0.6 if one_phone else 0.05)
        if one_phone and found["place"] in ("town", "far") and found["site"] == "same":
            most = min(most, 0.3)
    return min(most, 0.05) if found["place"] == "far" and not one_phone else most


def chance_by_hand(found: dict[str, str | None], model: Model) -> float:
    odds = math.log(model.prior / (1 - model.prior))
    for field, level in found.items():
        if level is not None:
            at = LEVELS[field].index(level)
            odds += math.log(model.m[field][at] / model.u[field][at])
    return min(1 / (1 + math.exp(-odds)), most_by_hand(found))


def records_of(listings: list[Listing]) -> list[ListingRecord]:
    return [record_of(number, row, "AU", catalogue()) for number, row in enumerate(listings)]


@settings(max_examples=150)
@given(st.lists(rows(), min_size=2, max_size=9))
def test_pairs_levels_and_chances_are_those_worked_by_hand(drawn: list[Listing]) -> None:
    records = records_of(drawn)
    meet = [(a.key, b.key) for a, b in combinations(records, 2) if block_keys(a) & block_keys(b)]
    left, right = candidate_pairs(records)
    assert list(zip(left.tolist(), right.tolist(), strict=True)) == meet
    levels = compare(columns_of(records), left, right)
    chances = probability(levels)
    for at, (a, b) in enumerate(meet):
        by_hand = levels_by_hand(records[a], records[b])
        ours = {
            field: None if levels[field][at] == SILENT else names[levels[field][at]] for field, names in LEVELS.items()
        }
        assert ours == by_hand, (drawn[a], drawn[b])
        assert chances[at] == pytest.approx(chance_by_hand(by_hand, SHIPPED), abs=1e-9)


def learnt_by_hand(pairs: list[dict[str, str | None]]) -> Model:
    model = SHIPPED
    for _ in range(30):
        sure = [chance_by_hand(found, model) if most_by_hand(found) >= 0.5 else 0.0 for found in pairs]
        m: dict[str, tuple[float, ...]] = {}
        u: dict[str, tuple[float, ...]] = {}
        for field, names in LEVELS.items():
            for table, shipped, doubles in ((m, SHIPPED.m, True), (u, SHIPPED.u, False)):
                seen: dict[str, float] = defaultdict(float)
                for found, chance in zip(pairs, sure, strict=True):
                    if (level := found[field]) is not None:
                        seen[level] += chance if doubles else 1 - chance
                total = sum(seen.values()) + 400
                table[field] = tuple((seen[name] + 400 * shipped[field][at]) / total for at, name in enumerate(names))
        after = Model(m, u, (sum(sure) + 400 * SHIPPED.prior) / (len(pairs) + 400))
        moved = max(abs(x - y) for field in LEVELS for x, y in zip(after.m[field], model.m[field], strict=True))
        model = after
        if moved < 1e-4:
            break
    return model


@settings(max_examples=25)
@given(st.lists(rows(), min_size=25, max_size=60))
def test_the_weights_learnt_are_those_summed_pair_by_pair(drawn: list[Listing]) -> None:
    records = records_of(drawn)
    left, right = candidate_pairs(records)
    levels = compare(columns_of(records), left, right)
    found = estimate(levels, 4000)
    theirs = learnt_by_hand([levels_by_hand(records[a], records[b]) for a, b in zip(left, right, strict=True)])
    assert found.prior == pytest.approx(theirs.prior)
    for field in LEVELS:
        assert found.m[field] == pytest.approx(theirs.m[field])
        assert found.u[field] == pytest.approx(theirs.u[field])


def test_too_few_listings_or_no_pairs_keep_the_shipped_weights() -> None:
    records = records_of([Listing("s", str(number), "Gull Vets", phone="03 5550 1234") for number in range(2)])
    left, right = candidate_pairs(records)
    levels = compare(columns_of(records), left, right)
    assert estimate(levels, 3999) is SHIPPED
    assert estimate(compare(columns_of(records), left[:0], right[:0]), 9000) is SHIPPED
    assert estimate(levels, 4000) is not SHIPPED


def test_nobody_at_all_is_no_fault() -> None:
    assert [len(side) for side in candidate_pairs([])] == [0, 0]
    assert [len(side) for side in candidate_pairs(records_of([Listing("s", "1", "")]))] == [0, 0]
    assert cluster([]).groups == ()


def test_a_pair_is_kept_at_the_least_and_those_apart_hold_nobody_else_back() -> None:
    records = records_of([Listing("s", str(n), "Harbour Vets", phone="(03) 5550 1234") for n in range(4)])
    ((_, _, chance), *_) = likely_pairs(records, 0.0)
    assert len(likely_pairs(records, chance)) == 6
    assert len(likely_pairs(records, chance + 1e-12)) == 0
    groups = cluster(records, apart=frozenset({(0, 1)})).groups
    assert sorted(map(len, groups)) == [1, 3]


@given(st.floats(-80, 80), st.floats(-179, 179), st.floats(0, 360), st.floats(0, 300), st.sampled_from((0.2, 1.0)))
def test_pins_next_to_each_other_meet_wherever_they_are(
    lat: float, lon: float, way: float, away: float, share: float
) -> None:
    near = destination(Point(lat, lon), way, away * share * math.cos(math.radians(lat)))
    one, other = records_of([Listing("s", str(n), "Gull", "", lat=at[0], lon=at[1]) for n, at in enumerate(((lat, lon), (near.lat, near.lon)))])  # fmt: skip
    assert {key for key in block_keys(one) if key.startswith("g")} & block_keys(other)


@pytest.mark.parametrize(
    ("raw", "expected"),
    [("5550 12", ""), ("5550 123", "5550123"), ("1111111", ""), ("1212121", ""), ("1212123", "1212123"), ("+99 1234567", "991234567"), ("03 5550 1234 ext 5", "+61355501234"), ("call us", "")],
)  # fmt: skip
def test_a_number_of_no_country_is_its_digits_if_they_can_be_one(raw: str, expected: str) -> None:
    region = "AU" if "ext" in raw else None
    assert record_of(1, Listing("s", "1", "Gull", phone=raw), region, catalogue()).phone == expected


@pytest.mark.parametrize(
    ("street", "town", "expected"),
    [
        ("14 Harbour Rd., Port Ellery", "Port Ellery", ("14", "harbour road")), ("Harbour Rd", "", ("", "harbour road")),
        ("14b Harbour Rd near the pier", "", ("14b", "harbour road")), ("Unit 3/14 First Ave", "", ("14", "1st avenue")),
        ("14-16 Salt Ln", "", ("14", "16 salt lane")), ("3rd Street", "", ("", "3rd street")), ("Twelfth St", "", ("", "12th street")),
    ],
)  # fmt: skip
def test_house_and_street(street: str, town: str, expected: tuple[str, str]) -> None:
    record = record_of(1, Listing("s", "1", "Gull", street=street, town=town), "AU", catalogue())
    assert (record.number, record.street) == expected
