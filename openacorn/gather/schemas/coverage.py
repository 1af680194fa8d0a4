"""Territories, coverage, relationships, recipes, comparisons of runs."""

from typing import Any

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.business.store.relationships import Relationship
from openacorn.gather.schemas.sweeps import AreaRequest, AreaResponse


class TextRequest(RequestModel):
    """Text that was pasted or read from a file."""

    text: str = Field(min_length=1, max_length=20_000_000)
    name: str = Field(default="", max_length=200)


class AreasResponse(ResponseModel):
    """Areas found in a text, and the words that no place was found for."""

    areas: list[AreaResponse]
    unknown: list[str]


class TerritoryRequest(RequestModel):
    """Areas to keep under a name."""

    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    areas: list[AreaRequest] = Field(min_length=1, max_length=500)


class TerritoryResponse(ResponseModel):
    """A kept territory, and how many businesses are held in it."""

    id: int
    name: str
    areas: list[AreaResponse]
    held: int
    private: bool = False


class AreasRequest(RequestModel):
    """Areas to look at."""

    areas: list[AreaRequest] = Field(min_length=1, max_length=500)


class KnownCountsResponse(ResponseModel):
    """What is held in some areas: in all, by trade, and pins as [lat, lon]; `cut` if there are more pins than are sent."""

    total: int
    trades: dict[str, int]
    pins: list[list[float]]
    cut: bool


class OfficerResponse(ResponseModel):
    """A person of a company."""

    name: str
    role: str


class SisterResponse(ResponseModel):
    """Another business of the same company or parent."""

    id: int
    name: str
    town: str
    trade: str


class CompanyResponse(ResponseModel):
    """A register's entry joined to a business; confidence 0…1."""

    number: str
    name: str
    trading_as: str
    confidence: float
    status: str
    incorporated: str
    office: str
    officers: list[OfficerResponse]
    parent: str
    revenue_band: str
    source: str
    seen_at: str
    kin: list[SisterResponse]


class CoverageLine(ResponseModel):
    """How many businesses there are of one trade ("" for all): held, estimate with its 95 % interval, or why there is none."""

    trade: str
    held: int
    estimate: float | None
    low: float | None
    high: float | None
    why: str
    by_source: dict[str, int]
    only_in: dict[str, int]


class CoverageResponse(ResponseModel):
    """Coverage of a sweep's territory."""

    lines: list[CoverageLine]
    assumption: str
    titles: dict[str, str]


class RelationshipsRequest(RequestModel):
    """Lines of domains, e-mails, phones, or "name, place"; or a file's text."""

    kind: str = Field(pattern="^(client|in conversation|refused)$")
    text: str = Field(min_length=1, max_length=5_000_000)


class RelationshipsResponse(ResponseModel):
    """The newest entries, how many there are, and lines that nobody could be recognised by."""

    entries: list[Relationship]
    counts: dict[str, int]
    refused: list[str]
    businesses: int


class ChangeResponse(ResponseModel):
    """One thing that is different between two runs."""

    kind: str
    business: int
    name: str
    town: str
    field: str
    before: Any
    after: Any


class ComparisonResponse(ResponseModel):
    """Two runs of a sweep side by side; `shown` changes of each kind are listed."""

    counts: dict[str, int]
    changes: list[ChangeResponse]
    shown: int


class NearbyResponse(ResponseModel):
    """Another business around one, with the distance in metres."""

    id: int
    name: str
    town: str
    trade: str
    relationship: str
    metres: float


class FoundResponse(ResponseModel):
    """A business found by name, phone or site."""

    id: int
    name: str
    town: str
    trade: str
    phone: str
    website: str
    why: str
