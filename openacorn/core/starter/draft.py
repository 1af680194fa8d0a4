"""A new website, begun: its pages, their sections, and where each paragraph comes from."""

from dataclasses import dataclass
from typing import Literal

PageId = Literal["home", "services", "about", "contact", "privacy"]
SectionKind = Literal["welcome", "text", "services", "people", "reviews", "hours", "contact", "notice"]
Origin = Literal["website", "facts", "agency", "ask"]

PAGES: dict[PageId, str] = {
    "home": "Home", "services": "Services", "about": "About us", "contact": "Contact", "privacy": "Privacy",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Paragraph:
    """A piece of copy. origin: whose words these are; "ask": a gap, with what the owner is to be asked. where: the old page's
    address or the source of the facts, "" for what the agency wrote. title: of an item, such as a service. old: what stood on the
    old website, or in the facts, before somebody changed it."""

    text: str
    origin: Origin
    where: str = ""
    title: str = ""
    old: str = ""


@dataclass(frozen=True, slots=True)
class Section:
    """A part of a page. id: stable within the site; rests_on: what it was proposed for; shown: does the user want it?"""

    id: str
    page: PageId
    kind: SectionKind
    title: str
    paragraphs: tuple[Paragraph, ...]
    rests_on: str = ""
    shown: bool = True


@dataclass(frozen=True, slots=True)
class SiteFacts:
    """What is known of a business besides its pages' text. trade: in the singular; hours: a line each; people: (name, role);
    language: of the site (BCP 47); website: the old one's address, "" if there is none; sources: where the facts are from."""

    name: str
    trade: str = ""
    trade_id: str = ""
    street: str = ""
    town: str = ""
    postcode: str = ""
    country: str = ""
    phone: str = ""
    email: str = ""
    hours: tuple[str, ...] = ()
    rating: float | None = None
    reviews: int | None = None
    lat: float | None = None
    lon: float | None = None
    people: tuple[tuple[str, str], ...] = ()
    socials: tuple[str, ...] = ()
    website: str = ""
    description: str = ""
    language: str = "en"
    sources: str = ""


@dataclass(frozen=True, slots=True)
class PlacedPicture:
    """A picture that a website shows. id: of the stored one; alt: what it shows, in words."""

    id: int
    alt: str = ""


@dataclass(frozen=True, slots=True)
class SiteDraft:
    """A website as it stands. theme, colours: ids; read_pages: how many pages of the old website had text; pictures: the first on
    top of the home page, the second beside what the business says about itself, the others below its services; form_to: where the
    contact form goes, an e-mail address or one that begins with https://, "" for the business's e-mail."""

    facts: SiteFacts
    sections: tuple[Section, ...]
    theme: str
    colours: str
    read_pages: int = 0
    pictures: tuple[PlacedPicture, ...] = ()
    form_to: str = ""

    def of_page(self, page: PageId) -> tuple[Section, ...]:
        """The sections of a page that are shown."""
        return tuple(section for section in self.sections if section.page == page and section.shown)

    @property
    def questions(self) -> tuple[str, ...]:
        """What the owner is to be asked."""
        return tuple(
            paragraph.text
            for section in self.sections
            if section.shown
            for paragraph in section.paragraphs
            if paragraph.origin == "ask"
        )
