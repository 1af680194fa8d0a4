"""Calls: whom to call, and the sheet of one business."""

from openacorn.api.schemas import ResponseModel
from openacorn.desk.schemas.businesses import EvidenceResponse
from openacorn.outreach.schemas.owner_pages import WithheldResponse
from openacorn.outreach.schemas.pipeline import ActivityResponse


class CallResponse(ResponseModel):
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


class NumberResponse(ResponseModel):
    """A number to call. times: hours there now, one, or several where its country is wide."""

    value: str
    line: str
    times: list[str]


class PersonToAskResponse(ResponseModel):
    """Whom to ask for."""

    name: str
    role: str


class ClaimResponse(ResponseModel):
    """Something that may be said to the owner, with what shows it."""

    check: str
    topic: str
    text: str
    why: str
    remedy: str
    seen: str
    evidence: list[EvidenceResponse]


class ObjectionResponse(ResponseModel):
    """What they say, and what can be answered."""

    says: str
    answer: str


class CallSheetResponse(ResponseModel):
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
    people: list[PersonToAskResponse]
    numbers: list[NumberResponse]
    claims: list[ClaimResponse]
    withheld: list[WithheldResponse]
    peers: list[str]
    objections: list[ObjectionResponse]
    looked_at: str
    stale: bool
    last: ActivityResponse | None
    shared: str
