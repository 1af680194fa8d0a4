"""Enough text to be found by."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.readable import hidden

BARE, THIN = 40, 250
"""Words: common practice asks for 300 and more; under 250 there is little to be found by, under 40 next to nothing."""


def evaluate(pages: Pages) -> Finding:
    """Visible words of the home page."""
    page = pages.home
    shown = Evidence(page.url, page.at, f"{page.words} words: {page.text_start[:120]}")
    if page.words >= THIN:
        return ok(page.words, f"{page.words} words", shown)
    if concealed := hidden(page):
        return concealed
    if page.words < BARE:
        return gap(page.words, f"only {page.words} words", shown)
    return partial(page.words, f"only {page.words} words", shown)


CHECK = Check(
    id="text_amount",
    group=Group.SEARCH,
    title="Amount of text",
    why="Search engines can only show you for words that are on your page.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=65,
    owner=OwnersWords(
        topic="Enough text to be found",
        claim="Your home page has almost no text that people could find you by.",
        partly="Your home page has little text that people could find you by.",
        remedy="Answer in writing what customers ask you most.",
    ),
)
