"""May search engines show the page?"""

from openacorn.core.audit.address import host_of
from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages, Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.readable import hidden


def _bare(url: str) -> str:
    return host_of(url).removeprefix("www.")


def evaluate(pages: Pages, visit: Visit) -> Finding:
    """The robots meta element and header, and the canonical address (RFC 6596)."""
    page = pages.home
    directives = f"{page.content.robots} {visit.header('x-robots-tag').lower()}"
    if "noindex" in directives or "none" in directives.replace(",", " ").split():
        return gap(
            "noindex", "the page asks search engines not to show it", Evidence(page.url, page.at, directives.strip())
        )
    canonical = page.content.canonical
    if canonical and _bare(canonical) and _bare(canonical) != _bare(page.url):
        shown = Evidence(page.url, page.at, f'<link rel="canonical" href="{canonical}">')
        return partial(canonical, "the page names another site's page as the one to show", shown)
    return hidden(page) or ok("open", "search engines may show it", Evidence(page.url, page.at, "nothing in the way"))


CHECK = Check(
    id="indexable",
    group=Group.SEARCH,
    title="Open to search engines",
    why="A setting left over from when the site was built can keep it out of every search result.",
    needs=(Pages, Visit),
    evaluate=evaluate,
    rank=5,
    owner=OwnersWords(
        topic="Shown by search engines",
        claim="Your website asks search engines not to show it.",
        partly="Your home page tells search engines to show another website instead.",
        remedy="Change the setting so that you can be found.",
    ),
)
