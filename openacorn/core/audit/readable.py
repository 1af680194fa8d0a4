"""When a page's source does not show what a visitor sees."""

from openacorn.core.audit.evidence import PageFacts, Pages, TagHit
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown


def hidden(page: PageFacts, *, scripts: bool = True) -> Finding | None:
    """Return an unknown if something missing from the source could still be on the page as seen, else None."""
    if page.cut:
        return unknown("the page is nested too deeply to be read whole")
    if page.frames and page.words < 25:
        return unknown("the page is made of frames", Evidence(page.url, page.at, page.frames[0]))
    if scripts and page.script_built:
        return unknown("a script builds this page", Evidence(page.url, page.at, page.app_root or ""))
    return None


def all_tags(pages: Pages) -> dict[tuple[str, str], tuple[TagHit, PageFacts]]:
    """(vendor, kind) → (hit, the page where it was first seen)."""
    found: dict[tuple[str, str], tuple[TagHit, PageFacts]] = {}
    for page in pages.all:
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


def hidden_tags(pages: Pages) -> Finding | None:
    """Return an unknown if tags could be there without showing in the source: manager, consent tool, loader, script."""
    for (vendor, kind), (hit, page) in all_tags(pages).items():
        shown = Evidence(page.url, page.at, hit.snippet)
        if kind == TagKind.MANAGER and not pages.rendered:
            return unknown(f"a tag manager ({vendor}) may load it", shown, value=list(hit.ids) or None)
        if kind == TagKind.CONSENT:
            return unknown(f"a consent tool ({vendor}) may load it after a visitor agrees", shown)
        if (
            kind == TagKind.LOADER
            and not pages.rendered
            and not any(tag.startswith(("G-", "AW-", "UA-")) for tag in hit.ids)
        ):
            return unknown("Google's tag is loaded with an id that the source does not show", shown)
    return hidden(pages.home)


def _none_in(pages: Pages, what: str) -> Evidence:
    read = ", ".join(page.url for page in pages.all)
    return Evidence(pages.home.url, pages.home.at, f"{what} in {read}")


def nowhere(pages: Pages, reason: str) -> Finding:
    """Something that visitors read is on no page: a gap, unless a page could not be read or does not show its text."""
    if pages.missed:
        kind, url = pages.missed[0]
        return unknown(f"the {kind} page could not be read", Evidence(url, pages.home.at, "not read"))
    return hidden(pages.home) or gap(None, reason, _none_in(pages, "none"))


def no_tag(pages: Pages, reason: str) -> Finding:
    """A tag is on no page: a gap, unless something there could bring it in unseen."""
    return hidden_tags(pages) or gap(None, reason, _none_in(pages, "none of the known tags"))


def vendor_tag(pages: Pages, kind: TagKind, vendor: str) -> Finding:
    """One vendor's tag: there, absent, or possibly brought in unseen."""
    seen = all_tags(pages).get((vendor, kind))
    if seen is not None:
        hit, page = seen
        return ok(list(hit.ids) or vendor, f"{vendor} is in place", Evidence(page.url, page.at, hit.snippet))
    return no_tag(pages, f"no tag of {vendor}")


def action(pages: Pages, kind: str) -> Finding | None:
    """An ok if a link or button of this kind stands on a page read, else None."""
    for page in pages.all:
        for found in page.content.actions:
            if found.how == kind:
                return ok(
                    found.value, f"“{found.value}”", Evidence(page.url, page.at, f"{found.value} → {found.snippet}")
                )
    return None
