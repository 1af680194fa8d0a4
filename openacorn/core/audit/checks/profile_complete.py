"""Is the listing's profile filled in?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.reputation import Reputation

GAP_FROM = 3
"""Half of a profile's parts (ours)."""


def evaluate(reputation: Reputation) -> Finding:
    """Phone, website, hours, street, category and pictures, of the fullest listing; only sources with pictures show all of that."""
    if reputation.photos is None:
        return unknown("no source that shows a whole profile lists it")
    shown = Evidence(reputation.source, reputation.at, f"given: {', '.join(reputation.given) or 'nothing'}")
    if not reputation.missing:
        return ok(100, "everything is filled in", shown)
    text = f"missing: {', '.join(reputation.missing)}"
    return (
        gap(list(reputation.missing), text, shown)
        if len(reputation.missing) >= GAP_FROM
        else partial(list(reputation.missing), text, shown)
    )


CHECK = Check(
    id="profile_complete",
    group=Group.REPUTATION,
    title="Profile complete",
    why="People choose listings by what they show, and skip empty ones.",
    needs=(Reputation,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A complete listing",
        claim="Your listing lacks much of what people choose by.",
        partly="Your listing lacks some of what people choose by.",
        remedy="Complete the listing together.",
    ),
)
