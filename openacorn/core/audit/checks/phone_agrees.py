"""Does the site give the listed phone number?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import ListingFacts, Pages
from openacorn.core.audit.finding import Evidence, Finding, not_applicable, ok, partial
from openacorn.core.audit.readable import hidden


def evaluate(pages: Pages, listing: ListingFacts) -> Finding:
    """Both in E.164; another number may be right, but one of the two leads some callers astray."""
    if not listing.phone:
        return not_applicable("no phone is listed")
    calls = {call.value: (call, page) for page in reversed(pages.all) for call in page.phones}
    if not calls:
        return hidden(pages.home) or not_applicable("no number was found on the pages")
    if listing.phone in calls:
        call, page = calls[listing.phone]
        return ok(listing.phone, "site and listings give the same number", Evidence(page.url, page.at, call.snippet))
    call, page = next(iter(calls.values()))
    return partial(
        sorted(calls),
        f"the listings give {listing.phone}, the site does not",
        Evidence(page.url, page.at, call.snippet),
        Evidence(listing.source, listing.at, f"phone: {listing.phone}"),
    )


CHECK = Check(
    id="phone_agrees",
    group=Group.CONTACT,
    title="Phone matches listings",
    why="Search engines trust a business whose name, address and number are the same everywhere.",
    needs=(Pages, ListingFacts),
    evaluate=evaluate,
    rank=60,
    owner=OwnersWords(
        topic="The same number everywhere",
        partly="The number on your website differs from the one in your listings.",
        remedy="Use the same number everywhere you are listed.",
    ),
)
