"""Headings in order."""

import itertools

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, not_applicable, ok, partial
from openacorn.core.audit.readable import hidden


def evaluate(pages: Pages) -> Finding:
    """No level is left out on the way down (WCAG technique G141); an oversight, never a gap."""
    page = pages.home
    levels = [level for level, _ in page.headings]
    if len(levels) < 2:
        return hidden(page) or not_applicable("there are no headings to put in order")
    outline = ", ".join(f"h{level} {text[:30]!r}" for level, text in page.headings[:6])
    shown = Evidence(page.url, page.at, outline)
    for before, after in itertools.pairwise(levels):
        if after > before + 1:
            return partial(f"h{before} to h{after}", f"an h{after} follows an h{before}: a level is left out", shown)
    return ok(len(levels), f"{len(levels)} headings in order", shown)


CHECK = Check(
    id="heading_order",
    group=Group.SEARCH,
    title="Heading order",
    why="Screen readers and search engines read your headings as a table of contents.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.5,
    rank=70,
    owner=OwnersWords(
        topic="Headings in order",
        partly="The headings of your home page skip a level, which confuses screen readers.",
        remedy="Put the headings in order.",
    ),
)
