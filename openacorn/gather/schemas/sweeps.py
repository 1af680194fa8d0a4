"""Sweeps: a saved plan, and what it would take."""

from dataclasses import asdict
from typing import Any

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.gather.facts import DEFAULT
from openacorn.runs.store.sweeps import Plan


class AreaRequest(RequestModel):
    """A part of a territory: a circle (lat, lon, radius in metres) or rings of [longitude, latitude] as in RFC 7946."""

    name: str = Field(default="", max_length=200)
    lat: float | None = None
    lon: float | None = None
    radius_m: float | None = None
    rings: list[list[list[float]]] | None = None


class RulesRequest(RequestModel):
    """Relevance rules; empty ones keep everything."""

    category_has: list[str] = Field(default_factory=list, max_length=100)
    category_never: list[str] = Field(default_factory=list, max_length=100)
    name_never: list[str] = Field(default_factory=list, max_length=100)
    pages_any: list[str] = Field(default_factory=list, max_length=100)
    pages_all: list[str] = Field(default_factory=list, max_length=100)
    pages_never: list[str] = Field(default_factory=list, max_length=100)
    independent: bool = False
    reviews_from: int | None = Field(default=None, ge=0, le=10_000_000)
    reviews_to: int | None = Field(default=None, ge=0, le=10_000_000)
    rating_from: float | None = Field(default=None, ge=0, le=10)
    rating_to: float | None = Field(default=None, ge=0, le=10)
    price_from: int | None = Field(default=None, ge=0, le=10)
    price_to: int | None = Field(default=None, ge=0, le=10)
    staff_from: int | None = Field(default=None, ge=0, le=1_000_000)
    staff_to: int | None = Field(default=None, ge=0, le=1_000_000)
    revenue_from: float | None = Field(default=None, ge=0, le=1e12)
    revenue_to: float | None = Field(default=None, ge=0, le=1e12)
    founded_from: str = Field(default="", max_length=10)
    founded_to: str = Field(default="", max_length=10)
    new_weeks: int | None = Field(default=None, ge=1, le=5200)
    needs: list[str] = Field(default_factory=list, max_length=10)
    lacks: list[str] = Field(default_factory=list, max_length=10)


class PlanRequest(RequestModel):
    """What to sweep. wanted 0: all there are. most_requests, most_cost: budgets for each source, 0: none. language: BCP 47."""

    trades: list[str] = Field(max_length=1000)
    areas: list[AreaRequest] = Field(max_length=500)
    sources: list[str] = Field(default_factory=lambda: ["listing_service"], max_length=50)
    wanted: int = Field(default=0, ge=0, le=1_000_000)
    place: str = Field(default="", max_length=200)
    rules: RulesRequest = RulesRequest()
    most_requests: int = Field(default=0, ge=0, le=10_000_000)
    most_cost: float = Field(default=0.0, ge=0, le=1e9)
    language: str = Field(default="", max_length=35, pattern=r"^([A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*)?$")
    facts: list[str] = Field(default_factory=lambda: list(DEFAULT), max_length=20)


class SweepRequest(RequestModel):
    """A plan with a name."""

    name: str = Field(min_length=1, max_length=120)
    plan: PlanRequest
    start: bool = True
    """False saves the plan for later."""


class AreaResponse(ResponseModel):
    """A part of a territory: a circle or a polygon's rings."""

    name: str = ""
    lat: float | None = None
    lon: float | None = None
    radius_m: float | None = None
    rings: list[list[list[float]]] | None = None


class PlanResponse(ResponseModel):
    """A saved plan. Bounds: south, west, north, east of its territory, None for a sweep of files."""

    trades: list[str]
    areas: list[AreaResponse]
    sources: list[str]
    wanted: int
    place: str
    rules: dict[str, Any]
    most_requests: int
    most_cost: float
    language: str
    facts: list[str]
    bounds: list[float] | None


class SweepResponse(ResponseModel):
    """A sweep with its latest run."""

    id: int
    name: str
    plan: PlanResponse
    created_at: str
    last_run: int | None


class SweepSaved(ResponseModel):
    """A sweep that was saved; run_id: the run that was begun, if one was."""

    sweep_id: int
    run_id: int | None


class RunStarted(ResponseModel):
    """A sweep that was saved, and its first run."""

    sweep_id: int
    run_id: int


def plan_response(plan: Plan) -> PlanResponse:
    """A plan as it is answered."""
    bounds = plan.territory.bounds if plan.areas else None
    return PlanResponse(
        trades=list(plan.trades), areas=[AreaResponse(**area) for area in plan.areas], sources=list(plan.sources),
        wanted=plan.wanted, place=plan.place, rules=asdict(plan.rules), most_requests=plan.most_requests,
        most_cost=plan.most_cost, language=plan.language, facts=list(plan.facts),
        bounds=[bounds.south, bounds.west, bounds.north, bounds.east] if bounds else None,
    )  # fmt: skip
