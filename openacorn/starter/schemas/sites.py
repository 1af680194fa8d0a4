"""New websites, begun."""

from typing import Literal

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.starter.draft import Origin, PageId, PlacedPicture, Section, SectionKind
from openacorn.core.starter.pictures import FoundPicture
from openacorn.core.writing.helper import Tone
from openacorn.starter.store.site_pictures import StoredPicture
from openacorn.starter.store.starter_sites import SiteVersion


class ThemeResponse(ResponseModel):
    """A theme. fits: does it suit the business's trade?"""

    id: str
    title: str
    about: str
    fits: bool


class SiteResponse(ResponseModel):
    """The website begun for a business. read_pages: pages of the old one that had text; questions: to be asked of the owner;
    address: where the owner opens it, public: can that be reached from outside of this machine? newer: was it changed since it was
    shared? old: the old website's address; pictured: is there a picture of it? helper: host of the
    writing helper, "" if there is none; readability: section → Flesch's reading ease (0 hard … 100 easy) of English text;
    form_to: where the contact form goes, "" for the business's e-mail."""

    sections: list[Section]
    pictures: list[PlacedPicture]
    readability: dict[str, int]
    form_to: str
    email: str
    theme: str
    colours: str
    language: str
    read_pages: int
    questions: list[str]
    made_at: str
    shared_at: str
    withdrawn_at: str
    newer: bool
    address: str
    public: bool
    views: int
    viewed_at: str
    versions: list[SiteVersion]
    old: str
    pictured: bool
    helper: str


class WebsiteResponse(ResponseModel):
    """site: null before one was begun; themes: those that suit first."""

    name: str
    site: SiteResponse | None
    themes: list[ThemeResponse]
    colour_sets: list[str]


class ParagraphRequest(RequestModel):
    """A piece of copy; origin "agency" for what was written by hand."""

    text: str = Field(default="", max_length=3000)
    origin: Origin = "agency"
    where: str = Field(default="", max_length=2000)
    title: str = Field(default="", max_length=200)
    old: str = Field(default="", max_length=3000)


class SectionRequest(RequestModel):
    """A section as it is to be."""

    id: str = Field(min_length=1, max_length=40, pattern=r"^[a-z0-9-]+$")
    page: PageId
    kind: SectionKind
    title: str = Field(max_length=200)
    paragraphs: list[ParagraphRequest] = Field(max_length=60)
    rests_on: str = Field(default="", max_length=5000)
    shown: bool = True


class PlacedPictureRequest(RequestModel):
    """A picture as the website is to show it."""

    id: int
    alt: str = Field(default="", max_length=200)


class SiteRequest(RequestModel):
    """A website as it is to be."""

    sections: list[SectionRequest] = Field(max_length=40)
    pictures: list[PlacedPictureRequest] = Field(default=[], max_length=40)
    form_to: str = Field(default="", max_length=300)
    theme: str = Field(max_length=40)
    colours: Literal["light", "tinted", "deep"]
    by: str = Field(default="", max_length=60)


class CopyRewordRequest(RequestModel):
    """A paragraph to be worded again."""

    text: str = Field(min_length=1, max_length=3000)
    tone: Tone


class SitePicturesResponse(ResponseModel):
    """pictures: taken over; waiting: others that the old website shows."""

    pictures: list[StoredPicture]
    waiting: list[FoundPicture]


class PictureRequest(RequestModel):
    """The address of one that is waiting."""

    url: str = Field(max_length=2000)


class ConsentRequest(RequestModel):
    """Did the owner agree that the pictures are used? by: who says so."""

    agreed: bool
    by: str = Field(default="", max_length=60)


class RestoreRequest(RequestModel):
    """A version to go back to."""

    number: int = Field(ge=1)
    by: str = Field(default="", max_length=60)
