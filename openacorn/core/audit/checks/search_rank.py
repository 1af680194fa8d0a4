"""The place in a local search for the trade, asked at the town's centre."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.reputation import LocalRank

SHOWN = 3
"""Common practice: a map's answer opens with three places; most people choose among them."""

FIRST_PAGE = 20
"""Common practice: hardly anybody asks for a second page of places."""


def evaluate(local_rank: LocalRank) -> Finding:
    """Among the first three, on the first page, or where nobody looks."""
    asked = f"{local_rank.word} in {local_rank.town}"
    if local_rank.rank is None:
        shown = Evidence(local_rank.source, local_rank.at, f"not among the first {local_rank.of} for “{asked}”")
        return gap(f"beyond {local_rank.of}", f"beyond the first {local_rank.of} for {asked}", shown)
    shown = Evidence(local_rank.source, local_rank.at, f"number {local_rank.rank} of {local_rank.of} for “{asked}”")
    if local_rank.rank <= SHOWN:
        return ok(local_rank.rank, f"number {local_rank.rank} for {asked}", shown)
    if local_rank.rank <= FIRST_PAGE:
        return partial(
            local_rank.rank, f"number {local_rank.rank} for {asked}: on the first page, below the first three", shown
        )
    return gap(local_rank.rank, f"number {local_rank.rank} for {asked}: hardly anybody looks that far", shown)


CHECK = Check(
    id="search_rank",
    group=Group.REPUTATION,
    title="Rank in local search",
    why="People who search for your trade in your town choose among the first few names.",
    needs=(LocalRank,),
    evaluate=evaluate,
    rank=15,
)
