"""Does any listing give a website?"""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import ListingFacts
from openacorn.core.audit.finding import Evidence, Finding, gap, ok


def evaluate(listing: ListingFacts) -> Finding:
    """A listed address that turns out dead or borrowed is the matter of other checks."""
    if listing.website:
        return ok(
            listing.website, "a website is listed", Evidence(listing.source, listing.at, f"website: {listing.website}")
        )
    return gap(None, "no listing gives a website", Evidence(listing.source, listing.at, "website: (empty)"))


CHECK = Check(
    id="website_listed",
    group=Group.PRESENCE,
    title="Website listed",
    why="People who find you in a listing look for a link to your website; without one most go to the next name.",
    needs=(ListingFacts,),
    evaluate=evaluate,
    rank=10,
)
