"""Does a secure page load files in the clear?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok
from openacorn.core.audit.readable import hidden


def evaluate(pages: Pages) -> Finding:
    """Browsers block such scripts and styles and warn of such pictures (W3C Mixed Content, 2023)."""
    page = pages.home
    if not page.url.startswith("https://"):
        return not_applicable("the page itself is not secure")
    insecure = page.content.insecure
    if insecure:
        text = f"{len(insecure)} files of a secure page come in the clear"
        return gap(len(insecure), text, Evidence(page.url, page.at, ", ".join(insecure[:3])))
    return hidden(page) or ok(0, "everything named in the page's source is loaded securely")


CHECK = Check(
    id="mixed_content",
    group=Group.SECURITY,
    title="Mixed content",
    why="Browsers block parts of such a page and remove the padlock.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Everything on the page is secure",
        claim="Parts of your pages are loaded insecurely, and browsers block them.",
        remedy="Load every picture and script over the secure connection.",
    ),
)
