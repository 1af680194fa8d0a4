"""The rating, against the nearest of the trade."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.reputation import Reputation

LOW, GOOD = 3.5, 4.2
"""Common practice: under 3.5 stars most people look on; from about 4.2 the stars no longer decide."""

LOWER_HALF = 0.5
ENOUGH = 5
"""A mean of fewer reviews is one customer's mood."""


def judge(said: Reputation) -> Finding:
    """Low is low anywhere; in between it is a matter of how the neighbours stand."""
    if said.rating is None or not said.reviews or said.reviews < ENOUGH:
        return unknown(f"fewer than {ENOUGH} reviews give no rating to speak of", value=said.rating)
    beside = (
        f", as good as or better than {said.rating_rank:.0%} of {said.peers} peers"
        if said.rating_rank is not None
        else ""
    )
    shown = Evidence(said.source, said.at, f"{said.rating:.1f} of 5 from {said.reviews} reviews{beside}")
    if said.rating < LOW:
        return gap(said.rating, f"rated {said.rating:.1f}: most people look on", shown)
    if said.rating < GOOD and said.rating_rank is not None and said.rating_rank < LOWER_HALF:
        return partial(said.rating, f"rated {said.rating:.1f}, below most peers nearby", shown)
    return ok(said.rating, f"rated {said.rating:.1f}", shown)


CHECK = Check(
    id="rating",
    group=Group.REPUTATION,
    title="Rating",
    why="Stars are read before the name.",
    needs=(Reputation,),
    judge=judge,
    rank=25,
)
