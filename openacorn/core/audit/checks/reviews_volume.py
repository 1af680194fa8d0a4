"""How many reviews, against the nearest of the trade."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.reputation import Reputation

LAST_QUARTER, LOWER_HALF = 0.25, 0.5


def evaluate(reputation: Reputation) -> Finding:
    """The nearest 25 of the same trade, at least 8; a count by itself says nothing."""
    if reputation.reviews is None:
        return unknown("no source counts its reviews")
    if reputation.reviews_rank is None:
        return unknown("too few peers nearby to compare with", value=reputation.reviews)
    shown = Evidence(
        reputation.source,
        reputation.at,
        f"{reputation.reviews} reviews, as many as or more than {reputation.reviews_rank:.0%} of {reputation.peers} peers",
    )
    if reputation.reviews_rank < LAST_QUARTER:
        return gap(reputation.reviews, f"fewer reviews than three of four peers nearby ({reputation.reviews})", shown)
    if reputation.reviews_rank < LOWER_HALF:
        return partial(reputation.reviews, f"fewer reviews than most peers nearby ({reputation.reviews})", shown)
    return ok(reputation.reviews, f"{reputation.reviews} reviews, more than most peers nearby", shown)


CHECK = Check(
    id="reviews_volume",
    group=Group.REPUTATION,
    title="Number of reviews",
    why="Of two equal listings, people take the one with more reviews.",
    needs=(Reputation,),
    evaluate=evaluate,
    rank=20,
    owner=OwnersWords(
        topic="Reviews by customers",
        claim="You have fewer reviews than three in four businesses of your trade nearby.",
        partly="You have fewer reviews than most businesses of your trade nearby.",
        remedy="Ask every happy customer, in a way that takes a minute.",
    ),
)
