"""A filter as a sentence: one clause for each parameter of the address, so that each can be taken away where it is read."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from openacorn.core.desk.filters import Filter, Pick

Names = Mapping[str, Callable[[str], str]]
"""Facet → what a value of it is called."""


@dataclass(frozen=True, slots=True)
class Clause:
    """A part of the sentence, and the parameter that it stands for."""

    key: str
    text: str


def _list(words: Sequence[str], joint: str) -> str:
    return words[0] if len(words) == 1 else ", ".join(words[:-1]) + f" {joint} " + words[-1]


PLAIN: dict[str, tuple[str, str]] = {
    "trade": ("", "no "),
    "town": ("in ", "not in "),
    "offer": ("best offer ", "best offer not "),
    "platform": ("made with ", "not made with "),
    "stage": ("at stage ", "not at stage "),
    "has": ("", "no "),
    "tag": ("tagged ", "not tagged "),
    "source": ("listed by ", "not listed by "),
    "shortlist": ("on ", "not on "),
    "run": ("seen in run ", "not seen in run "),
}
WEBSITE = {"none": "no website listed", "listed": "website listed"}
DAYS = {"audited": "audited", "seen": "first seen"}
UNITS: dict[str, Callable[[float], str]] = {
    "score": lambda n: f"score {n:g}",
    "value": lambda n: f"value {n:g}",
    "reviews": lambda n: f"{n:g} reviews",
    "rating": lambda n: f"{n:g} stars",
    "distance": lambda n: f"{n / 1000:g} km away",
    "gaps": lambda n: f"{n:g} gaps",
    "reach": lambda n: f"reach {n:.0%}",
    "fit": lambda n: f"fit {n:.0%}",
    "audited": lambda n: f"{DAYS['audited']} {n:g} days ago",
    "seen": lambda n: f"{DAYS['seen']} {n:g} days ago",
}


def _of_pick(facet: str, pick: Pick, name: Callable[[str], str]) -> str:
    """any, must and never of one facet in words."""
    yes, no = PLAIN.get(facet, (f"{facet}: ", f"{facet} not "))
    answer = []
    if pick.must:
        answer.append(yes + _list([name(value) for value in pick.must], "and"))
    if pick.any:
        answer.append(yes + _list([name(value) for value in pick.any], "or"))
    if pick.never:
        answer.append(no + _list([name(value) for value in pick.never], "or"))
    return " and ".join(answer)


def _of_range(name: str, low: float | None, high: float | None) -> str:
    if name in DAYS and low is None:
        return f"{DAYS[name]} within {high:g} days"
    unit = UNITS[name]
    if low is not None and high is not None:
        return unit(low) if low == high else f"{unit(low)} to {unit(high)}"
    return f"at least {unit(low)}" if low is not None else f"at most {unit(high or 0.0)}"


STATE_WORDS = {
    "rejected": "rejected only",
    "relationship": "clients & do-not-contact",
    "all": "with all held back",
}


def clauses(chosen: Filter, names: Names) -> list[Clause]:
    """The filter's clauses in the order of its parameters; none for an empty one."""
    found = []
    for facet, pick in chosen.picks.items():
        name = names.get(facet, str)
        if facet == "website":
            text = " and ".join(
                [WEBSITE[value] for value in pick.any] + [f"not: {WEBSITE[value]}" for value in pick.never]
            )
        elif facet.startswith("check."):
            title = names["check"](facet.removeprefix("check."))
            text = " and ".join(
                ([f"{title}: {_list(pick.any, 'or')}"] if pick.any else [])
                + ([f"{title} not {_list(pick.never, 'or')}"] if pick.never else [])
            )
        else:
            text = _of_pick(facet, pick, name)
        found.append(Clause(facet, text))
    found += [Clause(name, _of_range(name, low, high)) for name, (low, high) in chosen.ranges.items()]
    if chosen.text:
        found.append(Clause("q", f"“{chosen.text}” in name, town or site"))
    if chosen.pages:
        found.append(Clause("pages", f"pages say “{chosen.pages}”"))
    if chosen.within:
        found.append(Clause("within", "inside the outline drawn on the map"))
    if chosen.ids:
        found.append(Clause("ids", f"{len(chosen.ids)} picked"))
    if chosen.state != "held":
        found.append(Clause("state", STATE_WORDS[chosen.state]))
    return found


def sentence(chosen: Filter, names: Names) -> str:
    """The filter in words, clauses joined by " · "; "All businesses" for an empty one."""
    words = " · ".join(clause.text for clause in clauses(chosen, names)) or "all businesses"
    return words[0].upper() + words[1:]
