"""A phone number on the site, as text."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.readable import hidden


def judge(pages: Pages) -> Finding:
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
    if pages.missed:
        kind, url = pages.missed[0]
        return unknown(f"the {kind} page could not be read", Evidence(url, pages.home.at, "not read"))
    read = ", ".join(page.url for page in pages.all)
    return hidden(pages.home) or gap(
        None, "no phone number as text", Evidence(pages.home.url, pages.home.at, f"none in {read}")
    )


CHECK = Check(
    id="phone_found",
    group=Group.CONTACT,
    title="Phone on site",
    why="On a phone, a number that can be tapped is the shortest way to a customer.",
    needs=(Pages,),
    judge=judge,
)
