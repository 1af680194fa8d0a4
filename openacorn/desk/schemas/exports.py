"""Exports: formats, columns, presets."""

from pydantic import Base64Bytes, Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.export.format import Column
from openacorn.core.export.layout import MOST_HEADINGS, Delimiter, TextEncoding


class FormatResponse(ResponseModel):
    """A format."""

    id: str
    title: str
    suffix: str


class ExportChoices(ResponseModel):
    """What can be exported, and in what; usual: the columns that are written if none is chosen, the checks aside."""

    formats: list[FormatResponse]
    columns: list[Column]
    usual: list[str]


class LayoutFieldRequest(RequestModel):
    """A column of another tool's file. column: our column that fills it; text: a fixed value for every row instead."""

    heading: str = Field(min_length=1, max_length=200)
    column: str = Field(default="", max_length=80)
    text: str = Field(default="", max_length=500)


class LayoutRequest(RequestModel):
    """How another tool wants its file."""

    fields: list[LayoutFieldRequest] = Field(min_length=1, max_length=MOST_HEADINGS)
    delimiter: Delimiter = ","
    encoding: TextEncoding = "utf-8"


class SampleRequest(RequestModel):
    """A sample file of another tool's."""

    content: Base64Bytes = Field(max_length=8_000_000)


class PresetRequest(RequestModel):
    """An export to be kept by name. folder: a path on this machine; webhook: an address; link: make a stable link to it;
    layout: how another tool wants its file (CSV), null for ours."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    format: str
    columns: list[str] = Field(default_factory=list, max_length=200)
    filter: dict[str, str] = Field(default_factory=dict)
    sort: str = "-value"
    only_new: bool = False
    folder: str = Field(default="", max_length=400)
    webhook: str = Field(default="", max_length=400, pattern=r"^(https?://\S+)?$")
    link: bool = False
    layout: LayoutRequest | None = None


class DeliveryResponse(ResponseModel):
    """The last delivery to a target ("folder" or "webhook"): `rows` went, or wait until `next_at` if there is an error."""

    target: str
    tried_at: str
    rows: int
    error: str
    next_at: str | None


class PresetResponse(ResponseModel):
    """An export kept by name. link: its stable address, "" for none; headings: of another tool's layout, 0 without one."""

    id: int
    name: str
    format: str
    columns: list[str]
    filter: dict[str, str]
    sort: str
    only_new: bool
    folder: str
    webhook: str
    link: str
    headings: int
    deliveries: list[DeliveryResponse]
