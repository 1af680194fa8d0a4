"""Pictures in the listing."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.reputation import Reputation

FEW = 5
"""Common practice: under five a listing looks unattended."""


def evaluate(reputation: Reputation) -> Finding:
    """As many as the listing service counts."""
    if reputation.photos is None:
        return unknown("no source counts the listing's pictures")
    shown = Evidence(reputation.source, reputation.at, f"{reputation.photos} pictures")
    if reputation.photos == 0:
        return gap(0, "the listing has no picture", shown)
    return (
        partial(reputation.photos, f"only {reputation.photos} pictures", shown)
        if reputation.photos < FEW
        else ok(reputation.photos, f"{reputation.photos} pictures", shown)
    )


CHECK = Check(
    id="listing_photos",
    group=Group.REPUTATION,
    title="Pictures in listing",
    why="A photo of the shop and its people often decides the choice before anybody reads a word.",
    needs=(Reputation,),
    evaluate=evaluate,
    rank=60,
    owner=OwnersWords(
        topic="Pictures in your listing",
        claim="Your listing has no picture.",
        partly="Your listing has only a few pictures.",
        remedy="Take good pictures of the shop, the people and the work.",
    ),
)
