"""Calls: who to call, and the sheet of one business."""

from openacorn.api.schemas import ResponseModel
from openacorn.business.store.pipeline import Activity
from openacorn.core.audit.finding import Evidence
from openacorn.core.outreach.call_sheet import Number, Somebody
from openacorn.core.outreach.objections import Objection
from openacorn.core.report.claims import Withheld
from openacorn.outreach.schemas.dialling import CallColumn


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


class ClaimResponse(ResponseModel):
    """Something that may be said to the owner, with what shows it."""

    check: str
    topic: str
    text: str
    why: str
    remedy: str
    seen: str
    evidence: list[Evidence]


class CallSheetResponse(ResponseModel):
    """What a caller needs. service "": nothing is known to be needed; withheld: gaps that may not be claimed; stale: must the site
    be looked at again first? last: when somebody there was last spoken or written to; shared: their page's address, "" if none;
    language: that its line, claims and peers are in."""

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
    people: list[Somebody]
    numbers: list[Number]
    claims: list[ClaimResponse]
    withheld: list[Withheld]
    peers: list[str]
    objections: list[Objection]
    looked_at: str
    stale: bool
    last: Activity | None
    shared: str
    language: str


class PaperPartsResponse(ResponseModel):
    """sheet: parts of a call sheet that can be left out; columns: of a printed list."""

    sheet: list[CallColumn]
    columns: list[CallColumn]
