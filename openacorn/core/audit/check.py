"""A check, and how checks are run: each is handed only the evidence it declared."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from openacorn.core.audit import checks
from openacorn.core.audit.finding import Finding, Outcome
from openacorn.plugins import scan


class Group(StrEnum):
    """Groups of checks, in the order of the audit strip."""

    PRESENCE = "Presence"
    SECURITY = "Security"
    SPEED = "Speed"
    MOBILE = "Mobile"
    SEARCH = "Search basics"
    TRACKING = "Tracking and ads"
    SOCIAL = "Social"
    CONTACT = "Contact"
    DELIVERY = "Mail delivery"
    CONTENT = "Content"
    PLATFORM = "Platform"
    REPUTATION = "Reputation"


@dataclass(frozen=True, slots=True)
class OwnersWords:
    """How an answer is put to the business's owner, without jargon, to be true of every finding of that outcome.

    topic: what is asked, as a heading. claim: said of a gap; partly: of a partial one; "" where nothing is said.
    remedy: what would be done about it, as an instruction to oneself. instead_of: checks whose claim this one's makes needless.
    """

    topic: str
    claim: str = ""
    partly: str = ""
    remedy: str = ""
    instead_of: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Check:
    """One audit question.

    id: stable key in API, store and rules. title: for tables. why: for a business owner, without jargon.
    needs: evidence classes; `evaluate` is called with one argument for each, in that order. rank: place within its group.
    weight: in the mark that an owner is given for the group. owner: None where it is never shown to an owner: because it is
    modelled, may be wrong too often, or says nothing that an owner could act on.
    """

    id: str
    group: Group
    title: str
    why: str
    needs: tuple[type, ...]
    evaluate: Callable[..., Finding]
    rank: int = 50
    weight: float = 1.0
    owner: OwnersWords | None = None


@dataclass(frozen=True, slots=True)
class Absent:
    """Evidence that is not there; `applicable` False when the question does not arise at all."""

    reason: str
    applicable: bool = True


EvidenceSet = Mapping[type, object]
"""Evidence class → its instance, or `Absent` saying why it is not there."""


@cache
def all_checks() -> tuple[Check, ...]:
    """Every check of the product, by group, rank and id."""
    order = list(Group)
    return tuple(
        sorted(scan(checks, "CHECK", Check), key=lambda check: (order.index(check.group), check.rank, check.id))
    )


@cache
def check_titles() -> dict[str, str]:
    """Check → its title, for tables."""
    return {check.id: check.title for check in all_checks()}


@cache
def check_ids() -> tuple[str, ...]:
    """Ids of all checks, in the order of the audit strip."""
    return tuple(check.id for check in all_checks())


@cache
def owners_topics() -> dict[str, str]:
    """Check id → what it asks in an owner's words, of the checks that owners are shown."""
    return {check.id: check.owner.topic for check in all_checks() if check.owner}


def run_check(check: Check, evidence: EvidenceSet) -> Finding:
    """Answer one check. Missing evidence and a crash both give an answer that is never a pass or a gap."""
    given: list[object] = []
    for need in check.needs:
        item = evidence.get(need, Absent("not looked at"))
        if isinstance(item, Absent):
            outcome = Outcome.UNKNOWN if item.applicable else Outcome.NOT_APPLICABLE
            return Finding(outcome, None, (), item.reason)
        given.append(item)
    try:
        return check.evaluate(*given)
    except Exception as error:
        # One broken rule must not stop an audit; it is stored as a crash and shown as one.
        return Finding(Outcome.UNKNOWN, None, (), f"this check failed: {type(error).__name__}: {error}", crashed=True)


def run_checks(evidence: EvidenceSet) -> dict[str, Finding]:
    """Answer every check that the evidence is about: check id → finding.

    A check none of whose kinds of evidence was gathered, or is said to be absent, is the matter of another part of an audit.
    """
    return {
        check.id: run_check(check, evidence) for check in all_checks() if any(need in evidence for need in check.needs)
    }
