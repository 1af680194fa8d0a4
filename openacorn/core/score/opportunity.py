"""The opportunity: need, fit and reach into one score, with terms that add up and a value in money."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from openacorn.core.audit.finding import Outcome
from openacorn.core.score.fit import Fit
from openacorn.core.score.need import MIN_KNOWN_SHARE, Need, need_of
from openacorn.core.score.reach import Reach
from openacorn.core.score.service import Service

ALPHA, BETA, GAMMA = 0.6, 0.2, 0.2
MIN_NEED_FOR_OFFER = 0.3


class State(StrEnum):
    """Whether a business has a score for a service, and if not, why."""

    SCORED = "scored"
    NOT_APPLICABLE = "not applicable"
    HELD_BACK = "held back"
    NOT_ENOUGH_KNOWN = "not enough known"


@dataclass(frozen=True, slots=True)
class Term:
    """Whole points lost to one cause; the terms of a score and the score add up to 100 exactly."""

    part: str
    label: str
    check: str | None
    points: int


@dataclass(frozen=True, slots=True)
class Opportunity:
    """One service for one business. `score` 0…100, None unless `state` is scored; money in the agency's currency."""

    service: str
    state: State
    reason: str
    need: Need
    fit: float
    reach: float
    score: int | None = None
    exact: float = 0.0
    p_win: float | None = None
    value: float | None = None
    terms: tuple[Term, ...] = ()


def largest_remainder(parts: Sequence[float], total: int) -> list[int]:
    """Round `parts` (which add up to about `total`) to whole numbers that add up to it exactly.

    Hamilton's method: floors first, then one each to the largest remainders; ties go to the earlier part.
    """
    floors = [math.floor(part) for part in parts]
    order = sorted(range(len(parts)), key=lambda i: (floors[i] - parts[i], i))
    for index in order[: total - sum(floors)]:
        floors[index] += 1
    return floors


def _losses(need: Need, fit: float, reach: float, lost: float) -> list[tuple[str, str, str | None, float]]:
    """Share `lost` points over need, fit and reach by −exponent·ln(factor), and need's part over its checks."""
    factors = (("need", need.value, ALPHA), ("fit", fit, BETA), ("reach", reach, GAMMA))
    zeros = [name for name, factor, _ in factors if factor <= 0]
    logs = {name: -exponent * math.log(factor) if factor > 0 else 0.0 for name, factor, exponent in factors}
    if zeros:  # a zero factor takes the whole score with it
        logs = {name: 1.0 if name in zeros else 0.0 for name, _, _ in factors}
    total = sum(logs.values()) or 1.0
    share = {name: lost * part / total for name, part in logs.items()}
    rows: list[tuple[str, str, str | None, float]] = []
    absent = [(term, term.weight * (1 - (term.severity or 0.0))) for term in need.terms]
    weight = sum(part for _, part in absent) or 1.0
    for term, part in absent:
        if part > 0:
            rows.append(("need", str(term.outcome), term.check, share["need"] * part / weight))
    if not any(part > 0 for _, part in absent):
        rows.append(("need", "nothing to mend", None, share["need"]))
    rows.append(("fit", "ability to pay", None, share["fit"]))
    rows.append(("reach", "ways to reach them", None, share["reach"]))
    return rows


def explain(need: Need, fit: float, reach: float, score: int, exact: float) -> tuple[Term, ...]:
    """Return the points lost, in whole points that add up to 100 − score exactly."""
    rows = _losses(need, fit, reach, 100 - exact)
    points = largest_remainder([row[3] for row in rows], 100 - score)
    return tuple(Term(part, label, check, lost) for (part, label, check, _), lost in zip(rows, points, strict=True))


def _gate(service: Service, outcomes: Mapping[str, Outcome]) -> tuple[State, str] | None:
    for gate in service.gates:
        outcome = outcomes.get(gate.check, Outcome.UNKNOWN)
        if outcome is Outcome.UNKNOWN:
            return State.HELD_BACK, f"held back: {gate.check} is unknown"
        if outcome not in gate.passes:
            return State.NOT_APPLICABLE, gate.otherwise
    return None


def score_service(service: Service, outcomes: Mapping[str, Outcome], fit: Fit, reach: Reach) -> Opportunity:
    """Score one business for one service: gates first, then 100 · need^α · fit^β · reach^γ."""
    need = need_of(service, outcomes)
    closed = _gate(service, outcomes)
    if closed:
        return Opportunity(service.id, closed[0], closed[1], need, fit.value, reach.value)
    if need.known_share < MIN_KNOWN_SHARE:
        reason = f"only {need.known_share:.0%} of what decides it is known"
        return Opportunity(service.id, State.NOT_ENOUGH_KNOWN, reason, need, fit.value, reach.value)
    exact = 100 * need.value**ALPHA * fit.value**BETA * reach.value**GAMMA
    score = round(exact)
    chance = service.odds.chance(exact)
    return Opportunity(
        service=service.id,
        state=State.SCORED,
        reason=service.sentence,
        need=need,
        fit=fit.value,
        reach=reach.value,
        score=score,
        exact=exact,
        p_win=chance,
        value=chance * service.margin,
        terms=explain(need, fit.value, reach.value, score, exact),
    )


def best_offer(opportunities: Sequence[Opportunity]) -> Opportunity | None:
    """The highest expected value among services with need of at least .3, None if there is none."""
    offers = [o for o in opportunities if o.value is not None and o.need.value >= MIN_NEED_FOR_OFFER]
    return max(offers, key=lambda o: (o.value or 0.0, o.service), default=None)
