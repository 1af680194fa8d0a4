"""Angles: saved filters with what they sell."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class AngleRequest(RequestModel):
    """A filter to be kept: address parameters as the table's page has them."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    service: str = Field(default="", max_length=60)
    line: str = Field(default="", max_length=400)
    filter: dict[str, str]


class AngleResponse(ResponseModel):
    """count: businesses in it now; worth: their expected value for its service, together."""

    id: str
    name: str
    service: str
    line: str
    filter: dict[str, str]
    own: bool
    count: int
    worth: float
