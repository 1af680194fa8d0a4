"""One mark of 0–100 a group of checks, for a business's owner."""

from collections.abc import Mapping
from dataclasses import dataclass

from openacorn.core.audit.check import Check
from openacorn.core.audit.finding import Finding, Outcome

WORTH = {Outcome.OK: 1.0, Outcome.PARTIAL: 0.5, Outcome.GAP: 0.0}


@dataclass(frozen=True, slots=True)
class GroupGrade:
    """mark: weighted share of what is right among what is known, in whole points of 100, None where nothing is known.
    known: weight of what is known among all that applies, 0…1."""

    group: str
    mark: int | None
    known: float


def group_marks(checks: tuple[Check, ...], findings: Mapping[str, Finding]) -> list[GroupGrade]:
    """The mark of every group that has a check that applies, in the order of the groups."""
    sums: dict[str, list[float]] = {}
    for check in checks:
        finding = findings.get(check.id)
        if finding is None or finding.outcome is Outcome.NOT_APPLICABLE:
            continue
        right, known, all_of = sums.setdefault(str(check.group), [0.0, 0.0, 0.0])
        worth = WORTH.get(finding.outcome)
        if worth is not None:
            right, known = right + check.weight * worth, known + check.weight
        sums[str(check.group)] = [right, known, all_of + check.weight]
    return [
        GroupGrade(group, round(100 * right / known) if known else None, round(known / all_of, 3))
        for group, (right, known, all_of) in sums.items()
    ]
