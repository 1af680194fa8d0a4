"""From one business's listing facts and crawl to the evidence set that checks are run on."""

from dataclasses import replace

from openacorn.core.audit.address import host_of
from openacorn.core.audit.check import Absent, EvidenceSet
from openacorn.core.audit.evidence import (
    Crawl,
    Destination,
    FileKind,
    ListingFacts,
    PageFacts,
    Pages,
    Rendered,
    Visit,
    Weights,
)
from openacorn.core.audit.hosts import borrowed
from openacorn.core.audit.offsite import Crawling, DomainNames, MailDomain, SiteSearch

PAGE_EVIDENCE = (PageFacts, Pages, Weights, Rendered)


def not_fetched(website: str | None) -> str | None:
    """Return why a listed website is not visited at all (none listed, or a page on somebody's platform), else None."""
    if not website:
        return "no website is listed"
    loan = borrowed(host_of(website))
    if loan and loan[0] != "builder's subdomain":
        return f"the listed website is a {loan[0]} ({loan[1]})"
    return None


def _destination(listing: ListingFacts, crawl: Crawl | None) -> Destination | Absent:
    if not listing.site:
        return Absent("no website is listed", applicable=False)
    if crawl is not None and crawl.visit.answered:
        return Destination(crawl.visit.url, crawl.visit.at)
    return Destination(listing.site, listing.at)


def _page_evidence(crawl: Crawl) -> dict[type, object]:
    visit, pages = crawl.visit, crawl.pages
    if pages is None:
        why = str(visit.failure) if visit.failure else f"HTTP {visit.status}" if visit.status else "no answer"
        return dict.fromkeys(PAGE_EVIDENCE, Absent(f"the site could not be read: {why}"))
    evidence: dict[type, object] = {PageFacts: pages.home, Pages: pages, Rendered: _rendered(crawl)}
    evidence[Weights] = crawl.weights or Absent(crawl.cut_short or "the page's files were not weighed")
    if pages.home.placeholder:
        instead = Absent(f"the address shows a {pages.home.placeholder} page", applicable=False)
        evidence |= {Pages: instead, Weights: instead, Rendered: instead}
    return evidence


def _rendered(crawl: Crawl) -> Rendered | Absent:
    if crawl.rendered is None:
        return Absent("it was not opened in a browser")
    return (
        Absent(f"the browser could not show it: {crawl.rendered.failed}") if crawl.rendered.failed else crawl.rendered
    )


def as_shown(crawl: Crawl) -> Crawl | None:
    """The crawl with its home page as a browser showed it, None where it was not opened in one."""
    shown = crawl.rendered
    if shown is None or shown.page is None or crawl.pages is None:
        return None
    lost = tuple(file.url for file in shown.lost if file.kind is FileKind.SCRIPT)
    return replace(crawl, pages=replace(crawl.pages, home=shown.page, rendered=True, unread=lost))


def assemble(
    listing: ListingFacts, crawl: Crawl | None, search: SiteSearch | None = None, names: DomainNames | None = None
) -> EvidenceSet:
    """Put each piece of evidence, or the reason why it is not there, under its class.

    A site that did not answer leaves the page questions unknown; no site, or a placeholder instead of one, makes
    them not applicable: nobody sells a better title for a parked page.
    """
    evidence: dict[type, object] = {ListingFacts: listing, Destination: _destination(listing, crawl)}
    evidence[SiteSearch] = search or Absent(
        "a website is listed" if listing.website else "not searched for yet", applicable=not listing.website
    )
    own = listing.site and not borrowed(host_of(listing.site))
    evidence[DomainNames] = names or (
        Absent("it has a domain of its own", applicable=False)
        if own
        else Absent("its name was not looked up as a domain")
    )
    reason = not_fetched(listing.site)
    if reason or crawl is None:
        absent = Absent(reason, applicable=False) if reason else Absent("not audited yet")
        return evidence | dict.fromkeys((Visit, Crawling, MailDomain, *PAGE_EVIDENCE), absent)
    crawling = crawl.crawling or Absent("its rules for robots were not read")
    return evidence | {Visit: crawl.visit, Crawling: crawling, MailDomain: _mail(crawl)} | _page_evidence(crawl)


def _mail(crawl: Crawl) -> MailDomain | Absent:
    if crawl.mail is not None:
        return Absent(crawl.mail.failed) if crawl.mail.failed else crawl.mail
    loan = borrowed(host_of(crawl.visit.url))
    if loan:
        return Absent(f"it has no domain of its own, but a {loan[0]}", applicable=False)
    return Absent("its domain was not asked about mail")
