"""The facts of an owner's page: composed once, kept as they are, shown until they are made again."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Rendered
from openacorn.core.audit.finding import Finding, Outcome
from openacorn.core.audit.group_grades import group_marks
from openacorn.core.audit.spots import PHONE_PX, SpotKind
from openacorn.core.languages.catalogue import ENGLISH, Translator
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

SECTIONS = ("look", "marks", "findings", "peers", "first", "fine", "unseen", "reply")
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
class PictureMark:
    """A frame around what a claim is about, in shares of the picture (0…1). number: the claim's on the page."""

    number: int
    left: float
    top: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class PhoneLook:
    """The site on a phone. picture: the hash it is kept by; at: when it was taken (ISO 8601)."""

    picture: str
    at: str
    marks: tuple[PictureMark, ...] = ()


POINTED_AT = {
    "overflow": (SpotKind.OUTSIDE, SpotKind.SMALL),
    "fixed_layout": (SpotKind.OUTSIDE, SpotKind.SMALL),
    "viewport": (SpotKind.SMALL,),
    "tap_phone": (SpotKind.PHONE,),
}
"""Check → what shows its gap in the picture, the plainest first."""

SAME_DIGITS = 6
"""Last digits by which a number in the picture is the one that the check speaks of, however it is written."""


def _digits(text: object) -> str:
    return "".join(char for char in str(text) if char.isdigit())


def picture_marks(
    claims: Sequence[Claim], findings: Mapping[str, Finding], rendered: Rendered | None
) -> tuple[PictureMark, ...]:
    """Frames for the claims, numbered as on the page, that can be pointed at; at most one a claim."""
    found = []
    for number, claim in enumerate(claims[:MOST_CLAIMS], 1):
        spots = [
            spot
            for kind in POINTED_AT.get(claim.check, ())
            for spot in (rendered.spots if rendered else ())
            if spot.kind is kind
            and (
                kind is not SpotKind.PHONE
                or _digits(spot.text)[-SAME_DIGITS:] == _digits(findings[claim.check].value)[-SAME_DIGITS:]
            )
        ]
        for spot in spots[:1]:
            wide, high = PHONE_PX
            found.append(PictureMark(number, spot.x / wide, spot.y / high, spot.width / wide, spot.height / high))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class Peers:
    """How the nearest of the trade do. reviews: this business's; no_more: how many have no more, of the `reviewed` of which it
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
    """Everything an owner's page says, in one language. looked_at: ISO 8601; website "" if there is none; more: claims
    left out; untranslated: sentences that the language lacks, which stayed English."""

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
    look: PhoneLook | None = None
    language: str = "en"
    untranslated: tuple[str, ...] = ()


def _fine(checks: Sequence[Check], findings: Mapping[str, Finding], words: Translator) -> tuple[str, ...]:
    return tuple(
        words.text(check.owner.topic)
        for check in checks
        if check.owner and (found := findings.get(check.id)) and found.outcome is Outcome.OK
    )


def _unseen(checks: Sequence[Check], findings: Mapping[str, Finding], words: Translator) -> tuple[Unseen, ...]:
    grouped: dict[str, list[str]] = {}
    for check in checks:
        found = findings.get(check.id)
        if check.owner and found and found.outcome is Outcome.UNKNOWN:
            reason = "a check of ours failed" if found.crashed else found.reason
            grouped.setdefault(words.sentence(reason), []).append(words.text(check.owner.topic))
    return tuple(Unseen(reason, tuple(topics)) for reason, topics in grouped.items())


def _marks(checks: tuple[Check, ...], findings: Mapping[str, Finding], words: Translator) -> tuple[GroupMark, ...]:
    return tuple(
        GroupMark(words.text(PLAIN[Group(item.group)]), item.mark if item.known >= ENOUGH_KNOWN else None)
        for item in group_marks(checks, findings)
    )


def _peers(peers: Peers | None, words: Translator) -> Peers | None:
    if peers is None:
        return None
    return replace(peers, lines=tuple(replace(line, topic=words.text(line.topic)) for line in peers.lines))


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
    look: PhoneLook | None = None,
    language: str = ENGLISH,
) -> OwnersFacts:
    """Put an owner's page together. Marks count only what an owner may be shown: nothing modelled goes into them."""
    words = Translator(language)
    result = tuple(check for check in checks if check.owner is not None)
    claims = tuple(claim.in_language(words) for claim in selected.claims[:MOST_CLAIMS])
    remedies = dict.fromkeys(claim.remedy for claim in claims if claim.remedy)
    return OwnersFacts(
        name=name, website=website, looked_at=looked_at, pages=pages,
        marks=_marks(result, findings, words), claims=claims, more=len(selected.claims) - len(claims),
        fine=_fine(checks, findings, words), unseen=_unseen(checks, findings, words), peers=_peers(peers, words),
        first=tuple(remedies)[:MOST_FIRST], look=look, language=words.language, untranslated=tuple(sorted(words.missing)),
    )  # fmt: skip
