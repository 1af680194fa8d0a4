"""Can the phone number be tapped?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok
from openacorn.core.audit.readable import hidden


def evaluate(pages: Pages) -> Finding:
    """A tel: link (RFC 3966) on any page read. Phones guess numbers in a text, but not all of them, nor always."""
    calls = [(call, page) for page in pages.all for call in page.phones]
    links = [(call, page) for call, page in calls if call.how == "link"]
    if links:
        call, page = links[0]
        return ok(call.value, "the number can be tapped", Evidence(page.url, page.at, call.snippet))
    if calls:
        call, page = calls[0]
        return gap(call.value, "the number stands there only as text", Evidence(page.url, page.at, call.snippet))
    return hidden(pages.home) or not_applicable("no number was found on the pages")


CHECK = Check(
    id="tap_phone",
    group=Group.MOBILE,
    title="Tap-to-call number",
    why="Most people who look you up on a phone want to call: one tap, or copying ten digits.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A number that can be tapped",
        claim="Visitors cannot tap your phone number to call you.",
        remedy="Make the number a link that calls you.",
    ),
)
