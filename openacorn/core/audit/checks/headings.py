"""One main heading."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.readable import hidden


def evaluate(pages: Pages) -> Finding:
    """One h1 with text on the home page (common practice; HTML allows more, which is only a partial)."""
    page = pages.home
    main = [text for level, text in page.headings if level == 1 and text]
    outline = ", ".join(f"h{level} {text[:40]!r}" for level, text in page.headings[:4]) or "no heading at all"
    shown = Evidence(page.url, page.at, outline)
    if not main:
        return hidden(page) or gap(None, "no main heading (h1)", shown)
    if len(main) > 1:
        return partial(main[:5], f"{len(main)} main headings compete", shown)
    return ok(main[0], "one main heading", shown)


CHECK = Check(
    id="headings",
    group=Group.SEARCH,
    title="Main heading",
    why="The main heading tells visitors and search engines in one line what the page is about.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A clear main heading",
        claim="Your home page has no main heading that says what it is about.",
        partly="Several main headings on your home page compete with each other.",
        remedy="Give every page one heading that says what it is about.",
    ),
)
