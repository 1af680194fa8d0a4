"""Do tags wait until the visitor has agreed?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, Outcome, gap, not_applicable, ok, unknown
from openacorn.core.audit.tag_evidence import all_tags, no_tag

WATCHING = {TagKind.ANALYTICS, TagKind.ADS, TagKind.RECORDING}
COOKIELESS = frozenset({"Plausible", "Fathom", "Simple Analytics", "Umami", "Cloudflare Web Analytics"})
"""Statistics that by their vendors' word set no cookie, and ask nobody (from memory)."""


def evaluate(pages: Pages) -> Finding:
    """Known consent tools, or a banner's words in the page's text; whether the law asks for one is not judged here."""
    tags = all_tags(pages)
    tool = next(((vendor, seen) for (vendor, kind), seen in tags.items() if kind == TagKind.CONSENT), None)
    if tool is not None:
        vendor, (hit, page) = tool
        return ok(vendor, f"{vendor} asks visitors first", Evidence(page.url, page.at, hit.snippet))
    watching = [(v, s) for (v, kind), s in tags.items() if kind in WATCHING and v not in COOKIELESS]
    if not watching:
        absent = no_tag(pages, "", TagKind.ANALYTICS)
        return absent if absent.outcome is Outcome.UNKNOWN else not_applicable("no tag that would have to ask")
    for page in pages.all:
        if words := page.content.cookie_words:
            return unknown("a banner of its own may hold them back", Evidence(page.url, page.at, words[:160]))
    if pages.unread:
        where = Evidence(pages.home.url, pages.home.at, pages.unread[0])
        return unknown("a script of the site's own that was not read may hold them back", where)
    shown = [(vendor, seen) for vendor, seen in watching if seen[1] in pages.all]
    if not shown:
        vendor, (hit, page) = watching[0]
        where = Evidence(page.url, page.at, hit.snippet)
        return unknown(f"a script of the site's own brings in {vendor}; whether it asks first does not show", where)
    vendor, (hit, page) = shown[0]
    return gap(
        sorted(v for v, _ in shown),
        f"{vendor} starts before anybody agreed",
        Evidence(page.url, page.at, hit.snippet),
    )


CHECK = Check(
    id="consent",
    group=Group.TRACKING,
    title="Consent to tags",
    why="Tracking visitors without asking can bring complaints and, in some countries, fines.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=85,
    owner=OwnersWords(
        topic="Visitors are asked first",
        claim="Tracking on your website starts before visitors are asked.",
        remedy="Ask visitors first, without getting in their way.",
    ),
)
