"""schema.org data that says: this is a local business."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.schema_types import LOCAL_BUSINESS_TYPES
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.readable import hidden

NEAR_TYPES = frozenset({"Organization", "Corporation", "MedicalOrganization", "VeterinaryCare", "ProfessionalService"})
"""Types of a business that carry no place or hours of a local one; VeterinaryCare is not under LocalBusiness."""


def evaluate(pages: Pages) -> Finding:
    """LocalBusiness or a subtype, as JSON-LD or microdata, on any page read."""
    types = [(item, page) for page in pages.all for item in page.schema_types]
    for item, page in types:
        if item.value in LOCAL_BUSINESS_TYPES:
            return ok(item.value, f"{item.value} as {item.how}", Evidence(page.url, page.at, item.snippet))
    for page in pages.all:
        if page.schema_broken:
            return partial(
                "broken",
                "structured data is there but cannot be parsed",
                Evidence(page.url, page.at, page.schema_broken[0]),
            )
    for item, page in types:
        if item.value in NEAR_TYPES:
            return partial(
                item.value, f"{item.value}, but not a local business", Evidence(page.url, page.at, item.snippet)
            )
    concealed = hidden(pages.home)
    if concealed:
        return concealed
    if any(kind == "tag manager" for page in pages.all for kind in (hit.kind for hit in page.tags)) and not types:
        return unknown("a tag manager may add it")
    seen = ", ".join(sorted({item.value for item, _ in types})) or "no structured data"
    return gap(None, "no structured data for a local business", Evidence(pages.home.url, pages.home.at, seen))


CHECK = Check(
    id="structured_data",
    group=Group.SEARCH,
    title="Structured data",
    why="With this, search engines need not guess your hours, place and phone, and can show you on the map.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Facts that search engines can read",
        claim="Your website does not give search engines your hours, place and number in the form they read.",
        partly="Your website gives search engines only part of your hours, place and number in the form they read.",
        remedy="Add your hours, place and number in the form that search engines read.",
    ),
)
