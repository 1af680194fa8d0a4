"""Which listings are one business, and that the answer does not hang on their order."""

import random

import numpy as np
import pytest
from geographiclib.geodesic import Geodesic
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.match import pair_figures, restaurant_figures
from bench.noisy_listings import EASY, HARD, noisy_listings
from openacorn.core.gather.file_columns import read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.geo.geodesy import Point, destination
from openacorn.core.match.cluster import cluster, likely_pairs, match_all
from openacorn.core.match.compare import columns_of, metres
from openacorn.core.match.merge import merge
from openacorn.core.match.normalise import name_tokens, own_domain, record_of, region_of_phones, street_key
from openacorn.core.match.weights import ASK_AT, MERGE_AT
from openacorn.core.trades.catalogue import catalogue

HERE = Point(-37.02, 160.02)


def listing(
    name: str,
    *,
    phone: str = "",
    website: str = "",
    street: str = "",
    away_m: float = 0,
    serial: str = "1",
    category: str = "",
) -> Listing:
    at = destination(HERE, 45, away_m)
    return Listing(
        "listing_service",
        serial,
        name,
        category,
        lat=at.lat,
        lon=at.lon,
        phone=phone,
        website=website,
        street=street,
        postcode="7801",
    )


def test_distances_are_those_of_a_reference_library() -> None:
    """PyPI geographiclib (WGS84): a sphere is within .6 % of it, in every direction and at every latitude."""
    for lat, lon, azimuth, metres_away in (
        (-37, 160, 90, 900),
        (60, 10, 45, 25_000),
        (0, 0, 180, 300),
        (-37, 160, 0, 70),
    ):
        there = Geodesic.WGS84.Direct(lat, lon, azimuth, metres_away)
        records = [
            record_of(n, Listing("map_data", str(n), "Gull", "", lat=a, lon=b), "AU", catalogue())
            for n, (a, b) in enumerate(((lat, lon), (there["lat2"], there["lon2"])))
        ]
        found = metres(columns_of(records), np.array([0]), np.array([1]))
        assert found[0] == pytest.approx(metres_away, rel=0.006)


def test_the_country_of_numbers_is_that_of_most_of_them() -> None:
    # numbers for fiction: ACMA (AU), Ofcom (GB)
    assert region_of_phones(["+61 3 5550 1234", "+61 491 570 006", "+44 20 7946 0000", "03 5550 1234"]) == "AU"
    assert region_of_phones(["03 5550 1234"]) is None


CASES = [
    ("an address alone beside the business whose site it is", Listing("file:1", "1", "petal.example", website="http://petal.example/"), listing("Stem & Sons", website="https://www.petal.example"), "ask"),
    ("same name and phone", listing("Harbour Vets", phone="(03) 5550 1234"), listing("HARBOUR VETS PTY LTD", phone="+61 3 5550 1234", away_m=20), "one"),
    ("entities and ampersands", listing("Calloway &amp; Fairlight Florist", phone="03 5550 1234"), listing("Calloway and Fairlight Florist", phone="0355501234"), "one"),
    ("same domain, pin moved", listing("Núñera Optical", website="https://nunera.example/?utm_source=x", street="14 Harbour Street"), listing("Nunera Optical", website="http://www.nunera.example", street="Shop 2, 14 Harbour St.", away_m=60), "one"),
    ("a space in the wrong place", listing("Kalto nGardens", phone="03 5550 1234"), listing("Kalton Gardens", phone="0355501234"), "one"),
    ("a shared office's phone", listing("Harbour Vets", phone="(03) 5550 1234"), listing("Blue Gull Driving School", phone="(03) 5550 1234", away_m=10), "two"),
    ("neighbours of one trade", listing("Gull Florist", phone="(03) 5550 1111", street="1 Salt Road"), listing("Harbour Florist", phone="(03) 5550 2222", street="3 Salt Road", away_m=30), "two"),
    ("branches of one chain", listing("Bright Eye Care", phone="(03) 5550 1111", website="https://bright.example", street="1 Salt Road"), listing("Bright Eye Care", phone="(03) 5550 2222", website="https://bright.example", street="90 Mill Lane", away_m=9000), "two"),
    ("branches behind one switchboard", listing("Bright Eye Care", phone="(03) 5550 1111", website="https://bright.example", street="1 Salt Road"), listing("Bright Eye Care", phone="(03) 5550 1111", website="https://bright.example", street="90 Mill Lane", away_m=2000), "two"),
    ("moved, or a second shop", listing("Bright Eye Care", phone="(03) 5550 1111", street="1 Salt Road"), listing("Bright Eye Care", phone="(03) 5550 1111", street="90 Mill Lane", away_m=900), "ask"),
    ("two names, one firm or one office", listing("Gull Florist", phone="(03) 5550 1111", street="1 Salt Road", category="Florist"), listing("Petals by Ines", phone="(03) 5550 1111", street="1 Salt Rd", category="Flower shop", away_m=15), "ask"),
    ("two pages on one social network", listing("Gull Vets", website="https://facebook.com/gull"), listing("Heron Vets", website="https://facebook.com/heron", away_m=40), "two"),
]  # fmt: skip


@pytest.mark.parametrize(("a", "b", "expected"), [case[1:] for case in CASES], ids=[case[0] for case in CASES])
def test_pairs(a: Listing, b: Listing, expected: str) -> None:
    records = [record_of(1, a, "AU", catalogue()), record_of(2, b, "AU", catalogue())]
    chance = next((p for _, _, p in likely_pairs(records, 0.0)), 0.0)
    answer = "one" if chance >= MERGE_AT else "ask" if chance >= ASK_AT else "two"
    assert answer == expected, chance
    found = cluster(records)
    assert (len(found.groups), len(found.doubtful)) == {"one": (1, 0), "ask": (2, 1), "two": (2, 0)}[expected]


def crowd(seed: int) -> list[Listing]:
    rng = random.Random(seed)
    rows = []
    for number in range(25):
        name, phone = (
            f"{rng.choice(('Gull', 'Heron', 'Anchor', 'Tide'))} {rng.choice(('Vets', 'Florist'))} {number // 2}",
            f"(03) 5550 {number // 2:04d}",
        )
        rows.append(
            listing(name, phone=phone if rng.random() < 0.8 else "", away_m=rng.random() * 500, serial=str(number))
        )
    return rows


@settings(deadline=None)
@given(st.integers(0, 1000), st.randoms(use_true_random=False))
def test_the_order_of_arrival_changes_nothing(seed: int, shuffler: random.Random) -> None:
    records = [record_of(number, row, "AU", catalogue()) for number, row in enumerate(crowd(seed))]
    before = cluster(records)
    shuffler.shuffle(records)
    assert cluster(records) == before


def test_what_a_user_split_stays_apart() -> None:
    records = [
        record_of(number, listing("Harbour Vets", phone="(03) 5550 1234", serial=str(number)), "AU", catalogue())
        for number in range(3)
    ]
    assert cluster(records).groups == ((0, 1, 2),)
    groups = cluster(records, apart=frozenset({(0, 1)})).groups
    assert not any({0, 1} <= set(group) for group in groups)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("Jem’s Key Cutting", "jems key-cutting"),
        ("The Bløm Co. Pty Ltd", "BLØM"),
        ("Opticians & Sons", "Optician and Son"),
    ],
)
def test_names_compare_by_their_words(one: str, other: str) -> None:
    assert name_tokens(one) == name_tokens(other)


def test_streets_and_domains_are_normalised() -> None:
    assert street_key("Shop 2, 14 Harbour Rd.") == street_key("14 Harbour Road") == "14 harbour road"
    assert own_domain("http://www.shop.harbour.com.au/x") == "harbour.com.au"
    assert own_domain("https://harbour.squarespace.com") is None
    assert own_domain("https://www.squarespace.com") is None
    pages = [record_of(1, listing("Gull", website=site), "AU", catalogue()).page for site in (
        "https://harbour.squarespace.com/x", "https://www.facebook.com/gull/?ref=1", "https://facebook.com", "https://www.squarespace.com/gull",
    )]  # fmt: skip
    assert pages == ["harbour.squarespace.com", "facebook.com/gull", "", "squarespace.com/gull"]
    assert own_domain("not an address") is None


def test_merging_keeps_who_said_what() -> None:
    answer = [
        Listing("s", "1", "HARBOUR VETS", phone="(03) 5550 1234", reviews=10),
        Listing("s", "2", "Harbour Vets", phone="0355501234", website="harbour.example", reviews=12, status="open"),
    ]
    facts = merge(answer, "AU")
    assert (facts["name"].value, facts["name"].listing, facts["name"].others) == ("Harbour Vets", 1, ("HARBOUR VETS",))
    assert facts["phone"].value == "+61355501234"
    assert facts["phone"].others == ()
    assert facts["website"].value == "https://harbour.example/"
    assert "rating" not in facts


def test_the_restaurant_gold_set() -> None:
    """py_entitymatching's two restaurant guides (BSD-3), 112 labelled pairs; no weight was set on its labels."""
    assert restaurant_figures()["f1"] >= 0.97


@pytest.mark.parametrize(
    ("noise", "least_f1", "least_sure"), [(EASY, 0.997, 0.999), (HARD, 0.945, 0.997)], ids=["easy", "hard"]
)
def test_known_doubles_in_noise(noise: object, least_f1: float, least_sure: float) -> None:
    rows, numbers = noisy_listings(8000, noise, seed=7)  # type: ignore[arg-type]
    fields = {name: name for name in rows[0] if name != "id"} | {"source_id": "id"}
    listings = {number: read_row(row, fields, "", "") for number, row in enumerate(rows)}
    owner = dict(enumerate(numbers))
    assert pair_figures(match_all(listings, "AU").groups, owner)["f1"] >= least_f1
    assert pair_figures(match_all(listings, "AU", merge_at=MERGE_AT).groups, owner)["precision"] >= least_sure


def test_pair_figures_count_as_scikit_learn_does() -> None:
    from sklearn.metrics import pair_confusion_matrix

    rng = random.Random(3)
    owner = {key: rng.randrange(12) for key in range(60)}
    answer = {key: rng.randrange(12) for key in range(60)}
    groups = [[key for key in answer if answer[key] == g] for g in range(12)]
    (_, fp), (fn, tp) = pair_confusion_matrix(list(owner.values()), list(answer.values()))
    figures = pair_figures(groups, owner)
    assert figures["precision"] == pytest.approx(tp / (tp + fp), abs=1e-4)
    assert figures["recall"] == pytest.approx(tp / (tp + fn), abs=1e-4)


def test_what_a_user_joined_is_together() -> None:
    records = [
        record_of(1, listing("Gull Florist", phone="(03) 5550 1111"), "AU", catalogue()),
        record_of(2, listing("Petals", serial="2"), "AU", catalogue()),
    ]
    assert cluster(records, together=frozenset({(1, 2)})).groups == ((1, 2),)
