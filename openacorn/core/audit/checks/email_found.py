"""An e-mail address on the site."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import nowhere


def evaluate(pages: Pages) -> Finding:
    """On the home page or a contact page; if such a page could not be read, it may be there."""
    found = {
        mail.value: Evidence(page.url, page.at, mail.snippet) for page in reversed(pages.all) for mail in page.emails
    }
    if found:
        return ok(sorted(found), f"{len(found)} found", *found.values())
    return nowhere(pages, "no e-mail address", "e-mail address")


CHECK = Check(
    id="email_found",
    group=Group.CONTACT,
    title="E-mail on site",
    why="Some customers would rather write than call, also at night.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="An e-mail address on your site",
        claim="Your website gives no e-mail address.",
        remedy="Give an address that you read.",
    ),
)
