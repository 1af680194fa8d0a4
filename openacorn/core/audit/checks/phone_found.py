"""A phone number on the site, as text."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, ok, unknown
from openacorn.core.audit.readable import nowhere


def evaluate(pages: Pages) -> Finding:
    """On the home page or a contact page, as text or link; a number in a picture cannot be copied, tapped or found."""
    found = {
        call.value: Evidence(page.url, page.at, call.snippet) for page in reversed(pages.all) for call in page.phones
    }
    if found:
        return ok(sorted(found), f"{len(found)} found", *found.values())
    unread = [(digits, page) for page in pages.all for digits in page.phone_like]
    if unread:
        digits, page = unread[0]
        return unknown("numbers are shown, but their country is not known", Evidence(page.url, page.at, digits))
    return nowhere(pages, "no phone number as text", "phone number")


CHECK = Check(
    id="phone_found",
    group=Group.CONTACT,
    title="Phone on site",
    why="On a phone, a number that can be tapped is the shortest way to a customer.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A phone number on your site",
        claim="Your website gives no phone number.",
        remedy="Put your number at the top of every page.",
    ),
)
