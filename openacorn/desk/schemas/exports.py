"""Exports: formats, columns, presets."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.export.format import Column


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


class PresetRequest(RequestModel):
    """An export to be kept by name. folder: a path on this machine; webhook: an address; link: make a stable link to it."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    format: str
    columns: list[str] = Field(default_factory=list, max_length=200)
    filter: dict[str, str] = Field(default_factory=dict)
    sort: str = "-value"
    only_new: bool = False
    folder: str = Field(default="", max_length=400)
    webhook: str = Field(default="", max_length=400, pattern=r"^(https?://\S+)?$")
    link: bool = False


class DeliveryResponse(ResponseModel):
    """The last delivery to a target ("folder" or "webhook"): `rows` went, or wait until `next_at` if there is an error."""

    target: str
    tried_at: str
    rows: int
    error: str
    next_at: str | None


class PresetResponse(ResponseModel):
    """An export kept by name. link: its stable address, "" for none."""

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
    deliveries: list[DeliveryResponse]
