"""Work on shortlists."""

from pydantic import Field

from openacorn.api.schemas import Day, RequestModel, ResponseModel
from openacorn.business.store.pipeline import Member, Stage


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


class BoardResponse(ResponseModel):
    """A list by stages. counts: stage → members in all; members: the most valuable `shown` of them."""

    stages: list[str]
    counts: dict[str, int]
    members: list[Member]
    shown: int


class ActivityRequest(RequestModel):
    """Something done about a business."""

    text: str = Field(min_length=1, max_length=2000, pattern=r"\S")
    by: str = Field(default="", max_length=60)
