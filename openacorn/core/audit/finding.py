"""What a check may answer, and what it must show for it."""

from dataclasses import dataclass
from enum import StrEnum

Value = str | int | float | bool | None | list[str]


class Outcome(StrEnum):
    """The five outcomes. `UNKNOWN` is an answer with a reason, never a kind of `GAP`."""

    GAP = "gap"
    PARTIAL = "partial"
    OK = "ok"
    NOT_APPLICABLE = "not applicable"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class Evidence:
    """Where and when something was seen (`at`: ISO 8601, UTC), and the snippet or number that shows it."""

    url: str
    at: str
    snippet: str


@dataclass(frozen=True, slots=True)
class Finding:
    """One check's answer for one business. `crashed` marks an unknown that is our own fault, so that it is seen."""

    outcome: Outcome
    value: Value
    evidence: tuple[Evidence, ...]
    reason: str
    crashed: bool = False


def gap(value: Value, reason: str, *evidence: Evidence) -> Finding:
    """Something a business lacks: what the agency sells."""
    return Finding(Outcome.GAP, value, evidence, reason)


def partial(value: Value, reason: str, *evidence: Evidence) -> Finding:
    """There, but not as it should be."""
    return Finding(Outcome.PARTIAL, value, evidence, reason)


def ok(value: Value, reason: str, *evidence: Evidence) -> Finding:
    """There, and as it should be."""
    return Finding(Outcome.OK, value, evidence, reason)


def unknown(reason: str, *evidence: Evidence, value: Value = None) -> Finding:
    """The evidence does not decide it; `reason` says why."""
    return Finding(Outcome.UNKNOWN, value, evidence, reason)


def not_applicable(reason: str, *evidence: Evidence, value: Value = None) -> Finding:
    """The question does not arise."""
    return Finding(Outcome.NOT_APPLICABLE, value, evidence, reason)
