"""A page title that says something."""

import re

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.readable import hidden

EMPTY_WORDS = re.compile(
    r"^(home|home ?page|index|welcome|untitled( document| page)?|new page( \d+)?"
    r"|default|page title|my site|website|document|title|react app|vite app)$",
    re.IGNORECASE,
)
MAX_CHARS = 70
"""Common practice: result pages cut titles at about 60–70 characters."""


def evaluate(pages: Pages) -> Finding:
    """The title element of the home page; a script-built page may set it later."""
    page = pages.home
    if not page.title:
        return hidden(page) or gap(
            None, "the home page has no title", Evidence(page.url, page.at, "<title> missing or empty")
        )
    shown = Evidence(page.url, page.at, f"<title>{page.title[:200]}</title>")
    if EMPTY_WORDS.match(page.title.strip(" .|-–")):
        return partial(page.title, "the title says nothing about the business", shown)
    if len(page.title) > MAX_CHARS:
        return partial(page.title, f"{len(page.title)} characters; search results cut it at about {MAX_CHARS}", shown)
    return ok(page.title, f"{len(page.title)} characters", shown)


CHECK = Check(
    id="title",
    group=Group.SEARCH,
    title="Page title",
    why="The title is the line people see and click in search results.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=2,
    rank=10,
    owner=OwnersWords(
        topic="A title for search results",
        claim="Your home page has no title that search results could show.",
        partly="The title that search results show for you says little, or is cut off.",
        remedy="Write a title that says what you do and where.",
    ),
)
