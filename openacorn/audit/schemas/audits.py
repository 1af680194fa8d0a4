"""Audits: begun again, their history, what changed."""

from typing import Annotated

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.business.store.history import AuditEvent


class AuditsRequest(RequestModel):
    """Which businesses to audit again: these, or all that pass a filter (as the table's page has it); of them, or of all
    where neither is named, only those whose audit is older than so many days.
    rendered: open them in a browser too; whole: read every page of them, up to the limit in the settings; held_back: also
    those who are marked as client or in conversation."""

    ids: list[Annotated[int, Field(ge=1, le=2**53)]] = Field(default_factory=list, max_length=1_000_000)
    filter: dict[str, str] | None = None
    rendered: bool = False
    whole: bool = False
    held_back: bool = False
    older_days: int | None = Field(default=None, ge=0, le=3650)


class MadeResponse(ResponseModel):
    """An audit that was made."""

    at: str
    website: str


class HistoryResponse(ResponseModel):
    """All audits of a business and what changed between them, the latest first."""

    audits: list[MadeResponse]
    events: list[AuditEvent]


class JudgedResponse(ResponseModel):
    """Businesses whose answers changed when their stored evidence was judged again."""

    changed: int
