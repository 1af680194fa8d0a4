"""Has the owner claimed the listing?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.reputation import Reputation


def evaluate(reputation: Reputation) -> Finding:
    """As the listing service tells it; most other sources do not."""
    if reputation.claimed is None:
        return unknown("no source says whether the listing is claimed")
    shown = Evidence(reputation.source, reputation.at, f"claimed: {'yes' if reputation.claimed else 'no'}")
    if reputation.claimed:
        return ok(True, "the listing is claimed", shown)
    return gap(False, "nobody has claimed the listing: anybody may suggest changes to it", shown)


CHECK = Check(
    id="claimed",
    group=Group.REPUTATION,
    title="Listing claimed",
    why="Nobody looks after an unclaimed listing: wrong hours stay wrong, and reviews go unanswered.",
    needs=(Reputation,),
    evaluate=evaluate,
    rank=10,
    owner=OwnersWords(
        topic="Your listing is in your hands",
        claim="Nobody has claimed your listing, so anybody can suggest changes to it.",
        remedy="Claim the listing together and correct it.",
    ),
)
