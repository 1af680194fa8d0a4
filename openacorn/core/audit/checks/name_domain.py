"""Is the business's name free as a domain?"""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import ListingFacts
from openacorn.core.audit.finding import Evidence, Finding, not_applicable, ok, partial, unknown
from openacorn.core.audit.offsite import DomainNames


def evaluate(names: DomainNames, _listing: ListingFacts) -> Finding:
    """The candidates for the chosen endings, by the registry's answers (RDAP, RFC 9082); something to offer, not a fault."""
    free = [name for name, state in names.names if state == "free"]
    shown = Evidence(names.registry, names.at, ", ".join(f"{name} {state}" for name, state in names.names[:8]))
    if free:
        best = free[0]
        letters = len(best.split(".")[0])
        return partial(free[:6], f"{best} is free ({letters} letters)", shown)
    if any(state == "unknown" for _, state in names.names):
        return unknown("the registry did not answer for all of them", shown)
    return (
        ok("taken", "every form of the name that was tried is taken", shown)
        if names.names
        else not_applicable("no name to try")
    )


CHECK = Check(
    id="name_domain",
    group=Group.PRESENCE,
    title="Name as a domain",
    why="The best address is your own name, while nobody else has it.",
    needs=(DomainNames, ListingFacts),
    evaluate=evaluate,
    rank=45,
)
