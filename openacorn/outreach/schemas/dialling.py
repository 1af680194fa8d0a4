"""Call lists for a dialler, and its results."""

from typing import Literal

from pydantic import Base64Bytes, Field

from openacorn.api.schemas import RequestModel, ResponseModel

ResultField = Literal["reference", "number", "email", "result", "note", "at", "follow_up", "amount"]
MOST_BYTES = 8_000_000
"""Of a file of results: hundreds of thousands of calls."""


class CallColumn(ResponseModel):
    """A column that a call list can hold."""

    id: str
    title: str


class CallColumnsResponse(ResponseModel):
    """columns: all there are; chosen: those of the next call list, in their order."""

    columns: list[CallColumn]
    chosen: list[str]


class CallColumnsRequest(RequestModel):
    """Columns of call lists from now on, in their order."""

    chosen: list[str] = Field(min_length=1, max_length=40)


class CallResultsRequest(RequestModel):
    """A file of results. fields: what is read → its heading ("" for none); meanings: word → our result ("" for none); channel: by
    what the businesses were contacted; all over how such a file was read last. keep: note the results (else only show them)."""

    name: str = Field(min_length=1, max_length=200)
    content: Base64Bytes = Field(max_length=MOST_BYTES)
    fields: dict[ResultField, str] = Field(default_factory=dict)
    meanings: dict[str, str] = Field(default_factory=dict, max_length=1000)
    channel: Literal["", "call", "email", "text"] = ""
    by: str = Field(default="", max_length=60)
    keep: bool = False
