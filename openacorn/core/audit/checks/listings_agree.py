"""Do the listings agree on name, address and phone?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, not_applicable, ok, partial
from openacorn.core.audit.reputation import Reputation


def evaluate(reputation: Reputation) -> Finding:
    """Over all sources that list it; spelling and abbreviations are no disagreement."""
    if len(reputation.sources) < 2:
        return not_applicable("only one source lists it")
    if reputation.differences:
        shown = [Evidence(" and ".join(reputation.sources), reputation.at, text) for text in reputation.differences[:3]]
        return partial(
            list(reputation.differences),
            f"the listings differ in {len(reputation.differences)} of name, street, phone",
            *shown,
        )
    return ok(
        len(reputation.sources),
        f"{len(reputation.sources)} sources agree",
        Evidence(", ".join(reputation.sources), reputation.at, "the same"),
    )


CHECK = Check(
    id="listings_agree",
    group=Group.REPUTATION,
    title="Listings match",
    why="Search engines trust a business whose name, address and number are the same everywhere.",
    needs=(Reputation,),
    evaluate=evaluate,
    rank=70,
    owner=OwnersWords(
        topic="Listings that agree",
        partly="Your listings do not agree about your name, address or number.",
        remedy="Make them match everywhere.",
    ),
)
