"""Register entries joined to businesses, and chains."""

import random
from dataclasses import replace

import pytest

from openacorn.core.gather.listing import Listing
from openacorn.core.match.chains import brand_of, chains
from openacorn.core.match.companies import join_companies
from openacorn.core.trades.catalogue import catalogue
from openacorn.sim.company_register import INDUSTRY, companies
from openacorn.sim.generate import make_businesses

TRADE_BY_CODE = {code: trade for trade, code in INDUSTRY.items()}


def shop(name: str, town: str = "Port Ellery", street: str = "4 Mill Road", trade: str = "opticians") -> Listing:
    return Listing("", "", name, catalogue().of(trade).label, street=street, town=town)


def entry(name: str, town: str = "Port Ellery", *, closed: bool = False, **facts: str) -> Listing:
    status = "closed" if closed else "open"
    return Listing("register", name, name, "Optician", street="9 Salt Street", town=town, status=status, extra=facts)


CASES = [
    ("by name and town", ["Anchor Optical"], [entry("ANCHOR OPTICAL PTY LTD")], {0: 0}),
    ("registered elsewhere", ["Anchor & Gull Optical"], [entry("Anchor and Gull Optical Pty Ltd", "Larch Flat")], {0: 0}),
    ("by its trading name", ["Anchor Optical"], [entry("Quaife Holdings Pty Ltd", trading_as="Anchor Optical")], {0: 0}),
    ("a namesake's entry is not mine", ["Anchor Optical", "Anchor Opticians"], [entry("Anchor Opticians Pty Ltd")], {1: 0}),
    ("two as good: neither", ["Anchor Optical"], [entry("Anchor Optical Ltd"), entry("Anchor Optical Pty Ltd")], {}),
    ("the living one", ["Anchor Optical"], [entry("Anchor Optical Ltd", closed=True), entry("Anchor Optical Pty Ltd")], {0: 1}),
    ("a struck-off one is better than none", ["Anchor Optical"], [entry("Anchor Optical Ltd", closed=True)], {0: 0}),
    ("only half the name", ["Anchor Optical"], [entry("Anchor Group Pty Ltd", "Larch Flat")], {}),
    ("nobody", ["Anchor Optical"], [entry("Thrift Nominees Pty Ltd")], {}),
]  # fmt: skip


@pytest.mark.parametrize(("names", "entries", "expected"), [c[1:] for c in CASES], ids=[c[0] for c in CASES])
def test_an_entry_is_joined_to_the_business_it_names(
    names: list[str], entries: list[Listing], expected: dict[int, int]
) -> None:
    found = join_companies(dict(enumerate(map(shop, names))), dict(enumerate(entries)), catalogue())
    assert {business: join.company for business, join in found.items()} == expected
    assert all(0.8 <= join.confidence <= 1 for join in found.values())


def test_the_same_place_makes_it_surer_and_an_unknown_one_is_no_place() -> None:
    def confidence(town: str, postcode: str = "") -> float:
        row = replace(entry("Anchor & Gull Optical", town), postcode=postcode)
        joined = join_companies({0: replace(shop("Anchor & Gull Optical"), postcode="7801")}, {0: row}, catalogue())
        return joined[0].confidence

    here, elsewhere = confidence("Port Ellery"), confidence("Larch Flat")
    assert here > elsewhere == confidence("") == confidence("Larch Flat", "7802")
    assert confidence("Larch Flat", "7801") == here


@pytest.mark.parametrize("seed", [11, 12])
def test_on_a_whole_coast_joins_are_right_and_few_are_missed(seed: int) -> None:
    """Against the generator's truth; recall is of the entries whose name or trading name is on the shop sign."""
    businesses, _ = make_businesses(seed, 60)
    rows = companies(businesses, random.Random(seed))
    by_id = {b.id: b for b in businesses}
    entries = {
        number: Listing(
            "register", row["number"], row["name"], catalogue().of(TRADE_BY_CODE[row["industry"]]).label, street=row["office"]["street"],
            town=row["office"]["town"], postcode=row["office"]["postcode"], status="closed" if row["status"] == "struck off" else "open",
            extra={"trading_as": row["trading_as"]} if row["trading_as"] else {},
        )
        for number, row in enumerate(rows)
    }  # fmt: skip
    found = join_companies({b.id: shop(b.name, b.town, b.street, b.trade) for b in businesses}, entries, catalogue())

    def right(business: int, number: int) -> bool:
        owner = by_id.get(rows[number]["_business"] or 0)
        return owner is not None and (
            owner.id == business or bool(owner.chain and owner.chain == by_id[business].chain)
        )

    assert sum(right(business, join.company) for business, join in found.items()) >= 0.985 * len(found)
    named = {number for number, row in enumerate(rows) if row["_business"] and (row["trading_as"] or by_id[row["_business"]].name in row["name"])}  # fmt: skip
    joined = {join.company for join in found.values()}
    assert len(named & joined) >= 0.97 * len(named)


@pytest.mark.parametrize(
    ("name", "town", "tag", "region", "brand"),
    [
        ("Specsavers", "Hobart", "shop=optician", "AU", "Specsavers"),
        ("Specsavers Gannet Bay", "Gannet Bay", "shop=optician", "AU", "Specsavers"),
        ("Specsavers", "Hobart", "shop=florist", "AU", ""),  # another trade: a namesake
        ("Abele Optik", "Berlin", "shop=optician", "DE", "abele optik"),
        ("Abele Optik", "Hobart", "shop=optician", "AU", ""),  # a brand of another country
        ("Harbour Optik", "Hobart", "shop=optician", None, ""),
    ],
)
def test_brands_of_the_open_list_are_known_in_their_trade_and_country(
    name: str, town: str, tag: str, region: str | None, brand: str
) -> None:
    """Names as in the open brand-name list itself (name-suggestion-index, BSD-3)."""
    assert brand_of(name, town, (tag,), region) == brand


def test_a_chain_shares_a_site_and_the_telling_words() -> None:
    def row(name: str, website: str, town: str = "Larch Flat", trade: str = "vets") -> dict[str, str]:
        return {"name": name, "website": website, "town": town, "trade": trade}

    found = chains(
        {
            1: row("Heron Vets", "https://heronvets.example/"),
            2: row("Heron Vets Larch Flat", "https://www.heronvets.example/larch-flat"),
            3: row("Heron Vets", "https://heron-of-elsewhere.example/"),
            4: row("Kelp Vets", "https://heronvets.example/"),  # somebody else's site
            5: row("Specsavers", "", "Dunmarrow", "opticians"),
        },
        catalogue(),
        "AU",
    )
    assert found == {1: "Heron Vets", 2: "Heron Vets", 5: "Specsavers"}
