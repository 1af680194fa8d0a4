"""Mailings."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class LetterResponse(ResponseModel):
    """One business in a mailing. reason: why it is left out, "" if it is written to."""

    id: int
    business: str
    trade: str
    town: str
    email: str
    first_name: str
    last_name: str
    line: str
    offer: str
    page: str
    reason: str


class MailingResponse(ResponseModel):
    """A mailing that went out: when, by whom, to how many, how many of the list were left out."""

    id: int
    at: str
    by: str
    sent: int
    left_out: int


class MailingDraft(ResponseModel):
    """Who would be written to, and who not; earlier: mailings of this list; public: can owners reach their pages from outside?
    If not, no page's address is in the letters."""

    letters: list[LetterResponse]
    sent: int
    left_out: int
    earlier: list[MailingResponse]
    public: bool


class MailingRequest(RequestModel):
    """Send it off. days: nobody who was contacted within so many; by: who does it."""

    days: int = Field(default=60, ge=0, le=3650)
    by: str = Field(default="", max_length=60)


class SentOff(ResponseModel):
    """mailing: under which the file can be fetched; deed: undoes it."""

    mailing: int
    deed: int
    sent: int
