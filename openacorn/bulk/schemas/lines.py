"""A file of everything, line by line: the first says what it is, every other is a business. docs/bulk.md describes it."""

from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, AliasChoices, BaseModel, ConfigDict, Field, StringConstraints

from openacorn.api.schemas import Day

VERSION = 1


def _moment(text: str) -> str:
    at = datetime.fromisoformat(text)
    if at.tzinfo is None:
        raise ValueError("the time zone is missing; write a moment like 2026-12-01T14:30:00+00:00")
    return at.astimezone(UTC).isoformat(timespec="seconds")


Moment = Annotated[str, StringConstraints(max_length=40), AfterValidator(_moment)]
"""A moment (ISO 8601, with its time zone), as the store has it: UTC, to the second."""

Name = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Text = Annotated[str, StringConstraints(max_length=20_000)]


class BulkLine(BaseModel):
    """Nothing is passed over that is not known here: what one program wrote another must not lose unnoticed."""

    model_config = ConfigDict(extra="forbid")


class RelationshipLine(BulkLine):
    """A client, somebody in conversation, or somebody who refused. identifier_type: how the business is recognised."""

    kind: Literal["client", "in conversation", "refused"]
    identifier_type: Literal["domain", "email", "phone", "name"] = Field(
        validation_alias=AliasChoices("identifier_type", "known_by")  # as earlier versions wrote it
    )
    value: Name
    shown: Text


class TradeLine(BulkLine):
    """A trade of the agency's own."""

    label: Name
    plural: Name
    words: list[Name] = Field(max_length=50)
    parent: str = ""


class Header(BulkLine):
    """The first line. open_acorn: the version of this shape; sources: id → its name for people."""

    open_acorn: int
    made_at: Moment
    agency: str
    businesses: int
    sources: dict[str, str]
    trades: list[TradeLine]
    relationships: list[RelationshipLine]


class ListingLine(BulkLine):
    """What one source says. listing: as the source said it, under the names of `openacorn.core.gather.listing.Listing`."""

    source: Name
    source_id: Name
    trade: str
    seen_at: Moment
    listing: dict[str, Any]


class EvidenceLine(BulkLine):
    """Where and when a finding was seen, and what shows it."""

    url: str
    at: str
    snippet: str


class FindingLine(BulkLine):
    """What a check found."""

    check: Name
    outcome: Literal["ok", "partial", "gap", "not applicable", "unknown"]
    value: Any = None
    reason: Text = ""
    evidence: list[EvidenceLine] = []
    crashed: bool = False


class ContactLine(BulkLine):
    """An address or a number on the website."""

    kind: Literal["email", "phone", "social"]
    value: Name
    how: str
    url: str
    snippet: str = ""


class PersonLine(BulkLine):
    """Somebody at the business."""

    name: Name
    role: str = ""
    where: str = ""


class MembershipLine(BulkLine):
    """On a list. owner: who has it; follow_up: a day, "" for none."""

    list: Name
    stage: Literal["picked", "contacted", "talking", "proposed", "won", "lost", "parked"]
    owner: str = ""
    follow_up: Day = ""
    added_at: Moment


class HistoryLine(BulkLine):
    """Something that was done."""

    at: Moment
    by: str
    text: Text
    kind: Literal["note", "move", "attempt", "talk", "mail", "page", "reply"]


class ResultLine(BulkLine):
    """The result of contacting them about a service."""

    service: Name
    score: float | None = None
    contacted_at: Moment
    stage: Literal["contacted", "won", "lost"]
    amount: float | None = None
    reason: str = ""
    channel: str = ""


class ScoreLine(BulkLine):
    """A service's opportunity."""

    service: Name
    score: int | None
    value: float | None


class AuditLine(BulkLine):
    """When which website was read. found: one that no listing gives; beyond: what was learnt around it."""

    website: str
    at: Moment
    found: str = ""
    beyond: dict[str, Any] = {}


class VerdictLine(BulkLine):
    """The user's word over the rules."""

    verdict: Literal["rejected", "kept"]
    reason: str


class BusinessLine(BulkLine):
    """A business. `business` is there to be read: taken in, it is made again from `listings` and `corrections`."""

    business: dict[str, Any]
    listings: list[ListingLine] = Field(min_length=1)
    corrections: dict[str, Any] = {}
    verdict: VerdictLine | None = None
    audit: AuditLine | None = None
    findings: list[FindingLine] = []
    contacts: list[ContactLine] = []
    people: list[PersonLine] = []
    scores: list[ScoreLine] = []
    tags: list[Name] = []
    lists: list[MembershipLine] = []
    history: list[HistoryLine] = []
    results: list[ResultLine] = []


class TakenIn(BaseModel):
    """The result of reading a file. refused: lines that could not be used, with reasons, at most 200; all_refused counts all."""

    businesses: int
    new: int
    already_here: int
    refused: list[str]
    all_refused: int
