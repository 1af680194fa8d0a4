"""Named people with their role."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.people import rank_of
from openacorn.core.audit.finding import Evidence, Finding, ok, unknown
from openacorn.core.audit.readable import nowhere


def evaluate(pages: Pages) -> Finding:
    """People named beside a role that decides, the best role first."""
    found = [(person, page) for page in pages.all for person in page.content.people]
    if not found:
        for page in pages.all:
            if page.written_in not in ("", "en"):
                return unknown("we know roles in English only", Evidence(page.url, page.at, page.text_start[:120]))
        return nowhere(pages, "nobody is named with a role on the pages read", "name beside a role that decides")
    found.sort(key=lambda pair: rank_of(pair[0].how))
    names = list(dict.fromkeys(f"{person.value}, {person.how}" for person, _ in found))
    return ok(names[:6], names[0], *(Evidence(page.url, page.at, person.snippet) for person, page in found[:3]))


CHECK = Check(
    id="people_named",
    group=Group.CONTACT,
    title="Staff named",
    why="Customers trust a face and a name more than a logo.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=70,
    owner=OwnersWords(
        topic="People behind the name",
        claim="Your website does not say who works there.",
        remedy="Show who works there, with a picture.",
    ),
)
