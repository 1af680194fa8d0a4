"""Services: rules, versions, and what a changed weight would do."""

from typing import Annotated

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.audit.finding import Outcome

Money = Annotated[float, Field(ge=0, le=10_000_000)]
Severity = Annotated[float, Field(ge=0, le=1)]


class RuleModel(RequestModel):
    """A check that speaks for the service. severity: by outcome, where gap 1, partial .5, ok 0 does not fit."""

    check: str
    weight: float = Field(gt=0, le=100)
    decisive: bool = False
    severity: dict[Outcome, Severity] = Field(default_factory=dict)


class GateModel(RequestModel):
    """A check that must have one of `passes`; otherwise: the text if it has not."""

    check: str
    passes: list[Outcome] = Field(min_length=1)
    otherwise: str = Field(default="", max_length=200)


class ServiceRequest(RequestModel):
    """A service as the agency wants it."""

    title: str = Field(min_length=1, max_length=60, pattern=r"\S")
    sentence: str = Field(default="", max_length=300)
    fee: Money = 0
    monthly: Money = 0
    months: float = Field(default=0, ge=0, le=240)
    delivery: Money = 0
    rules: list[RuleModel] = Field(min_length=1, max_length=60)
    gates: list[GateModel] = Field(default_factory=list, max_length=10)
    note: str = Field(default="", max_length=200)


class ServiceResponse(ResponseModel):
    """A service that is offered. shipped: as it came with the product; version 0 means that too."""

    id: str
    title: str
    sentence: str
    fee: float
    monthly: float
    months: float
    delivery: float
    margin: float
    rules: list[RuleModel]
    gates: list[GateModel]


class VersionResponse(ResponseModel):
    """A wording that was in force; number 0 is the shipped one."""

    number: int
    at: str
    note: str
    service: ServiceResponse


class SavedResponse(ResponseModel):
    """The service as saved, its version, and businesses whose best offer changed with it."""

    service: ServiceResponse
    version: int
    changed: int


class RankedResponse(ResponseModel):
    """A business near the top under the changed rules: score and place then and now (null: no score)."""

    id: int
    name: str
    town: str
    score: int | None
    before: int | None
    rank: int
    rank_before: int | None


class PreviewResponse(ResponseModel):
    """What the changed rules would do. bins: businesses by score, ten points each, now and before."""

    top: list[RankedResponse]
    bins: list[int]
    bins_before: list[int]
    scored: int
    scored_before: int
    offers: int
    offers_before: int
