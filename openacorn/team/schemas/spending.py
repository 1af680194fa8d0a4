"""Allowances, and what was spent."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.team.allowance import Allowance


class AllowanceResponse(ResponseModel):
    """state: "near" from 80 % on, "reached", or ""; most: null without a limit."""

    what: Allowance
    used: float
    most: float | None
    state: str
    sentence: str


class LimitsRequest(RequestModel):
    """What somebody may do at most; null or left out: as much as they like."""

    requests: float | None = Field(default=None, ge=0, le=1e9)
    cost: float | None = Field(default=None, ge=0, le=1e9)
    contacts: float | None = Field(default=None, ge=0, le=1e6)
    exports: float | None = Field(default=None, ge=0, le=1e6)


class PersonSpending(ResponseModel):
    """What one person has used."""

    id: int
    name: str
    allowances: list[AllowanceResponse]


class SourceSpending(ResponseModel):
    """What one source took."""

    source: str
    title: str
    requests: int
    cost: float


class RunSpending(ResponseModel):
    """What one run took. person: who began it, "" for a schedule."""

    id: int
    sweep: str
    started_at: str
    requests: int
    cost: float
    person: str


class SpendingResponse(ResponseModel):
    """This month's spending. cost_per_won: null while nothing was won."""

    month: str
    requests: int
    cost: float
    people: list[PersonSpending]
    sources: list[SourceSpending]
    runs: list[RunSpending]
    won: int
    earned: float
    cost_per_won: float | None
