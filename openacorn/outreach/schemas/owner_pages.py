"""Owners' pages, replies, and the letterhead."""

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel
from openacorn.core.report.claims import Withheld
from openacorn.core.report.owners_page import SECTIONS
from openacorn.outreach.store.owner_pages import Reply


class PagesRequest(RequestModel):
    """Whose pages to make (named, or all that pass a filter) and how. sections: parts of the page; service: what it is about, ""
    for each one's best offer; again: look at every site again, however fresh; share: show the pages at once; by: who does it."""

    ids: list[Id] = Field(default_factory=list, max_length=100_000)
    filter: dict[str, str] | None = None
    sections: list[str] = Field(default=list(SECTIONS), max_length=20)
    service: str = Field(default="", max_length=60)
    again: bool = False
    share: bool = False
    by: str = Field(default="", max_length=60)


class SectionsRequest(RequestModel):
    """The parts of a page that are shown."""

    sections: list[str] = Field(max_length=20)


class ByRequest(RequestModel):
    """Who does it."""

    by: str = Field(default="", max_length=60)


class OwnerPageResponse(ResponseModel):
    """An owner's page. address: where the owner opens it; public: can that be reached from outside of this machine? shared_at ""
    before it was shared; newer: was it made again since? claims: what it claims as last made; no_longer:
    what is shared and not true any more; withheld: gaps that it does
    not; language: that it was made in; untranslated: sentences that the language lacks, which stayed English."""

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
    no_longer: list[str]
    withheld: list[Withheld]
    language: str
    untranslated: list[str]


class PageLineResponse(ResponseModel):
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


class PagesResponse(ResponseModel):
    """The newest pages; total: how many there are."""

    pages: list[PageLineResponse]
    total: int


class RepliesResponse(ResponseModel):
    """Replies, those to be answered first; left: how many are to be answered; total: how many there are."""

    replies: list[Reply]
    left: int
    total: int


class ReplyRequest(RequestModel):
    """Was it answered?"""

    done: bool


class LetterheadRequest(RequestModel):
    """How the agency shows itself to owners."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    person: str = Field(default="", max_length=80)
    line: str = Field(default="", max_length=160)
    phone: str = Field(default="", max_length=40)
    email: str = Field(default="", max_length=120)
    website: str = Field(default="", max_length=120)
    colour: str = Field(default="#3b6833", pattern=r"^#[0-9a-fA-F]{6}$")


class LetterheadResponse(ResponseModel):
    """The letterhead; logo: is there one?"""

    name: str
    person: str
    line: str
    phone: str
    email: str
    website: str
    colour: str
    logo: bool
