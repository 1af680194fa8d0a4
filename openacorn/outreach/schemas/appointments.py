"""Appointments and the calendar feed."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class AppointmentRequest(RequestModel):
    """at: when it begins, with a time zone (ISO 8601); remind_minutes: before it, 0 for no reminder."""

    at: str = Field(min_length=10, max_length=40)
    minutes: int = Field(default=30, ge=5, le=24 * 60)
    place: str = Field(default="", max_length=200)
    note: str = Field(default="", max_length=2000)
    remind_minutes: int = Field(default=15, ge=0, le=7 * 24 * 60)
    by: str = Field(default="", max_length=60)


class CalendarFeedRequest(RequestModel):
    """by: whose feed, "" for everybody's; open: give it a new address, or close it."""

    by: str = Field(default="", max_length=60)
    open: bool = True


class CalendarFeed(ResponseModel):
    """address: where a calendar program reads it, "" while it is closed; public: can that be reached from
    outside of this machine?"""

    address: str
    public: bool
