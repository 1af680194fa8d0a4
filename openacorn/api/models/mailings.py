"""Mailings."""

from pydantic import Field

from openacorn.api.models.base import Asked, Told


class LetterTold(Told):
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


class MailingTold(Told):
    """A mailing that went out: when, by whom, to how many, how many of the list were left out."""

    id: int
    at: str
    by: str
    sent: int
    left_out: int


class MailingDraft(Told):
    """Who would be written to, and who not; earlier: mailings of this list; public: can owners reach their pages from outside?
    If not, no page's address is in the letters."""

    letters: list[LetterTold]
    sent: int
    left_out: int
    earlier: list[MailingTold]
    public: bool


class MailingAsked(Asked):
    """Send it off. days: nobody who was contacted within so many; by: who does it."""

    days: int = Field(default=60, ge=0, le=3650)
    by: str = Field(default="", max_length=60)


class SentOff(Told):
    """mailing: under which the file can be fetched; deed: undoes it."""

    mailing: int
    deed: int
    sent: int
