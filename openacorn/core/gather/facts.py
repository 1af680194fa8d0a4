"""What a sweep can find out of each business, in groups: what each brings, how often, and what it takes."""

from dataclasses import dataclass

from openacorn.errors import InvalidInput


class UnknownGroup(InvalidInput):
    """An unknown group of facts; the message lists the known ones."""

    where = "facts"
    remedy = "choose from the list of what can be found out"


@dataclass(frozen=True, slots=True)
class FactGroup:
    """source: the source it comes from, "" for a visit to the website. prior: share of businesses it is found for, until
    there is own experience (from memory). visits: requests to each website."""

    id: str
    title: str
    brings: str
    source: str
    prior: float
    visits: int = 0
    town_pages: int = 0
    """Requests for each trade in each town."""


GROUPS: tuple[FactGroup, ...] = (
    FactGroup("website", "Website audit", "is there a site, does it work, what is missing on it", "", 0.75, 4),
    FactGroup("contacts", "Contacts on inner pages", "e-mail addresses, phones and people beyond the home page", "", 0.55, 2),
    FactGroup("whole_site", "Whole site", "every page up to a limit: more contacts, people and tags", "", 0.6, 30),
    FactGroup("mailboxes", "Addresses verified", "does an e-mail address reach somebody; nothing is sent", "", 0.4, 1),
    FactGroup("browser", "A look in a browser", "how it looks, fits a phone, tags that fire, load time measured", "", 0.7, 25),
    FactGroup("social", "Social pages", "followers, last post, ads running", "social_pages", 0.4),
    FactGroup("rank", "Rank in local search", "the place in the answer in each town", "listing_service", 0.85, town_pages=3),
    FactGroup("people", "People directory", "who owns or runs it, with role and profile", "people_directory", 0.5),
    FactGroup("company", "Company register", "officers, founding date, parent, revenue band", "company_register", 0.55),
)  # fmt: skip

DEFAULT: tuple[str, ...] = ("website", "contacts")


def checked_groups(ids: tuple[str, ...]) -> tuple[str, ...]:
    """Return the groups in their own order, each once. Raises UnknownGroup; contacts are read on a visit only."""
    known = [group.id for group in GROUPS]
    strange = [name for name in ids if name not in known]
    if strange:
        raise UnknownGroup(f"there is no group of facts {strange[0]!r}; choose from {', '.join(known)}")
    if "mailboxes" in ids and "contacts" not in ids:
        raise UnknownGroup("addresses are verified as they are found: choose contacts too")
    for name, what in (
        ("contacts", "contacts are read"), ("whole_site", "pages are read"),
        ("browser", "a browser is opened"), ("people", "people are looked up"),
    ):  # fmt: skip
        if name in ids and "website" not in ids:
            raise UnknownGroup(f"{what} while the website is visited: choose the website audit too")
    return tuple(name for name in known if name in ids)


def sources_of(ids: tuple[str, ...]) -> list[str]:
    """The sources that chosen groups of facts come from."""
    return [group.source for group in GROUPS if group.id in ids and group.source]
