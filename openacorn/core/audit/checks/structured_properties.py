"""Does the structured data of the business say what search engines ask for?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.schema_types import LOCAL_BUSINESS_TYPES
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial
from openacorn.core.audit.readable import hidden

REQUIRED = ("name", "address")
RECOMMENDED = ("telephone", "openingHours", "url", "image", "geo")
"""Google's documentation of LocalBusiness: two required, the others recommended (from memory)."""

SAME_AS = {"openingHoursSpecification": "openingHours", "logo": "image", "photo": "image", "location": "address"}
MAY_LACK = 2
"""So many recommended ones may be missing before it is worth a word (ours)."""


def evaluate(pages: Pages) -> Finding:
    """The fullest local business described on the pages read."""
    found = [(item, page) for page in pages.all for item in page.content.items if item.type in LOCAL_BUSINESS_TYPES]
    if not found:
        return hidden(pages.home) or not_applicable("no local business is described in structured data")
    given = {SAME_AS.get(name, name) for item, _ in found for name in item.properties}
    item, page = max(found, key=lambda pair: len(pair[0].properties))
    shown = Evidence(page.url, page.at, f"{item.type} as {item.how}: {', '.join(item.properties[:12])}")
    needed = [name for name in REQUIRED if name not in given]
    missing = [name for name in RECOMMENDED if name not in given]
    if needed:
        return gap(needed, f"required, but not given: {', '.join(needed)}", shown)
    if len(missing) > MAY_LACK:
        return partial(missing, f"recommended, but not given: {', '.join(missing)}", shown)
    return ok(sorted(given), "what search engines ask for is given", shown)


CHECK = Check(
    id="structured_properties",
    group=Group.SEARCH,
    title="Structured data's content",
    why="Search engines guess or leave out what they are not told of your hours, address and number.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=65,
    owner=OwnersWords(
        topic="Complete facts for search engines",
        claim="The facts your pages give search engines lack what they require.",
        partly="The facts your pages give search engines are incomplete.",
        remedy="Fill in what search engines ask for.",
    ),
)
