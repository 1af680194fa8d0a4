"""The search for a site that no listing gives: the domains of known addresses, and the name as a domain."""

from dataclasses import dataclass, replace

from openacorn.clock import utc_now
from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_check
from openacorn.core.audit.checks.site_ownership import CHECK as OWNERSHIP
from openacorn.core.audit.evidence import Crawl, Failure, ListingFacts
from openacorn.core.audit.finding import Outcome
from openacorn.core.audit.freemail import is_freemail
from openacorn.core.audit.hosts import borrowed
from openacorn.core.audit.name_candidates import name_domains
from openacorn.core.audit.offsite import Candidate, SiteSearch
from openacorn.core.geo.region import region_of_number
from openacorn.net.probes.notes import RawPage
from openacorn.net.probes.site import SiteProbe

MAX_TRIED = 6
NOBODY = {Failure.NO_SUCH_NAME, Failure.REFUSED, Failure.UNREACHABLE}
"""Failures after which nobody answers at an address."""


@dataclass(frozen=True, slots=True)
class Discovery:
    """What the search brought: every address tried, and the visit to the site that is theirs, if one is."""

    search: SiteSearch
    crawl: Crawl | None = None
    pages: tuple[RawPage, ...] = ()


def candidates(facts: ListingFacts, emails: tuple[str, ...], endings: tuple[str, ...]) -> list[tuple[str, str]]:
    """(host, what led there), the surest first, each once."""
    found: dict[str, str] = {}
    for address in emails:
        domain = address.rpartition("@")[2].lower()
        if domain and not is_freemail(domain) and not borrowed(domain):
            found.setdefault(domain, f"the domain of {address}")
    for domain in name_domains(facts.name, facts.town, endings):
        found.setdefault(domain, "the name as a domain")
    return list(found.items())[:MAX_TRIED]


def _verdict(facts: ListingFacts, crawl: Crawl, url: str) -> tuple[str, str]:
    """("theirs" and so on, what shows it)."""
    visit = crawl.visit
    if visit.failure in NOBODY:
        return "nothing there", str(visit.failure)
    if not visit.answered:
        # a dead server may be theirs, but then there is no site either; one that turns robots away may hold one
        dead = visit.status is not None and visit.status in {404, 410}
        return ("nothing there" if dead else "undecided"), visit.detail or f"HTTP {visit.status}"
    if crawl.pages is not None and crawl.pages.home.placeholder:
        return "nothing there", f"a {crawl.pages.home.placeholder} page"
    finding = run_check(OWNERSHIP, assemble(replace(facts, website=url), crawl))
    shown = finding.evidence[0].snippet if finding.evidence else finding.reason
    if finding.outcome is Outcome.OK:
        return "theirs", f"{finding.reason}: {shown}"
    return ("not theirs" if finding.outcome is Outcome.GAP else "undecided"), f"{finding.reason}: {shown}"


async def discover_site(
    probe: SiteProbe, facts: ListingFacts, emails: tuple[str, ...], endings: tuple[str, ...]
) -> Discovery:
    """Try every address that might be the business's, until one is."""
    tried: list[Candidate] = []
    for host, how in candidates(facts, emails, endings):
        crawl, pages = await probe.visit(host, region=region_of_number(facts.phone))
        verdict, shown = _verdict(facts, crawl, crawl.visit.url)
        tried.append(Candidate(crawl.visit.url if crawl.visit.answered else host, how, verdict, shown[:200]))
        if verdict == "theirs":
            return Discovery(SiteSearch(utc_now(), tuple(tried)), crawl, pages)
    return Discovery(SiteSearch(utc_now(), tuple(tried)))
