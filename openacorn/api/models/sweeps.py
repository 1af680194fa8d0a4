"""Sweeps: a saved plan, and what it would take."""

from pydantic import Field

from openacorn.api.models.base import Asked, Told


class PlanAsked(Asked):
    """What to sweep. radius in metres; wanted 0: all there are."""

    trades: list[str]
    lat: float
    lon: float
    radius_m: float
    wanted: int = Field(default=0, ge=0, le=1_000_000)
    place: str = Field(default="", max_length=200)


class SweepAsked(Asked):
    """A plan with a name."""

    name: str = Field(min_length=1, max_length=120)
    plan: PlanAsked


class PlanTold(Told):
    """A saved plan."""

    trades: list[str]
    lat: float
    lon: float
    radius_m: float
    wanted: int
    place: str
    source: str


class SweepTold(Told):
    """A sweep with its latest run."""

    id: int
    name: str
    plan: PlanTold
    created_at: str
    last_run: int | None


class TradeEstimate(Told):
    """Expected businesses of one trade, and where the figure comes from."""

    trade: str
    rows: int
    held: int
    basis: str


class EstimateTold(Told):
    """What a sweep would take. `how` says in words how the figures were arrived at."""

    rows: int
    low: int
    high: int
    requests: int
    seconds: float
    cost: float
    residents: int
    area_km2: float
    how: str
    trades: list[TradeEstimate]


class RunStarted(Told):
    """A sweep that was saved, and its first run."""

    sweep_id: int
    run_id: int
