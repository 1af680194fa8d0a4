"""The finder of lists on pages that nobody here wrote (PyPI formasaurus, saved pages of 2014 and 2015).

`lists.tsv` says of each page, drawn at random and read by eye, how an early entry of its list begins; nothing where it holds none.
"""

import csv
from functools import cache
from pathlib import Path

import pytest
from selectolax.lexbor import LexborHTMLParser

from openacorn.core.gather.list_finder import NONE_HERE, FoundList, find_lists

HERE = Path(__file__).parent
PAGES = HERE.parent / "references" / "python" / "formasaurus" / "data" / "html"
EARLY = 4
"""The entry named is among the first so many: headings stand above some."""

RIGHT_FIRST, RIGHT_IN_THREE, RIGHT_NONE, SEEN = 0.95, 0.98, 0.92, 0.88
"""Floors on 62 pages with a list and 170 without, which may only rise. SEEN: of lists, how many are not taken for none."""

pytestmark = pytest.mark.wild


@cache
def labelled() -> dict[str, str]:
    with (HERE / "lists.tsv").open(encoding="utf-8") as file:
        return {row["page"]: row["first"] or "" for row in csv.DictReader(file, delimiter="\t")}


@cache
def found(page: str) -> tuple[FoundList, ...]:
    text = (PAGES / f"{page}.html").read_text(encoding="utf-8", errors="replace")
    return tuple(find_lists(LexborHTMLParser(text)))


def holds(item: FoundList, first: str) -> bool:
    return any(first in entry.text for entry in item.entries[:EARLY])


def test_the_right_list_comes_first() -> None:
    wanted = {page: first for page, first in labelled().items() if first}
    missed = [page for page, first in wanted.items() if not any(holds(item, first) for item in found(page)[:1])]
    assert len(missed) <= (1 - RIGHT_FIRST) * len(wanted), missed
    lost = [page for page, first in wanted.items() if not any(holds(item, first) for item in found(page)[:3])]
    assert len(lost) <= (1 - RIGHT_IN_THREE) * len(wanted), lost


def test_a_page_without_a_list_is_said_to_hold_none_and_one_with_a_list_is_not() -> None:
    without = [page for page, first in labelled().items() if not first]
    wrong = [page for page in without if any(item.sure >= NONE_HERE for item in found(page))]
    assert len(wrong) <= (1 - RIGHT_NONE) * len(without), wrong
    wanted = [page for page, first in labelled().items() if first]
    unseen = [page for page in wanted if not any(item.sure >= NONE_HERE for item in found(page))]
    assert len(unseen) <= (1 - SEEN) * len(wanted), unseen
