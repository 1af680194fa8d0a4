"""Need: how much of what a service mends is missing."""

from collections.abc import Mapping
from dataclasses import dataclass

from openacorn.core.audit.finding import Outcome
from openacorn.core.score.service import Rule, Service

SEVERITY = {Outcome.GAP: 1.0, Outcome.PARTIAL: 0.5, Outcome.OK: 0.0}
MIN_KNOWN_SHARE = 0.5


@dataclass(frozen=True, slots=True)
class NeedTerm:
    """One rule's part. `severity` None: unknown. `weight` is its share of the applicable weight (they add to 1)."""

    check: str
    outcome: Outcome
    weight: float
    severity: float | None
    decisive: bool


@dataclass(frozen=True, slots=True)
class Need:
    """`value` is a lower bound (unknown adds nothing), `upper` takes every unknown as a gap; both 0…1."""

    value: float
    upper: float
    known_share: float
    terms: tuple[NeedTerm, ...]
    decided_by: str | None = None


def severity_of(rule: Rule, outcome: Outcome) -> float | None:
    """The rule's own curve, else gap 1, partial .5, ok 0; None for unknown and not applicable."""
    if outcome in rule.severity:
        return rule.severity[outcome]
    return SEVERITY.get(outcome)


def need_of(service: Service, outcomes: Mapping[str, Outcome]) -> Need:
    """Return need = Σ_known w·severity ÷ Σ_applicable w, lifted by decisive checks.

    `outcomes`: check id → outcome; a check that was never answered counts as unknown.
    """
    rules = [(rule, outcomes.get(rule.check, Outcome.UNKNOWN)) for rule in service.rules]
    applicable = [(rule, outcome) for rule, outcome in rules if outcome is not Outcome.NOT_APPLICABLE]
    total = sum(rule.weight for rule, _ in applicable)
    if total == 0:
        return Need(0.0, 0.0, 1.0, ())
    terms, value, upper, known = [], 0.0, 0.0, 0.0
    lift, most_lift, decided_by = 0.0, 0.0, None
    for rule, outcome in applicable:
        severity = severity_of(rule, outcome)
        worst = _worst(rule) if severity is None else severity
        terms.append(NeedTerm(rule.check, outcome, rule.weight / total, severity, rule.decisive))
        value += rule.weight * (severity or 0.0)
        upper += rule.weight * worst
        known += 0.0 if severity is None else rule.weight
        if rule.decisive:
            most_lift = max(most_lift, worst)
            if (severity or 0.0) > lift:
                lift, decided_by = severity or 0.0, rule.check
    # divided at the end, as for the whole table at once: shares summed up would fall short of a bound by their rounding
    value, upper, known = value / total, upper / total, known / total
    if lift <= value:
        decided_by = None
    return Need(min(1.0, max(value, lift)), min(1.0, max(upper, most_lift)), known, tuple(terms), decided_by)


def _worst(rule: Rule) -> float:
    """The severity an unknown could turn out to have."""
    return max(severity_of(rule, outcome) or 0.0 for outcome in SEVERITY)
