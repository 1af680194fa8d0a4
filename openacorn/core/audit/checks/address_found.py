"""The street address on the site."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import ListingFacts, Pages
from openacorn.core.audit.finding import Evidence, Finding, not_applicable, ok, unknown
from openacorn.core.audit.readable import nowhere
from openacorn.core.audit.streets import street_in

HAS_ADDRESS = {"address", "streetAddress", "location"}


def evaluate(pages: Pages, listing: ListingFacts) -> Finding:
    """The listed street and number, however abbreviated; structured data that gives an address counts too."""
    if not listing.street:
        return not_applicable("no street is listed; it may come to its customers")
    for page in pages.all:
        if words := street_in(listing.street, page.content.text):
            return ok(words, "the street stands on the site", Evidence(page.url, page.at, words))
    for page in pages.all:
        for item in page.content.items:
            if HAS_ADDRESS & set(item.properties):
                return unknown(
                    "an address is given in structured data, not in the text", Evidence(page.url, page.at, item.type)
                )
    return nowhere(pages, "the listed street stands on none of the pages read", listing.street)


CHECK = Check(
    id="address_found",
    group=Group.CONTACT,
    title="Address on site",
    why="People want to know how far it is before they call.",
    needs=(Pages, ListingFacts),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Your address on your site",
        claim="Your street address is not on your website.",
        remedy="Put your address and directions on every page.",
    ),
)
