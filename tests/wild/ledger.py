"""What we say of pages that nobody here wrote, written down: a change of reading shows as lines of a file that somebody looks at.

A line a page: each check's answer as a letter and two digits of what it says and shows, and eight digits of all that was read.
`python -m tests.wild.measure` writes the file again; whether the answers are right is the matter of `readings`.
"""

import dataclasses
import hashlib
import json
from collections.abc import Iterable, Iterator
from pathlib import Path

from openacorn.core.audit.check import check_ids
from openacorn.core.audit.finding import Outcome
from tests.wild.judging import answers, facts_of
from tests.wild.pages import WildPage

FILE = Path(__file__).with_name("ledger.txt")
EVERY = 8
"""Of the pages every eighth is written down."""

LETTERS = {Outcome.OK: "o", Outcome.PARTIAL: "p", Outcome.GAP: "G", Outcome.NOT_APPLICABLE: "n", Outcome.UNKNOWN: "u"}


def _digits(value: object, count: int) -> str:
    text = json.dumps(value, default=lambda item: sorted(map(str, item)), ensure_ascii=False, sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()[:count]


def entry(page: WildPage) -> dict[str, str]:
    """Check id → letter and digits; "read" → digits of all facts."""
    facts = facts_of(page)
    found = answers(page, facts)
    said = {
        check: LETTERS[item.outcome] + _digits(dataclasses.asdict(item), 2) for check, item in sorted(found.items())
    }
    return {**said, "read": _digits(dataclasses.asdict(facts), 8)}


def lines(pages: Iterable[WildPage]) -> Iterator[str]:
    """The file: a line of check ids, then a line a page."""
    yield "\t".join(("page", *sorted(check_ids()), "read"))
    for page in list(pages)[::EVERY]:
        found = entry(page)
        yield "\t".join((page.name, *(found.get(name, "") for name in (*sorted(check_ids()), "read"))))


def written() -> dict[str, dict[str, str]]:
    """Page → what the file says of it."""
    head, *rows = (line.split("\t") for line in FILE.read_text(encoding="utf-8").splitlines())
    return {row[0]: dict(zip(head[1:], row[1:], strict=True)) for row in rows}
