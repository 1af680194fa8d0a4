"""What is kept of people."""

from typing import Annotated

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.privacy.store.register import KeptKind, LegalBasis

Line = Annotated[str, Field(max_length=254)]


class PersonRequest(RequestModel):
    """A person by any of these."""

    emails: list[Line] = Field(default_factory=list, max_length=20)
    phones: list[Line] = Field(default_factory=list, max_length=20)
    names: list[Line] = Field(default_factory=list, max_length=20)


class TraceResponse(ResponseModel):
    """One place where somebody stands. title: the kind of data; whence: where it came from, as far as it is known."""

    title: str
    column: str
    business_id: int | None
    at: str
    whence: str
    excerpt: str


class FoundPersonResponse(ResponseModel):
    """Where somebody stands: the first thousand places, all of them counted, files of the data folder."""

    traces: list[TraceResponse]
    total: int
    by_title: dict[str, int]
    files: list[str]


class ErasureResponse(ResponseModel):
    """What was erased, and what is left to the user."""

    total: int
    by_title: dict[str, int]
    businesses: list[int]
    files: list[str]
    left: list[str]


class RegisterResponse(ResponseModel):
    """What is kept of people, how long, and why."""

    kinds: list[KeptKind]
    months: int
    bases: list[LegalBasis]


class BasisRequest(RequestModel):
    """country: ISO 3166, "" for all others; an empty text takes the note away."""

    country: str = Field(default="", pattern=r"^([A-Z]{2})?$")
    text: str = Field(max_length=2000)
