"""Schedules and notices."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class ScheduleRequest(RequestModel):
    """A sweep's schedule: every "once", "daily", "weekly" or "monthly", first at an ISO 8601 time."""

    every: str = Field(pattern="^(once|daily|weekly|monthly)$")
    at: str = Field(min_length=10, max_length=40)
    webhook: str = Field(default="", max_length=500, pattern=r"^(https?://\S+)?$")
    email: str = Field(default="", max_length=200, pattern=r"^([^@\s]+@[^@\s]+)?$")


class ScheduleResponse(ResponseModel):
    """A sweep's schedule and its next times."""

    sweep_id: int
    every: str
    at: str
    webhook: str
    email: str
    next: list[str]


class NoticeResponse(ResponseModel):
    """Something that happened while nobody looked."""

    id: int
    at: str
    text: str
    run_id: int | None
    trouble: bool
