"""Mailings."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.outreach.mailing import Letter
from openacorn.outreach.store.mailings import MailingLine


class MailingDraft(ResponseModel):
    """Who would be written to, and who not; earlier: mailings of this list; public: can owners reach their pages from outside?
    If not, no page's address is in the letters."""

    letters: list[Letter]
    sent: int
    left_out: int
    earlier: list[MailingLine]
    public: bool


class MailingRequest(RequestModel):
    """Send it off. days: nobody who was contacted within so many; by: who does it."""

    days: int = Field(default=60, ge=0, le=3650)
    by: str = Field(default="", max_length=60)


class SentOff(ResponseModel):
    """mailing: under which the file can be fetched; action_id: undoes it."""

    mailing: int
    action_id: int
    sent: int
