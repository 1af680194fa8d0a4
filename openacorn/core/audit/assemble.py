"""From one business's listing facts and crawl to the evidence set that checks are run on."""

from openacorn.core.audit.check import Absent, EvidenceSet
from openacorn.core.audit.evidence import Crawl, Crawling, Destination, ListingFacts, PageFacts, Pages, Visit, Weights
from openacorn.core.audit.hosts import borrowed, host_of

PAGE_EVIDENCE = (PageFacts, Pages, Weights)


def not_fetched(website: str | None) -> str | None:
    """Return why a listed website is not visited at all (none listed, or a page on somebody's platform), else None."""
    if not website:
        return "no website is listed"
    loan = borrowed(host_of(website))
    if loan and loan[0] != "builder's subdomain":
        return f"the listed website is a {loan[0]} ({loan[1]})"
    return None


def _destination(listing: ListingFacts, crawl: Crawl | None) -> Destination | Absent:
    if not listing.website:
        return Absent("no website is listed", applicable=False)
    if crawl is not None and crawl.visit.answered:
        return Destination(crawl.visit.url, crawl.visit.at)
    return Destination(listing.website, listing.at)


def _page_evidence(crawl: Crawl) -> dict[type, object]:
    visit, pages = crawl.visit, crawl.pages
    if pages is None:
        why = str(visit.failure) if visit.failure else f"HTTP {visit.status}" if visit.status else "no answer"
        return dict.fromkeys(PAGE_EVIDENCE, Absent(f"the site could not be read: {why}"))
    evidence: dict[type, object] = {PageFacts: pages.home, Pages: pages}
    evidence[Weights] = crawl.weights or Absent(crawl.cut_short or "the page's files were not weighed")
    if pages.home.placeholder:
        instead = Absent(f"the address shows a {pages.home.placeholder} page", applicable=False)
        evidence |= {Pages: instead, Weights: instead}
    return evidence


def assemble(listing: ListingFacts, crawl: Crawl | None) -> EvidenceSet:
    """Put each piece of evidence, or the reason why it is not there, under its class.

    A site that did not answer leaves the page questions unknown; no site, or a placeholder instead of one, makes
    them not applicable: nobody sells a better title for a parked page.
    """
    evidence: dict[type, object] = {ListingFacts: listing, Destination: _destination(listing, crawl)}
    reason = not_fetched(listing.website)
    if reason:
        return evidence | dict.fromkeys((Visit, Crawling, *PAGE_EVIDENCE), Absent(reason, applicable=False))
    if crawl is None:
        return evidence | dict.fromkeys((Visit, Crawling, *PAGE_EVIDENCE), Absent("not audited yet"))
    crawling = crawl.crawling or Absent("its rules for robots were not read")
    return evidence | {Visit: crawl.visit, Crawling: crawling} | _page_evidence(crawl)
