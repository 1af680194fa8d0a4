"""Shortlists."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.outreach.schemas.languages import LanguageCode


class ShortlistRequest(RequestModel):
    """A new shortlist."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")


class ShortlistChange(RequestModel):
    """Another name for a list, or the language that its owners are written to in; null leaves it as it is."""

    name: str | None = Field(default=None, min_length=1, max_length=80, pattern=r"\S")
    language: LanguageCode | None = None


class MembersRequest(RequestModel):
    """Businesses by id, or all that pass a filter (address parameters, as the table's page has them)."""

    ids: list[int] = Field(default_factory=list, max_length=100_000)
    filter: dict[str, str] | None = None


class MembersAdded(ResponseModel):
    """How many were new to the list, and how many were asked for. action_id: its number, to undo it, null if nothing was done."""

    added: int
    asked: int
    action_id: int | None
