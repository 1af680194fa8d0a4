"""What may be said to a business's owner, and in which order it matters to them: only what is known, measured and fresh."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from openacorn.core.audit.check import Check
from openacorn.core.audit.finding import Evidence, Finding, Outcome
from openacorn.core.languages.catalogue import Translator
from openacorn.core.report.measured import too_often_wrong
from openacorn.core.score.opportunity import Opportunity

MAX_AGE = timedelta(days=14)
"""Older facts are looked at again before a pitch leaves, or not claimed (DESIGN §4)."""

MODELLED = "load_time"
"""A time that was computed from sizes, not measured: never shown to an owner."""

CLAIMED = frozenset({Outcome.GAP, Outcome.PARTIAL})


@dataclass(frozen=True, slots=True)
class Claim:
    """One thing said to an owner. text, why, remedy: for the owner; seen: what the audit saw; evidence: where and when."""

    check: str
    topic: str
    text: str
    why: str
    remedy: str
    seen: str
    evidence: tuple[Evidence, ...]
    outcome: Outcome = Outcome.GAP

    def in_language(self, words: Translator) -> "Claim":
        """The claim as it is put to an owner in their language."""
        return replace(
            self, topic=words.text(self.topic), text=words.text(self.text), why=words.text(self.why),
            remedy=words.text(self.remedy), seen=words.sentence(self.seen),
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Withheld:
    """A finding that is not claimed, and why."""

    check: str
    title: str
    reason: str


@dataclass(frozen=True, slots=True)
class ClaimSet:
    """claims: what matters most first; withheld: gaps that are not claimed, for the agency's eyes."""

    claims: tuple[Claim, ...]
    withheld: tuple[Withheld, ...]


def too_old(at: str, now: datetime) -> bool:
    """Must a site be looked at again before anything is claimed of it? at: when it was (ISO 8601), "" if never."""
    return not at or now - datetime.fromisoformat(at) > MAX_AGE


def is_fresh(finding: Finding, now: datetime) -> bool:
    """Was what shows it seen within MAX_AGE? now: with a time zone."""
    return any(not too_old(item.at, now) for item in finding.evidence)


def line_holds(needs: Iterable[str], findings: Mapping[str, Finding], now: datetime) -> bool:
    """May an opening line that rests on these checks be spoken: was each of them seen lately, and none only modelled?"""
    return all(check != MODELLED and check in findings and is_fresh(findings[check], now) for check in needs)


def _reason_to_withhold(check: Check, finding: Finding, now: datetime) -> str:
    """Why a finding may not be claimed, "" if it may."""
    if check.owner is None or not _text(check, finding.outcome):
        return "is never told to an owner"
    if too_often_wrong(check.id):
        return "was wrong too often on the pages that we measure on"
    if not finding.evidence:
        return "has no evidence to show"
    if not is_fresh(finding, now):
        return f"was seen more than {MAX_AGE.days} days ago and could not be looked at again"
    return ""


def _text(check: Check, outcome: Outcome) -> str:
    if check.owner is None:
        return ""
    return check.owner.claim if outcome is Outcome.GAP else check.owner.partly


def weights(offers: Iterable[Opportunity], lead: str = "") -> dict[str, float]:
    """Check → how much it matters: each scored service's expected value shared over what it needs, by w·severity.

    lead: the service that the pitch is about; whatever speaks for it comes first.
    """
    found: dict[str, float] = {}
    for offer in offers:
        terms = [(term.check, term.weight * (term.severity or 0.0)) for term in offer.need.terms]
        total = sum(part for _, part in terms)
        if not total or offer.value is None:
            continue
        worth = max(offer.value, 1.0) * (1e6 if offer.service == lead else 1.0)
        for check, part in terms:
            found[check] = found.get(check, 0.0) + worth * part / total
    return found


def select_claims(
    checks: Sequence[Check], findings: Mapping[str, Finding], matters: Mapping[str, float], now: datetime
) -> ClaimSet:
    """Sort the gaps and half-gaps into what is claimed and what is not. matters: check → weight; now: with a time zone."""
    wrong = [(check, found) for check in checks if (found := findings.get(check.id)) and found.outcome in CLAIMED]
    claims, withheld = [], []
    for check, finding in wrong:
        reason = _reason_to_withhold(check, finding, now)
        if reason or check.owner is None:
            withheld.append(Withheld(check.id, check.title, reason))
        else:
            claim = Claim(
                check.id, check.owner.topic, _text(check, finding.outcome), check.why, check.owner.remedy,
                finding.reason, finding.evidence[:3], finding.outcome,
            )  # fmt: skip
            claims.append((claim, check))
    covered = {other for _, check in claims if check.owner for other in check.owner.instead_of}
    kept = [(claim, check) for claim, check in claims if claim.check not in covered]
    kept.sort(key=lambda pair: (-matters.get(pair[0].check, 0.0), pair[0].outcome is not Outcome.GAP, -pair[1].weight))
    return ClaimSet(tuple(claim for claim, _ in kept), tuple(withheld))
