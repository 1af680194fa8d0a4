"""What came of contacting a business."""

from pydantic import Field

from openacorn.api.models.base import Asked, Told
from openacorn.store.outcomes import Stage


class OutcomeAsked(Asked):
    """What came of offering a service; amount in the agency's currency where it was won, reason where it was lost."""

    service: str = Field(min_length=1, max_length=60)
    stage: Stage
    amount: float | None = Field(default=None, ge=0, le=10_000_000)
    reason: str = Field(default="", max_length=200)


class OutcomeTold(Told):
    """What came of it. score: at first contact."""

    service: str
    title: str
    score: float
    contacted_at: str
    stage: Stage
    amount: float | None
    reason: str


class OddsTold(Told):
    """What a middling opportunity (score 50) for a service is won by, and how much more often ten points more: odds × step.

    learnt_from: outcomes of the agency's own; 0: only the prior speaks.
    """

    service: str
    at_50: float
    step: float
    learnt_from: int
    won: int
