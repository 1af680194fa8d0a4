"""Two looks at one site put together: what its source says, and what a browser showed."""

from collections.abc import Mapping
from dataclasses import replace

from openacorn.core.audit.assemble import as_shown, assemble
from openacorn.core.audit.check import EvidenceSet, run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts
from openacorn.core.audit.finding import Finding, Outcome
from openacorn.core.audit.offsite import DomainNames, SiteSearch

BEST = (Outcome.OK, Outcome.PARTIAL, Outcome.GAP)
"""Where the two disagree the better one counts: no gap is reported that either look denies."""


def judged(
    listing: ListingFacts, crawl: Crawl | None, search: SiteSearch | None = None, names: DomainNames | None = None
) -> dict[str, Finding]:
    """Check id → finding, from the source, and from what a browser showed where there is that."""
    by_source = run_checks(assemble(listing, crawl, search, names))
    shown = as_shown(crawl) if crawl is not None else None
    if shown is None:
        return by_source
    evidence: EvidenceSet = assemble(listing, shown, search, names)
    return combined(by_source, run_checks(evidence))


def combined(by_source: Mapping[str, Finding], shown: Mapping[str, Finding]) -> dict[str, Finding]:
    """An unknown gives way to what is known; of two that are known and differ, the better one counts, with the evidence of both."""
    found = {}
    for check, source in by_source.items():
        browser = shown.get(check, source)
        if source.outcome == browser.outcome or browser.outcome is Outcome.UNKNOWN:
            found[check] = source
        elif source.outcome is Outcome.UNKNOWN or source.outcome not in BEST or browser.outcome not in BEST:
            found[check] = (
                replace(browser, reason=f"{browser.reason} (seen in a browser)") if browser.outcome in BEST else source
            )
        else:
            best = min(source, browser, key=lambda finding: BEST.index(finding.outcome))
            reason = f"in the source: {source.reason}; in a browser: {browser.reason}"
            found[check] = replace(best, reason=reason, evidence=(*source.evidence, *browser.evidence))
    return found
