"""A form to write by."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import nowhere


def judge(pages: Pages) -> Finding:
    """A form with room to write, or one that asks for an address and more; sign-ups to newsletters do not count."""
    for page in pages.all:
        if page.content.contact_form:
            return ok(page.url, "there is a form", Evidence(page.url, page.at, page.content.contact_form))
    return nowhere(pages, "no contact form on the pages read")


CHECK = Check(
    id="contact_form",
    group=Group.CONTACT,
    title="Contact form",
    why="Nobody calls at eleven at night; a form takes the enquiry.",
    needs=(Pages,),
    judge=judge,
    owner=OwnersWords(
        topic="A contact form",
        claim="Your website has no contact form.",
        remedy="Add a short form that reaches you.",
    ),
)
