"""The rating, against the nearest of the trade."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.reputation import Reputation

LOW, GOOD = 3.5, 4.2
"""Common practice: under 3.5 stars most people look on; from about 4.2 the stars no longer decide."""

LOWER_HALF = 0.5
ENOUGH = 5
"""A mean of fewer reviews is one customer's mood."""


def evaluate(reputation: Reputation) -> Finding:
    """Low is low anywhere; in between it is a matter of how the neighbours stand."""
    if reputation.rating is None or not reputation.reviews or reputation.reviews < ENOUGH:
        return unknown(f"fewer than {ENOUGH} reviews give no rating to speak of", value=reputation.rating)
    beside = (
        f", as good as or better than {reputation.rating_rank:.0%} of {reputation.peers} peers"
        if reputation.rating_rank is not None
        else ""
    )
    shown = Evidence(
        reputation.source, reputation.at, f"{reputation.rating:.1f} of 5 from {reputation.reviews} reviews{beside}"
    )
    if reputation.rating < LOW:
        return gap(reputation.rating, f"rated {reputation.rating:.1f}: most people look on", shown)
    if reputation.rating < GOOD and reputation.rating_rank is not None and reputation.rating_rank < LOWER_HALF:
        return partial(reputation.rating, f"rated {reputation.rating:.1f}, below most peers nearby", shown)
    return ok(reputation.rating, f"rated {reputation.rating:.1f}", shown)


CHECK = Check(
    id="rating",
    group=Group.REPUTATION,
    title="Rating",
    why="Stars are read before the name.",
    needs=(Reputation,),
    evaluate=evaluate,
    rank=25,
)
