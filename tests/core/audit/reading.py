"""Helpers of the audit tests: a page read, a site judged."""

from pathlib import Path

from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts, PageFacts, Pages, Visit, Weights
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.finding import Finding

URL = "https://harbourvets.example/"
AT = "2026-09-01T00:00:00+00:00"
REFERENCES = Path(__file__).resolve().parents[2] / "references" / "node_modules"


def page(html: str, region: str | None = "AU") -> PageFacts:
    return read_page(html, URL, AT, region)


def judged(html: str, *, website: str = URL, region: str | None = "AU", status: int = 200) -> dict[str, Finding]:
    """Every check's answer for a site of one page."""
    visit = Visit(website, URL, AT, (URL,), status)
    crawl = Crawl(visit, Pages(page(html, region)), Weights(len(html), (), 0))
    return run_checks(assemble(ListingFacts("Harbour Vets", website, "a listing", AT), crawl))
