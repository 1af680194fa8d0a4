"""Pages that nobody here wrote: how often we say that something is missing that is there, and the other way round."""

from collections import Counter

import pytest

from tests.wild.contacts import Tally, tallies
from tests.wild.judging import Row, facts_of, judge
from tests.wild.ledger import entry, written
from tests.wild.pages import WildPage, wild_pages

pytestmark = pytest.mark.wild

EVERY = 3
"""Of the pages every third is judged here, all of them by `./acorn bench wild`."""

FLOOR = 0.001
"""Most false gaps and false oks among the answers judged; it may only sink."""

MOST_UNKNOWN = 0.04
PRECISION, RECALL = 0.98, 0.97


@pytest.fixture(scope="module")
def pages() -> list[WildPage]:
    return list(wild_pages())[::EVERY]


@pytest.fixture(scope="module")
def contacts(pages: list[WildPage]) -> dict[str, Tally]:
    return tallies(pages)


@pytest.fixture(scope="module")
def judged(pages: list[WildPage]) -> dict[str, Row]:
    rows, crashed = judge(pages)
    assert not crashed
    return rows


def test_the_set_is_as_wide_as_the_web(pages: list[WildPage]) -> None:
    facts = [facts_of(page) for page in pages]
    languages = Counter(fact.written_in for fact in facts)
    builders = {hit.vendor for fact in facts for hit in fact.tags if hit.kind == "platform"}
    builders |= {fact.generator.split()[0] for fact in facts if fact.generator}
    assert len(pages) >= 300
    assert len([language for language, count in languages.items() if language and count > 1]) >= 12
    assert len(builders) >= 40


def test_nothing_is_called_missing_that_is_there_nor_there_that_is_missing(judged: dict[str, Row]) -> None:
    wrong = [line for row in judged.values() for line in row.wrong]
    total = sum(row.judged for row in judged.values())
    assert total > 3000
    assert len([line for line in wrong if line.startswith("false gap")]) <= FLOOR * total, wrong
    assert len([line for line in wrong if line.startswith("false ok")]) <= FLOOR * total, wrong


def test_what_another_reader_decides_is_seldom_unknown_to_us(judged: dict[str, Row]) -> None:
    decided = sum(row.decided for row in judged.values())
    assert sum(row.unknown for row in judged.values()) <= MOST_UNKNOWN * decided


@pytest.mark.parametrize(
    "check", ["title", "viewport", "language", "headings", "privacy_page", "social_links", "email_found"]
)
def test_each_check_is_tried_often_enough_to_tell(check: str, judged: dict[str, Row]) -> None:
    assert judged[check].judged >= 150


@pytest.mark.parametrize(("kind", "least"), [("phones", 90), ("emails", 120)])
def test_numbers_and_addresses_are_those_that_stand_there(kind: str, least: int, contacts: dict[str, Tally]) -> None:
    found = contacts[kind]
    assert found.right >= least
    assert found.precision >= PRECISION, found.wrong
    assert found.recall >= RECALL, found.missed


def test_a_change_of_what_is_said_is_written_down() -> None:
    held = written()
    changed = [
        f"{name}: {check} {held[name].get(check, '(new)')} → {found}"
        for page in wild_pages()
        if (name := page.name) in held
        for check, found in entry(page).items()
        if held[name].get(check) != found
    ]
    assert not changed, f"look at these, then run `python -m tests.wild.measure`: {changed[:20]}"
