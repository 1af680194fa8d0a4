"""Recipes: found in pages, applied, and refused where they cannot work."""

import dataclasses
import json
from collections.abc import Mapping
from pathlib import Path
from urllib.parse import quote_plus

import pytest

from openacorn.core.gather.recipe import FieldRule, Recipe, RecipeError, address_of, dump, load, plan_of
from openacorn.core.gather.recipe_finder import propose
from openacorn.core.gather.recipe_reader import read_page
from openacorn.sim.directory_site import HOST, Directory
from openacorn.sim.http import Asked

SHOPS = [
    {"trade": trade, "name": f"{'Gull Heron Anchor Tide Salt Kiln'.split()[n % 6]} {noun} {n}", "street": f"{n + 3} Mill Lane",
     "town": "Port Ellery", "postcode": "7801", "phone": f"(03) 5550 {n:04d}", "website": f"https://shop{n}.example/" if n % 2 else "",
     "email": f"hello@shop{n}.example" if n % 3 == 0 else ""}
    for trade, noun in (("vets", "Vets"), ("boatyards", "Boatyard"))
    for n in range(31)
]  # fmt: skip


@pytest.fixture
def directory(tmp_path: Path) -> Directory:
    (tmp_path / "directory.json").write_text(json.dumps(SHOPS))
    return Directory(tmp_path)


def page(directory: Directory, address: str) -> str:
    target = address.removeprefix(f"http://{HOST}")
    return directory.handle(Asked("GET", HOST, target, {}, secure=False)).body.decode()


@pytest.mark.parametrize(
    ("term", "trade"), [("vets", "vets"), ("boatyards", "boatyards")], ids=["microdata", "bare markup"]
)
def test_a_plan_is_found_in_a_page_and_reads_every_page(directory: Directory, term: str, trade: str) -> None:
    address = f"http://{HOST}/search?what={term}&where={quote_plus('Port Ellery')}"
    plan = propose(
        page(directory, address), address, "Tarrow Pages", f"http://{HOST}/search?what={{term}}&where={{place}}"
    )
    rows: list[Mapping[str, str]] = []
    here = address_of(plan, term, "Port Ellery", 1)
    while here:
        read = read_page(plan, page(directory, here), here)
        rows += read.rows
        here = read.next
    true = sorted((s for s in SHOPS if s["trade"] == trade), key=lambda s: s["name"].lower())
    assert [row["name"] for row in rows] == [shop["name"] for shop in true]
    for field in ("phone", "street", "town", "postcode", "website", "email"):
        assert [row.get(field, "") for row in rows] == [shop[field] for shop in true], field


HCARDS = """<div class="h-card"><a class="p-name u-url" href="https://gull.example/">Gull &amp; Sons</a><span class="p-tel">+61 3 5550 1100</span>
<span class="p-street-address">4 Quay Rd</span> <span class="p-locality">Port Ellery</span></div>
<div class="h-card"><a class="p-name u-url" href="https://heron.example/">Heron</a><a class="u-email" href="mailto:h@heron.example">write</a>
<span class="p-tel">+61 3 5550 1101</span></div>"""
VCARDS = """<li class="vcard"><strong class="fn org">Tide Vets</strong><span class="tel">03 5550 1102</span>
<span class="adr"><span class="street-address">5 Quay Rd</span>, <span class="postal-code">7801</span></span></li>
<li class="vcard"><strong class="fn org">Kiln Vets</strong><span class="tel">03 5550 1103</span></li>"""


@pytest.mark.parametrize(
    ("html", "first"),
    [
        (HCARDS, {"name": "Gull & Sons", "phone": "+61 3 5550 1100", "website": "https://gull.example/", "street": "4 Quay Rd", "town": "Port Ellery"}),
        (VCARDS, {"name": "Tide Vets", "phone": "03 5550 1102", "street": "5 Quay Rd", "postcode": "7801"}),
    ],
    ids=["h-card", "hCard"],
)  # fmt: skip
def test_cards_in_microformats_are_read_as_their_makers_marked_them(html: str, first: dict[str, str]) -> None:
    plan = propose(html, "https://x.example/l", "x", "https://x.example/?q={term}")
    assert read_page(plan, html, "https://x.example/l").rows[0] == first


def test_a_page_without_a_list_says_so() -> None:
    with pytest.raises(RecipeError, match="no repeating list"):
        propose("<html><body><p>About us</p></body></html>", "http://x.example/", "x", "http://x.example/?q={term}")


PLAN = Recipe("Pages", "https://x.example/?q={term}&in={place}&p={page}", "li", (FieldRule("name", "b"),))

CLEANINGS = [
    (FieldRule("phone", "i", clean="digits"), "<i>Tel. (03) 5550 1234</i>", "0355501234"),
    (FieldRule("reviews", "i", clean="number"), "<i>1,204 reviews</i>", "1204"),
    (FieldRule("street", "i", clean="before", mark=","), "<i>14 Mill Lane, Port Ellery</i>", "14 Mill Lane"),
    (FieldRule("town", "i", clean="after", mark=","), "<i>14 Mill Lane, Port Ellery</i>", "Port Ellery"),
    (FieldRule("website", "a", take="link"), "<a href='/go/1'>site</a>", "https://x.example/go/1"),
    (FieldRule("email", "a", take="link"), "<a href='mailto:a@b.example?subject=x'>write</a>", "a@b.example"),
    (FieldRule("source_id", "i", take="data-id"), "<i data-id='77'></i>", "77"),
]


@pytest.mark.parametrize(("rule", "html", "expected"), CLEANINGS, ids=[rule.field for rule, _, _ in CLEANINGS])
def test_fields_are_taken_and_cleaned(rule: FieldRule, html: str, expected: str) -> None:
    plan = dataclasses.replace(PLAN, fields=(*PLAN.fields, rule))
    (row,) = read_page(plan, f"<ul><li><b>Gull</b>{html}</li></ul>", "https://x.example/").rows
    assert row == {"name": "Gull", rule.field: expected}


def test_a_plan_survives_the_store_and_fills_its_slots() -> None:
    assert load(dump(PLAN)) == PLAN
    assert address_of(PLAN, "key cutting", "Larch Flat", 3) == "https://x.example/?q=key+cutting&in=Larch+Flat&p=3"


def test_a_next_page_on_another_site_is_not_followed() -> None:
    plan = dataclasses.replace(PLAN, next="a.next")
    source = "<a class=next href='https://evil.example/2'>next</a>"
    assert read_page(plan, source, "https://x.example/").next == ""


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"address": "x.example/{term}"}, "must begin with http"),
        ({"address": "https://x.example/"}, "where the searched words go"),
        ({"item": " "}, "which element repeats"),
        ({"item": "li["}, "no CSS selector"),
        ({"limit": 0}, "1 to 200 pages"),
        ({"fields": [{"field": "phone", "selector": "i"}]}, "must be the name"),
        ({"fields": [{"field": "name", "selector": "b"}, {"field": "shoe", "selector": "i"}]}, "no field 'shoe'"),
        ({"fields": [{"field": "name", "selector": "b", "clean": "shout"}]}, "clean is one of"),
        ({"colour": "red"}, "no recipe"),
    ],
)
def test_a_plan_that_cannot_work_is_refused(changes: dict[str, object], says: str) -> None:
    raw = {**dataclasses.asdict(PLAN), "fields": [dataclasses.asdict(rule) for rule in PLAN.fields], **changes}
    with pytest.raises(RecipeError, match=says):
        plan_of(raw)


def test_an_address_to_write_to_is_no_website_nor_the_other_way_round() -> None:
    page = "<div class=o><a href='mailto:a@x.example?subject=1'>M</a><a href='tel:+61370104411'>T</a><a href='/x'>W</a></div>"
    rules = tuple(FieldRule(name, "a", "link") for name in ("website", "email", "phone"))
    rows = read_page(Recipe("T", "http://d.example/{term}", "div.o", rules), page, "http://d.example/").rows
    assert rows == ({"website": "http://d.example/x", "email": "a@x.example", "phone": "+61370104411"},)
