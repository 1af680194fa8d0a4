"""What was gathered around a site, or instead of one: rules for robots, mail at its domain, the search for it, names."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Crawling:
    """What search engines' robots may do there. blocked: the rules turn them away from the page; sitemap: its address, ""
    if none was found; sitemap_known: could that be looked up?"""

    url: str
    at: str
    blocked: bool
    rule: str = ""
    sitemap: str = ""
    sitemap_known: bool = False


@dataclass(frozen=True, slots=True)
class MailDomain:
    """What the name server says of mail at a domain: hosts that take it, best first, and the texts of its policies."""

    domain: str
    at: str
    mx: tuple[str, ...] = ()
    texts: tuple[str, ...] = ()
    dmarc: tuple[str, ...] = ()
    failed: str = ""  # why it could not be asked


@dataclass(frozen=True, slots=True)
class Candidate:
    """An address where a site might be that no listing gives. how: what led there; verdict: "theirs", "not theirs", "nothing
    there", or "undecided", with why in `shown`."""

    url: str
    how: str
    verdict: str
    shown: str


@dataclass(frozen=True, slots=True)
class SiteSearch:
    """The search for a site of a business whose listings give none: every address that was tried."""

    at: str
    tried: tuple[Candidate, ...] = ()


@dataclass(frozen=True, slots=True)
class DomainNames:
    """The business's name as a domain: (domain, "free", "taken" or "unknown"), the best first."""

    at: str
    names: tuple[tuple[str, str], ...] = ()
    registry: str = ""


@dataclass(frozen=True, slots=True)
class PersonSaid:
    """Somebody that a people directory puts at a business. profile: the address of the entry; source: which directory, "" for the
    one that was asked first."""

    name: str
    role: str
    profile: str
    source: str = ""


@dataclass(frozen=True, slots=True)
class PeopleSearch:
    """What a people directory was asked and said. asked: in words; failed: why it gave no answer, "" if it gave one."""

    at: str
    source: str
    asked: str
    people: tuple[PersonSaid, ...] = ()
    failed: str = ""
