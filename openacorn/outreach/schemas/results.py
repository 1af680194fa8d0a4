"""The result of contacting a business."""

from typing import Literal

from pydantic import Field

from openacorn.api.schemas import Day, RequestModel, ResponseModel
from openacorn.business.store.outcomes import Stage
from openacorn.core.score.calibration import Bin


class ContactRequest(RequestModel):
    """The result of a contact. result: no answer, call back, talking, proposed, won, lost, not interested or refused. service:
    what was offered, "" for what was offered before, else the best offer. amount in the agency's currency, of a sale."""

    result: str = Field(min_length=1, max_length=40)
    service: str = Field(default="", max_length=60)
    note: str = Field(default="", max_length=2000)
    follow_up: Day = ""
    amount: float | None = Field(default=None, ge=0, le=10_000_000)
    by: str = Field(default="", max_length=60)


class OutcomeResponse(ResponseModel):
    """One result. score: at first contact, null if there was none for the service."""

    service: str
    title: str
    score: float | None
    contacted_at: str
    stage: Stage
    amount: float | None
    reason: str


class WinProbabilityResponse(ResponseModel):
    """The chance of winning a service at a score of 50 by the prior and as learnt; trials: contacts learnt from, won among
    them; earned: what was sold of it in all, in the agency's currency."""

    service: str
    title: str
    prior: float
    learnt: float
    trials: int
    won: int
    earned: float


class WinByChannel(ResponseModel):
    """Contacts first made by a channel, won among them, and by what it multiplies the odds, all else equal."""

    channel: str
    trials: int
    won: int
    odds: float


class CurvePoint(ResponseModel):
    """The chance at a score, by the prior and as learnt."""

    score: int
    prior: float
    learnt: float


class WinModelResponse(ResponseModel):
    """What the chances of winning are, and how far they can be trusted. goes_by: "prior" or "learnt"; steps: by what the odds
    grow with ten points of score; Brier scores: 0 is the best; needed: sales (or lost ones) missing before the fit is trusted."""

    goes_by: str
    services: list[WinProbabilityResponse]
    prior_step: float
    learnt_step: float
    trials: int
    won: int
    prior_brier: float | None
    fitted_brier: float | None
    needed: int
    bins: list[Bin]
    channels: list[WinByChannel]
    curve: list[CurvePoint]


class WinModelRequest(RequestModel):
    """What values shall go by."""

    goes_by: Literal["prior", "learnt"]
