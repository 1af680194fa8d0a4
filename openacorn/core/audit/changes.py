"""What changed between two audits of one business, as events to be reported."""

from collections.abc import Mapping
from dataclasses import dataclass

from openacorn.core.audit.check import all_checks
from openacorn.core.audit.finding import Finding, Outcome

KNOWN = frozenset({Outcome.GAP, Outcome.PARTIAL, Outcome.OK})
LAUNCH = "real_site"
"""Where this changes a site came or went: the checks on its pages then change with it, and are not reported one by one."""


@dataclass(frozen=True, slots=True)
class Event:
    """One check's answer that changed: check id, outcome before and after, and the change in a sentence."""

    check: str
    before: str
    after: str
    text: str


def _launch(before: Finding | None, after: Finding | None) -> Event | None:
    there = [finding is not None and finding.outcome is Outcome.OK for finding in (before, after)]
    certain = all(finding is not None and finding.outcome is not Outcome.UNKNOWN for finding in (before, after))
    if before is None or after is None or not certain or there[0] == there[1]:
        return None
    text = "a site was launched" if there[1] else f"the site is gone: {after.reason}"
    return Event(LAUNCH, str(before.outcome), str(after.outcome), text)


def changes(before: Mapping[str, Finding], after: Mapping[str, Finding]) -> list[Event]:
    """Events in the order of the checks. What is or was unknown is no change: it tells of us, not of them."""
    launch = _launch(before.get(LAUNCH), after.get(LAUNCH))
    found = [launch] if launch else []
    for check in all_checks():
        old, new = before.get(check.id), after.get(check.id)
        if old is None or new is None or check.id == LAUNCH or old.outcome is new.outcome:
            continue
        if old.outcome in KNOWN and new.outcome in KNOWN:
            found.append(Event(check.id, str(old.outcome), str(new.outcome), f"{check.title}: {new.reason}"))
    return found
