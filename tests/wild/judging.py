"""Our answers beside the other readers' on the wild pages: per check how many were judged, false gaps, false oks, unknowns."""

import json
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path

from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts, PageFacts, Pages, Visit, Weights
from openacorn.core.audit.extract.decode import decode_html
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.finding import Finding
from tests.wild.pages import WildPage
from tests.wild.readings import READINGS, Source, XMLSyntaxError

AT = "2026-09-01T00:00:00+00:00"
RULINGS = Path(__file__).with_name("rulings.json")
"""Disagreements that somebody looked at, and found ours right: "check page" → why."""

THERE, ABSENT = {"ok"}, {"gap"}


@dataclass
class Row:
    """Counts of one check. judged: both ours and the other reader's say something; gaps: those where we say that it is missing;
    wrong: "false gap" or "false ok" and the page."""

    decided: int = 0
    judged: int = 0
    gaps: int = 0
    unknown: int = 0
    false_gaps: int = 0
    false_oks: int = 0
    wrong: list[str] = field(default_factory=list)


@cache
def facts_of(page: WildPage) -> PageFacts:
    """What is read off a page; several tests ask for the same pages."""
    return read_page(decode_html(page.body, "")[0], page.url, AT)


def answers(page: WildPage, facts: PageFacts) -> dict[str, Finding]:
    """Every check's answer for the page alone, as if its own scripts had been read and carried nothing: the harder case."""
    crawl = Crawl(Visit(page.url, page.url, AT, (page.url,), 200), Pages(facts), Weights(len(page.body), (), 0))
    return run_checks(assemble(ListingFacts("Wild", page.url, "a listing", AT), crawl))


def judge(pages: Iterable[WildPage]) -> tuple[dict[str, Row], Counter[str]]:
    """Compare on each page; return (check → counts, how many checks crashed by name)."""
    rulings = set(json.loads(RULINGS.read_text(encoding="utf-8")))
    rows = {check: Row() for check in READINGS}
    crashed: Counter[str] = Counter()
    for page in pages:
        found, source = answers(page, facts_of(page)), Source(page)
        crashed.update(check for check, finding in found.items() if finding.crashed)
        for check, reading in READINGS.items():
            try:
                theirs = reading(source)
            except (XMLSyntaxError, ValueError):
                continue
            if theirs is not None:
                _count(rows[check], str(found[check].outcome), theirs, f"{check} {page.name}", rulings)
    return rows, crashed


def _count(row: Row, ours: str, theirs: bool, where: str, rulings: set[str]) -> None:
    row.decided += 1
    if ours not in THERE | ABSENT:
        row.unknown += ours == "unknown"
        return
    row.judged += 1
    row.gaps += ours in ABSENT
    if where in rulings or (ours in THERE) == theirs:
        return
    row.false_gaps += ours in ABSENT
    row.false_oks += ours in THERE
    row.wrong.append(f"{'false gap' if ours in ABSENT else 'false ok'}: {where}")
