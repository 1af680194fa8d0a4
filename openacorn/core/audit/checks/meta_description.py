"""A meta description of useful length."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.readable import hidden

MIN_CHARS, MAX_CHARS = 50, 320
"""Common practice: under about 50 characters it is seldom shown, and no search engine shows more than some 320."""


def evaluate(pages: Pages) -> Finding:
    """The meta description of the home page; a script-built page may set it later."""
    page = pages.home
    if not page.description:
        return hidden(page) or gap(
            None, "no description", Evidence(page.url, page.at, 'no <meta name="description"> with text')
        )
    shown = Evidence(page.url, page.at, page.description[:240])
    length = len(page.description)
    if length < MIN_CHARS:
        return partial(page.description, f"only {length} characters", shown)
    if length > MAX_CHARS:
        return partial(page.description[:240], f"{length} characters, more than is ever shown", shown)
    return ok(page.description, f"{length} characters", shown)


CHECK = Check(
    id="meta_description",
    group=Group.SEARCH,
    title="Description",
    why="The two lines under your name in search results; without them the search engine picks words at random.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=20,
    owner=OwnersWords(
        topic="A description for search results",
        claim="Search results have no description of you and show random words instead.",
        partly="The description that search results show for you is too short, or is cut off.",
        remedy="Write two lines that make people choose you.",
    ),
)
