"""The year in the copyright line."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial
from openacorn.core.audit.readable import hidden

STALE_YEARS, OLD_YEARS = 2, 4
"""A line one year old may just have passed New Year (ours)."""


def evaluate(pages: Pages) -> Finding:
    """The latest year that stands beside a copyright mark, against the year of the visit."""
    years = [(page.content.copyright_year, page) for page in pages.all if page.content.copyright_year]
    if not years:
        return hidden(pages.home) or not_applicable("no copyright line was found")
    year, page = max(years, key=lambda pair: pair[0] or 0)
    age = int(page.at[:4]) - (year or 0)
    shown = Evidence(page.url, page.at, page.content.copyright_words)
    if age >= OLD_YEARS:
        return gap(year, f"the copyright line says {year}: {age} years old", shown)
    if age >= STALE_YEARS:
        return partial(year, f"the copyright line says {year}", shown)
    return ok(year, f"the copyright line says {year}", shown)


CHECK = Check(
    id="copyright_year",
    group=Group.CONTENT,
    title="Copyright year",
    why="An old year at the bottom of the page makes people ask whether you are still there.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=60,
    owner=OwnersWords(
        topic="A page that looks kept up",
        claim="The year at the bottom of your pages is years old.",
        partly="The year at the bottom of your pages is out of date.",
        remedy="Update the pages, and let the year update automatically.",
    ),
)
