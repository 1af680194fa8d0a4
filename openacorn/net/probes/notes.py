"""What is known so far of a visit to a site."""

from dataclasses import dataclass, field

from openacorn.core.audit.evidence import PageFacts, Visit, Weights
from openacorn.core.audit.offsite import Crawling, MailDomain


@dataclass(frozen=True, slots=True)
class RawPage:
    """A page as fetched, kept so that it can be read again when the reader learns more."""

    url: str
    at: str
    content_type: str
    body: bytes


@dataclass(slots=True)
class VisitNotes:
    """What is known so far: kept outside the visit itself, so that running out of time loses nothing."""

    visit: Visit
    region: str | None = None  # in which the business's numbers are read, where that is known
    home: PageFacts | None = None
    inner: list[PageFacts] = field(default_factory=list)
    missed: list[tuple[str, str]] = field(default_factory=list)
    scripts: tuple[PageFacts, ...] = ()
    unread: tuple[str, ...] | None = None  # own scripts; None until they were asked for
    raw: list[RawPage] = field(default_factory=list)
    weights: Weights | None = None
    cut_short: str = ""
    crawling: Crawling | None = None
    mail: MailDomain | None = None
