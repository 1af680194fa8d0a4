"""The place in a local search for the trade, asked at the town's centre."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.reputation import LocalRank

SHOWN = 3
"""Common practice: a map's answer opens with three places; most people choose among them."""

FIRST_PAGE = 20
"""Common practice: hardly anybody asks for a second page of places."""


def judge(said: LocalRank) -> Finding:
    """Among the first three, on the first page, or where nobody looks."""
    asked = f"{said.word} in {said.town}"
    if said.rank is None:
        shown = Evidence(said.source, said.at, f"not among the first {said.of} for “{asked}”")
        return gap(f"beyond {said.of}", f"beyond the first {said.of} for {asked}", shown)
    shown = Evidence(said.source, said.at, f"number {said.rank} of {said.of} for “{asked}”")
    if said.rank <= SHOWN:
        return ok(said.rank, f"number {said.rank} for {asked}", shown)
    if said.rank <= FIRST_PAGE:
        return partial(said.rank, f"number {said.rank} for {asked}: on the first page, below the first three", shown)
    return gap(said.rank, f"number {said.rank} for {asked}: hardly anybody looks that far", shown)


CHECK = Check(
    id="search_rank",
    group=Group.REPUTATION,
    title="Rank in local search",
    why="Whoever searches for your trade in your town chooses among the first few names.",
    needs=(LocalRank,),
    judge=judge,
    rank=15,
)
