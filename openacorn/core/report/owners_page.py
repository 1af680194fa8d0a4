"""The facts of an owner's page: composed once, kept as they are, shown until they are made anew."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.finding import Finding, Outcome
from openacorn.core.audit.group_grades import group_marks
from openacorn.core.report.claims import Claim, ClaimSet

MOST_CLAIMS = 5
"""More than a handful is not read, and looks like an attack (common practice)."""

MOST_FIRST = 3
ENOUGH_KNOWN = 0.5
"""Below this share of a group known its mark would say more than was seen."""

PLAIN = {
    Group.PRESENCE: "A site of your own",
    Group.SECURITY: "Safe to visit",
    Group.SPEED: "Quick to open",
    Group.MOBILE: "On a phone",
    Group.SEARCH: "Found by searching",
    Group.TRACKING: "Knowing your visitors",
    Group.SOCIAL: "Social pages",
    Group.CONTACT: "Easy to reach",
    Group.DELIVERY: "E-mail that arrives",
    Group.CONTENT: "What it says and offers",
    Group.PLATFORM: "How it is built",
    Group.REPUTATION: "Listings and reviews",
}
"""Groups of checks in an owner's words."""

SECTIONS = ("marks", "findings", "peers", "first", "fine", "unseen", "reply")
"""Parts of the page that can be left out, in their order."""


@dataclass(frozen=True, slots=True)
class GroupMark:
    """mark: 0…100 of a group of checks, in an owner's words, None where too little could be seen."""

    group: str
    mark: int | None


@dataclass(frozen=True, slots=True)
class PeerLine:
    """`have` of `of` peers have what this business lacks."""

    topic: str
    have: int
    of: int


@dataclass(frozen=True, slots=True)
class Peers:
    """How the nearest of the trade do. reviews: this business's; no_more: how many have no more, of the `reviewed` of whom it
    is known; None where nothing can be said."""

    trades: str
    reviews: int | None
    no_more: int | None
    reviewed: int
    lines: tuple[PeerLine, ...]


@dataclass(frozen=True, slots=True)
class Unseen:
    """What could not be looked at, and why."""

    reason: str
    topics: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class OwnersFacts:
    """Everything an owner's page says. looked_at: ISO 8601; website "" if there is none; more: claims that are left out."""

    name: str
    website: str
    looked_at: str
    pages: int
    marks: tuple[GroupMark, ...]
    claims: tuple[Claim, ...]
    more: int
    fine: tuple[str, ...]
    unseen: tuple[Unseen, ...]
    peers: Peers | None
    first: tuple[str, ...]


def _fine(checks: Sequence[Check], findings: Mapping[str, Finding]) -> tuple[str, ...]:
    return tuple(
        check.owner.topic
        for check in checks
        if check.owner and (found := findings.get(check.id)) and found.outcome is Outcome.OK
    )


def _unseen(checks: Sequence[Check], findings: Mapping[str, Finding]) -> tuple[Unseen, ...]:
    grouped: dict[str, list[str]] = {}
    for check in checks:
        found = findings.get(check.id)
        if check.owner and found and found.outcome is Outcome.UNKNOWN:
            reason = "a check of ours failed" if found.crashed else found.reason
            grouped.setdefault(reason, []).append(check.owner.topic)
    return tuple(Unseen(reason, tuple(topics)) for reason, topics in grouped.items())


def _marks(checks: tuple[Check, ...], findings: Mapping[str, Finding]) -> tuple[GroupMark, ...]:
    return tuple(
        GroupMark(PLAIN[Group(item.group)], item.mark if item.known >= ENOUGH_KNOWN else None)
        for item in group_marks(checks, findings)
    )


def compose(
    checks: Sequence[Check],
    findings: Mapping[str, Finding],
    selected: ClaimSet,
    *,
    name: str,
    website: str,
    looked_at: str,
    pages: int,
    peers: Peers | None,
) -> OwnersFacts:
    """Put an owner's page together. Marks count only what may be told to an owner: nothing modelled goes into them."""
    result = tuple(check for check in checks if check.owner is not None)
    claims = selected.claims[:MOST_CLAIMS]
    remedies = dict.fromkeys(claim.remedy for claim in claims if claim.remedy)
    return OwnersFacts(
        name=name, website=website, looked_at=looked_at, pages=pages,
        marks=_marks(result, findings),
        claims=claims, more=len(selected.claims) - len(claims), fine=_fine(checks, findings), unseen=_unseen(checks, findings),
        peers=peers, first=tuple(remedies)[:MOST_FIRST],
    )  # fmt: skip


def verdict(facts: OwnersFacts) -> str:
    """The page in one sentence."""
    found = len(facts.claims) + facts.more
    if found:
        return (
            "We found one thing that could be better."
            if found == 1
            else f"We found {found} things that could be better."
        )
    if not facts.fine:
        return "We could not check enough to say anything."
    return "We found nothing wrong in what we could look at." if facts.unseen else "We found nothing to mend."
