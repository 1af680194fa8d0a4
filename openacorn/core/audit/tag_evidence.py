"""Which tags are on a site's pages, and what could bring in others that its source does not show."""

from openacorn.core.audit.evidence import PageFacts, Pages, TagHit
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.readable import hidden, pages_read

MAY_DO_IT_TOO = {
    TagKind.ANALYTICS: (TagKind.MARKETING, TagKind.RECORDING),
    TagKind.ADS: (TagKind.NETWORK, TagKind.MARKETING),
    TagKind.PUBLISHER: (TagKind.NETWORK,),
    TagKind.RECORDING: (TagKind.MARKETING, TagKind.SUPPORT),
    TagKind.CHAT: (TagKind.MARKETING, TagKind.SUPPORT),
}
"""What is asked for → services that are known to do something else, and may do this beside it."""


def all_tags(pages: Pages) -> dict[tuple[str, str], tuple[TagHit, PageFacts]]:
    """(vendor, kind) → (hit, the page or own script where it was first seen)."""
    found: dict[tuple[str, str], tuple[TagHit, PageFacts]] = {}
    for page in (*pages.all, *pages.scripts):
        for hit in page.tags:
            found.setdefault((hit.vendor, hit.kind), (hit, page))
    return found


def tags_of(pages: Pages, kind: TagKind) -> dict[str, Evidence]:
    """Vendor → where its tag of this kind was first seen."""
    return {
        vendor: Evidence(page.url, page.at, hit.snippet)
        for (vendor, its_kind), (hit, page) in all_tags(pages).items()
        if its_kind == kind
    }


def _brought_in(pages: Pages, wanted: TagKind, by_name: bool) -> Finding | None:
    """An unknown if a known service on the pages may bring in what is asked for."""
    for (vendor, kind), (hit, page) in all_tags(pages).items():
        shown = Evidence(page.url, page.at, hit.snippet)
        if kind == TagKind.MANAGER and not pages.rendered:
            return unknown(f"a tag manager ({vendor}) may load it", shown, value=list(hit.ids) or None)
        if kind == TagKind.CONSENT:
            return unknown(f"a consent tool ({vendor}) may load it after a visitor agrees", shown)
        if kind in MAY_DO_IT_TOO.get(wanted, ()) and not by_name:
            return unknown(f"{vendor} ({kind}) may do it too", shown)
        if (
            kind == TagKind.LOADER
            and not pages.rendered
            and not any(tag.startswith(("G-", "AW-", "UA-")) for tag in hit.ids)
        ):
            return unknown("Google's tag is loaded with an id that the source does not show", shown)
    return None


def hidden_tags(pages: Pages, wanted: TagKind, *, by_name: bool = False) -> Finding | None:
    """Return an unknown if a tag of this kind could be there without showing, else None.

    by_name: one vendor's tag is asked for, not any of the kind; what an unknown host does is seen once a browser ran it.
    """
    if found := _brought_in(pages, wanted, by_name):
        return found
    for page in (*pages.all, *pages.scripts):
        if wanted is TagKind.ANALYTICS and page.counting:
            where = Evidence(page.url, page.at, page.counting)
            return unknown("something is loaded from an address that speaks of counting visitors", where)
        if page.strangers and not (by_name and pages.rendered):
            return unknown(
                "a script from a host that we do not know may do it", Evidence(page.url, page.at, page.strangers[0])
            )
    if pages.unread:
        what = (
            "a file could not be loaded in the browser"
            if pages.rendered
            else "not all of the site's own scripts were read"
        )
        return unknown(f"{what}; it may be in there", Evidence(pages.home.url, pages.home.at, pages.unread[0]))
    return hidden(pages.home)


def no_tag(pages: Pages, reason: str, wanted: TagKind) -> Finding:
    """A tag is on no page: a gap, unless something there could bring it in unseen."""
    return hidden_tags(pages, wanted) or gap(None, reason, _none(pages, f"{wanted} tag that we know"))


def _none(pages: Pages, what: str) -> Evidence:
    scripts = f" and {len(pages.scripts)} of the site's own scripts" if pages.scripts else ""
    return Evidence(pages.home.url, pages.home.at, f"no {what} in {pages_read(pages)}{scripts}")


def vendor_tag(pages: Pages, kind: TagKind, vendor: str) -> Finding:
    """One vendor's tag: there, absent, or possibly brought in unseen."""
    seen = all_tags(pages).get((vendor, kind))
    if seen is not None:
        hit, page = seen
        return ok(list(hit.ids) or vendor, f"{vendor} is in place", Evidence(page.url, page.at, hit.snippet))
    return hidden_tags(pages, kind, by_name=True) or gap(None, f"no tag of {vendor}", _none(pages, f"tag of {vendor}"))
