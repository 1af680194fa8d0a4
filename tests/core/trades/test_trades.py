"""Trades in the words people and categories use for them."""

import pytest

from openacorn.core.trades.catalogue import TRADES, checked_trades, trade_of
from openacorn.core.trades.trade import UnknownTrade, names_trade, singular
from openacorn.sim.listings import CATEGORIES, STRANGER_KINDS


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
    assert names_trade(trade_of(trade), category) is named


def test_the_coasts_categories_each_name_their_own_trade_and_no_strangers() -> None:
    for trade, categories in CATEGORIES.items():
        for category in categories:
            assert [item.id for item in TRADES if names_trade(item, category)] == [trade], category
    for trade, category, _ in STRANGER_KINDS:
        assert not names_trade(trade_of(trade), category)


def test_unknown_and_missing_trades_are_refused_with_the_choices() -> None:
    with pytest.raises(UnknownTrade, match="no trade 'alchemists'; choose from vets"):
        checked_trades(["vets", "alchemists"])
    with pytest.raises(UnknownTrade, match="at least one"):
        checked_trades([])
    assert [trade.id for trade in checked_trades(["vets", "florists", "vets"])] == ["vets", "florists"]


def test_ids_are_unique() -> None:
    assert len({trade.id for trade in TRADES}) == len(TRADES)
