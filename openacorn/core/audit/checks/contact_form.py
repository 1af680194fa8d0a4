"""A form to write by."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok, unknown
from openacorn.core.audit.readable import nowhere
from openacorn.core.audit.tag_evidence import tags_of


def evaluate(pages: Pages) -> Finding:
    """A form with room to write, or one that asks for an address and more; sign-ups to newsletters do not count."""
    for page in pages.all:
        if page.content.contact_form:
            return ok(page.url, "there is a form", Evidence(page.url, page.at, page.content.contact_form))
    for vendor, seen in tags_of(pages, TagKind.FORM).items():
        return unknown(f"forms by {vendor} are loaded, but what they are for does not show", seen)
    for page in pages.all:
        if page.content.form_perhaps:
            where = Evidence(page.url, page.at, page.content.form_perhaps)
            return unknown("there is a form, but what it is for does not show", where)
    return nowhere(
        pages,
        "no contact form on the pages read",
        "form with room to write, or that asks for an address and more",
        framed=True,
    )


CHECK = Check(
    id="contact_form",
    group=Group.CONTACT,
    title="Contact form",
    why="Nobody calls at eleven at night; a form takes the enquiry.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A contact form",
        claim="Your website has no contact form.",
        remedy="Add a short form that reaches you.",
    ),
)
