"""Can customers book online?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding, ok
from openacorn.core.audit.readable import action, nowhere
from openacorn.core.audit.tag_evidence import tags_of


def evaluate(pages: Pages) -> Finding:
    """A booking service in the page or linked from it, or a button or address that says so."""
    for vendor, seen in tags_of(pages, TagKind.BOOKING).items():
        return ok(vendor, f"booked through {vendor}", seen)
    return action(pages, "booking") or nowhere(
        pages,
        "no way to book online on the pages read",
        "booking service, or link or button to book",
        in_words=True,
        framed=True,
    )


CHECK = Check(
    id="booking",
    group=Group.CONTENT,
    title="Online booking",
    why="Customers who can book straight away do not call a competitor.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=20,
    owner=OwnersWords(
        topic="Online booking",
        claim="Customers cannot book with you online.",
        remedy="Add a calendar where customers can book themselves.",
    ),
)
