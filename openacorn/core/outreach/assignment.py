"""Who gets which business: by trade and place, and among several people the one with least to do."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from openacorn.core.geo.geodesy import Point
from openacorn.core.geo.territory import Territory


@dataclass(frozen=True, slots=True)
class AssignmentRule:
    """trades: ids it is about, empty for every trade; area: None for everywhere; people: who takes turns."""

    trades: frozenset[str]
    area: Territory | None
    people: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Unassigned:
    """A business nobody has. point: None where its place is not known; then no rule for an area is about it."""

    id: int
    trade: str
    point: Point | None


def _fits(rule: AssignmentRule, business: Unassigned) -> bool:
    if rule.trades and business.trade not in rule.trades:
        return False
    return rule.area is None or (business.point is not None and rule.area.contains(business.point))


def assign(
    businesses: Iterable[Unassigned],
    rules: Iterable[AssignmentRule],
    load: Mapping[str, int],
    held: Mapping[int, str] | None = None,
) -> dict[int, str]:
    """Business → who gets it, by the first rule that fits; a business that no rule fits is left out.

    load: person → open businesses they have; the one with the fewest is next, among equals the first in the rule.
    held: business → who has it on another list: they get it here too, so that one owner is not called by two people.
    """
    rules, open_now, found = tuple(rules), dict(load), dict[int, str]()
    for business in businesses:
        if held and business.id in held:
            found[business.id] = held[business.id]
            continue
        rule = next((rule for rule in rules if rule.people and _fits(rule, business)), None)
        if rule is not None:
            person = min(rule.people, key=lambda name: open_now.get(name, 0))
            open_now[person] = open_now.get(person, 0) + 1
            found[business.id] = person
    return found
