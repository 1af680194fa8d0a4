"""A layout as wide as a desk screen, whatever it is shown on."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.readable import hidden


def evaluate(pages: Pages) -> Finding:
    """A width fixed in the markup decides; one set in a style sheet shows only in a browser."""
    page = pages.home
    if page.content.fixed_px:
        shown = Evidence(page.url, page.at, page.content.fixed_by)
        return gap(page.content.fixed_px, f"the page is {page.content.fixed_px} px wide on any screen", shown)
    if concealed := hidden(page):
        return concealed
    if page.viewport is None:
        return unknown("no width is fixed in the markup; without a viewport only a browser shows it")
    return ok(0, "no width is fixed in the markup", Evidence(page.url, page.at, page.viewport))


CHECK = Check(
    id="fixed_layout",
    group=Group.MOBILE,
    title="Fixed width",
    why="On a phone such a page must be dragged from side to side to be read.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A page as wide as the screen",
        claim="Your website does not adapt to phone screens.",
        remedy="Rebuild the layout so that it adapts to the screen.",
        instead_of=("viewport",),
    ),
)
