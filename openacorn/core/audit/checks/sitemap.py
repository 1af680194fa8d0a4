"""A sitemap for search engines."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.offsite import Crawling


def evaluate(crawling: Crawling, pages: Pages) -> Finding:
    """Named in robots.txt, or at one of the usual addresses (sitemaps.org); one submitted by hand does not show."""
    page = pages.home
    if crawling.sitemap:
        return ok(crawling.sitemap, "there is a sitemap", Evidence(crawling.sitemap, crawling.at, crawling.sitemap))
    if not crawling.sitemap_known:
        return unknown("it could not be looked up")
    shown = Evidence(page.url, crawling.at, f"none in {crawling.rule}, none at the usual addresses")
    return gap(None, "no sitemap in robots.txt or at the usual address", shown)


CHECK = Check(
    id="sitemap",
    group=Group.SEARCH,
    title="Sitemap",
    why="With such a list search engines know every page you have, even those no link leads to.",
    needs=(Crawling, Pages),
    evaluate=evaluate,
    weight=0.5,
    rank=60,
    owner=OwnersWords(
        topic="A list of pages for search engines",
        claim="Your website does not give search engines a list of your pages.",
        remedy="Add a list of your pages that updates automatically.",
    ),
)
