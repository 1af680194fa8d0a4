"""Owners' pages, replies, and the letterhead."""

from pydantic import Field

from openacorn.api.models.base import Asked, Id, Told
from openacorn.core.report.owners_page import SECTIONS


class PagesAsked(Asked):
    """Whose pages to make (named, or all that pass a filter) and how. sections: parts of the page; service: what it is about, ""
    for each one's best offer; again: look at every site again, however fresh; share: show the pages at once; by: who does it."""

    ids: list[Id] = Field(default_factory=list, max_length=100_000)
    filter: dict[str, str] | None = None
    sections: list[str] = Field(default=list(SECTIONS), max_length=20)
    service: str = Field(default="", max_length=60)
    again: bool = False
    share: bool = False
    by: str = Field(default="", max_length=60)


class SectionsAsked(Asked):
    """The parts of a page that are shown."""

    sections: list[str] = Field(max_length=20)


class ByAsked(Asked):
    """Who does it."""

    by: str = Field(default="", max_length=60)


class UnsaidTold(Told):
    """A gap that is not claimed, and why."""

    check: str
    title: str
    reason: str


class OwnerPageTold(Told):
    """An owner's page. address: where the owner opens it; public: can that be reached from outside of this machine? shared_at ""
    before it was shared; newer: was it made anew since? claims: what it claims as last made; unsaid: gaps that it does not."""

    id: int
    business_id: int
    address: str
    public: bool
    sections: list[str]
    made_at: str
    shared_at: str
    withdrawn_at: str
    newer: bool
    views: int
    viewed_at: str
    claims: list[str]
    shared_claims: list[str]
    unsaid: list[UnsaidTold]


class PageLineTold(Told):
    """A page in the list."""

    id: int
    business_id: int
    name: str
    town: str
    address: str
    made_at: str
    shared_at: str
    withdrawn_at: str
    newer: bool
    views: int
    viewed_at: str
    replies: int


class PagesTold(Told):
    """The newest pages; total: how many there are."""

    pages: list[PageLineTold]
    total: int


class ReplyTold(Told):
    """What an owner wrote. suspect: why it may be a machine's, "" if it is not."""

    id: int
    page_id: int
    business_id: int
    business: str
    at: str
    name: str
    reach: str
    text: str
    suspect: str
    done: bool


class RepliesTold(Told):
    """Replies, those to be answered first; left: how many are to be answered; total: how many there are."""

    replies: list[ReplyTold]
    left: int
    total: int


class ReplyAsked(Asked):
    """Was it answered?"""

    done: bool


class LetterheadAsked(Asked):
    """How the agency shows itself to owners."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    person: str = Field(default="", max_length=80)
    line: str = Field(default="", max_length=160)
    phone: str = Field(default="", max_length=40)
    email: str = Field(default="", max_length=120)
    website: str = Field(default="", max_length=120)
    colour: str = Field(default="#3b6833", pattern=r"^#[0-9a-fA-F]{6}$")


class LetterheadTold(Told):
    """The letterhead; logo: is there one?"""

    name: str
    person: str
    line: str
    phone: str
    email: str
    website: str
    colour: str
    logo: bool
