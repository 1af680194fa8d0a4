"""Reach: how likely somebody there can be spoken to."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

import phonenumbers

from openacorn.core.audit.verification import ROLE_NAMES, Line


class ChannelKind(StrEnum):
    """Ways to reach a business, best first within each sort."""

    NAMED_VERIFIED = "named address, verified"
    NAMED = "named address, unverified"
    ROLE_VERIFIED = "role address, verified"
    ROLE = "role address, unverified"
    MOBILE = "mobile"
    LANDLINE = "landline"
    LINE = "phone, line type unknown"
    FORM = "contact form"
    PAGE_MESSAGE = "page message"


CHANCE = {
    ChannelKind.NAMED_VERIFIED: 0.7,
    ChannelKind.NAMED: 0.4,
    ChannelKind.ROLE_VERIFIED: 0.3,
    ChannelKind.ROLE: 0.2,
    ChannelKind.MOBILE: 0.5,
    ChannelKind.LANDLINE: 0.4,
    ChannelKind.LINE: 0.4,
    ChannelKind.FORM: 0.15,
    ChannelKind.PAGE_MESSAGE: 0.15,
}
SORT = {
    ChannelKind.NAMED_VERIFIED: "address",
    ChannelKind.NAMED: "address",
    ChannelKind.ROLE_VERIFIED: "address",
    ChannelKind.ROLE: "address",
    ChannelKind.MOBILE: "mobile",
    ChannelKind.LANDLINE: "landline",
    ChannelKind.LINE: "landline",
    ChannelKind.FORM: "form",
    ChannelKind.PAGE_MESSAGE: "message",
}


@dataclass(frozen=True, slots=True)
class Channel:
    """One way to reach the business. `assumed`: the trade's average, because the audit could not look."""

    kind: ChannelKind
    value: str
    assumed: bool = False
    chance: float | None = None

    @property
    def r(self) -> float:
        """The chance that it reaches somebody."""
        return CHANCE[self.kind] if self.chance is None else self.chance


@dataclass(frozen=True, slots=True)
class Reach:
    """1 − Π(1 − r) over the best channel of each sort; `used` are those."""

    value: float
    used: tuple[Channel, ...]


def email_kind(address: str, *, verified: bool = False) -> ChannelKind:
    """Role or named, by the local part."""
    if address.partition("@")[0].lower() in ROLE_NAMES:
        return ChannelKind.ROLE_VERIFIED if verified else ChannelKind.ROLE
    return ChannelKind.NAMED_VERIFIED if verified else ChannelKind.NAMED


def reach_of(channels: Iterable[Channel]) -> Reach:
    """Combine the channels: the best of each sort counts once."""
    best: dict[str, Channel] = {}
    for channel in channels:
        sort = SORT[channel.kind]
        if sort not in best or channel.r > best[sort].r:
            best[sort] = channel
    missed = 1.0
    for channel in best.values():
        missed *= 1.0 - channel.r
    return Reach(1.0 - missed, tuple(sorted(best.values(), key=lambda channel: -channel.r)))


FLAGS = {
    ChannelKind.NAMED_VERIFIED: ("email", "named address", "verified address"),
    ChannelKind.NAMED: ("email", "named address"),
    ChannelKind.ROLE_VERIFIED: ("email", "verified address"),
    ChannelKind.ROLE: ("email",),
    ChannelKind.MOBILE: ("phone", "mobile"),
    ChannelKind.LANDLINE: ("phone", "landline"),
    ChannelKind.LINE: ("phone",),
    ChannelKind.FORM: ("form",),
    ChannelKind.PAGE_MESSAGE: ("page message",),
}
"""Kind of channel → the words that a filter asks for it by."""

HAS = (*dict.fromkeys(word for words in FLAGS.values() for word in words), "named person")
"""Every word that a filter can ask for."""


def flags_of(reach: Reach, *, named_person: bool) -> list[str]:
    """The words for what there is, without what was assumed."""
    found = {word for channel in reach.used if not channel.assumed for word in FLAGS[channel.kind]}
    if named_person:
        found.add("named person")
    return [word for word in HAS if word in found]


STATED_LINES = {Line.MOBILE: ChannelKind.MOBILE, Line.LANDLINE: ChannelKind.LANDLINE, Line.VOIP: ChannelKind.LINE}


def phone_kind(e164: str, line: Line = Line.UNSTATED) -> ChannelKind:
    """Mobile or landline: as a verifier says, else as the numbering plan does, which is silent for some of +1."""
    if line:
        return STATED_LINES[line]
    try:
        number = phonenumbers.parse(e164, None)
    except phonenumbers.NumberParseException:
        return ChannelKind.LINE
    kind = phonenumbers.number_type(number)
    if kind == phonenumbers.PhoneNumberType.MOBILE:
        return ChannelKind.MOBILE
    return ChannelKind.LANDLINE if kind == phonenumbers.PhoneNumberType.FIXED_LINE else ChannelKind.LINE
