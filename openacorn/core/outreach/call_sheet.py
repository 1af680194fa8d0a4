"""What somebody needs in front of them who calls a business."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from openacorn.core.outreach.local_time import local_times
from openacorn.core.outreach.objections import Objection
from openacorn.core.report.claims import Claim, Withheld
from openacorn.core.score.reach import Channel, ChannelKind

MOST_CLAIMS = 3
PHONES = frozenset({ChannelKind.MOBILE, ChannelKind.LANDLINE, ChannelKind.LINE})


@dataclass(frozen=True, slots=True)
class Number:
    """A number to call, E.164. line: "mobile", "landline" or "phone, line type unknown"; times: hours there now, see
    core.outreach.local_time; register: "on <a register> of <its day>" where it must not be called, "" if it stands on none."""

    value: str
    line: str
    times: tuple[str, ...]
    register: str = ""


@dataclass(frozen=True, slots=True)
class Somebody:
    """Who to ask for. role: with where it is said."""

    name: str
    role: str


@dataclass(frozen=True, slots=True)
class CallSheet:
    """One business on a call sheet. offer: title of what to sell, service its id, "" if nothing is known to be needed; line: how to
    begin; withheld: gaps that may not be claimed; stale: must the site be looked at again before anything is claimed of it?
    language: that line, claims and peers are in."""

    id: int
    name: str
    trade: str
    town: str
    website: str
    hours: str
    relationship: str
    service: str
    offer: str
    why: str
    value: float | None
    line: str
    people: tuple[Somebody, ...]
    numbers: tuple[Number, ...]
    claims: tuple[Claim, ...]
    withheld: tuple[Withheld, ...]
    peers: tuple[str, ...]
    objections: tuple[Objection, ...]
    looked_at: str
    stale: bool
    language: str = "English"


def numbers_of(channels: Sequence[Channel], now: datetime, at: tuple[float, float] | None = None) -> tuple[Number, ...]:
    """Numbers among the ways to reach a business, each once, the likeliest to reach somebody first. at: where it is, if known."""
    phones = sorted((item for item in channels if item.kind in PHONES), key=lambda item: -item.r)
    lines = {item.value: str(item.kind) for item in reversed(phones)}
    order = dict.fromkeys(item.value for item in phones)
    return tuple(Number(value, lines[value], tuple(local_times(value, now, at))) for value in order)
