"""Work on shortlists."""

from datetime import date
from typing import Annotated

from pydantic import AfterValidator, Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.business.store.pipeline import Stage, StepKind


def _day(text: str) -> str:
    if text:
        date.fromisoformat(text)
    return text


Day = Annotated[str, Field(max_length=10), AfterValidator(_day)]
"""A day by ISO 8601, "" for none."""


class MoveRequest(RequestModel):
    """What is to change of some members of a list; what is left out stays. by: who does it."""

    ids: list[int] = Field(min_length=1, max_length=10_000)
    stage: Stage | None = None
    owner: str | None = Field(default=None, max_length=60)
    follow_up: Day | None = None
    by: str = Field(default="", max_length=60)


class MovedResponse(ResponseModel):
    """How many members changed."""

    changed: int


class MemberResponse(ResponseModel):
    """A business on a list, with the last thing done about it on any list ("" before the first)."""

    id: int
    name: str
    town: str
    trade: str
    phone: str
    offer: str
    score: int | None
    value: float | None
    standing: str
    stage: str
    owner: str
    follow_up: str
    added_at: str
    last_at: str
    last_by: str
    last_text: str


class BoardResponse(ResponseModel):
    """A list by stages. counts: stage → members in all; members: the most valuable `shown` of them."""

    stages: list[str]
    counts: dict[str, int]
    members: list[MemberResponse]
    shown: int


class ActivityRequest(RequestModel):
    """Something done about a business."""

    text: str = Field(min_length=1, max_length=2000, pattern=r"\S")
    by: str = Field(default="", max_length=60)


class ActivityResponse(ResponseModel):
    """Something done about a business: when, by whom, what. kind: note, move, attempt, talk, mail, page or reply."""

    id: int
    at: str
    by: str
    text: str
    kind: StepKind
