"""Calls: whom to call, and the sheet of one business."""

from openacorn.api.models.base import Told
from openacorn.api.models.businesses import EvidenceTold
from openacorn.api.models.owner_pages import UnsaidTold
from openacorn.api.models.work import StepTold


class CallTold(Told):
    """Somebody to be called. stale: must their site be looked at again before anything is claimed of it? tried_today: calls that
    nobody took today."""

    id: int
    name: str
    town: str
    phone: str
    stage: str
    owner: str
    follow_up: str
    stale: bool
    tried_today: int


class NumberTold(Told):
    """A number to call. times: hours there now, one, or several where its country is wide."""

    value: str
    line: str
    times: list[str]


class SomebodyTold(Told):
    """Whom to ask for."""

    name: str
    role: str


class ClaimTold(Told):
    """Something that may be said to the owner, with what shows it."""

    check: str
    topic: str
    text: str
    why: str
    remedy: str
    seen: str
    evidence: list[EvidenceTold]


class ObjectionTold(Told):
    """What they say, and what can be answered."""

    says: str
    answer: str


class CallSheetTold(Told):
    """What a caller needs. service "": nothing is known to be needed; unsaid: gaps that may not be claimed; stale: must the site
    be looked at again first? last: when somebody there was last spoken or written to; shared: their page's address, "" if none."""

    id: int
    name: str
    trade: str
    town: str
    website: str
    hours: str
    standing: str
    service: str
    offer: str
    why: str
    value: float | None
    line: str
    people: list[SomebodyTold]
    numbers: list[NumberTold]
    claims: list[ClaimTold]
    unsaid: list[UnsaidTold]
    peers: list[str]
    objections: list[ObjectionTold]
    looked_at: str
    stale: bool
    last: StepTold | None
    shared: str
