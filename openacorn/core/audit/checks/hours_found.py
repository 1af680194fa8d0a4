"""Opening hours on the site."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import nowhere

IN_DATA = {"openingHours", "openingHoursSpecification"}


def evaluate(pages: Pages) -> Finding:
    """A weekday beside a span of times, or hours in structured data."""
    for page in pages.all:
        if page.content.hours:
            return ok(
                page.content.hours, "the hours stand on the site", Evidence(page.url, page.at, page.content.hours)
            )
    for page in pages.all:
        for item in page.content.items:
            if IN_DATA & set(item.properties):
                return ok("in structured data", "the hours are given", Evidence(page.url, page.at, item.type))
    return nowhere(
        pages,
        "no opening hours on the pages read",
        "day beside a time, or hours in structured data",
        in_words=True,
        framed=True,
    )


CHECK = Check(
    id="hours_found",
    group=Group.CONTACT,
    title="Hours on site",
    why="“Are they open?” is the question most people come with.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Opening hours on your site",
        claim="Your website does not say when you are open.",
        remedy="Put your hours where people look first.",
    ),
)
