"""Who to ask for: people found under several sources put together, the best role first, with an address where one is known."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from openacorn.core.audit.extract.people import rank_of
from openacorn.core.audit.offsite import PersonSaid
from openacorn.core.audit.verification import guesses, nature
from openacorn.core.gather.listing import Listing, officers_of
from openacorn.core.match.normalise import name_tokens
from openacorn.core.privacy.traces import REMOVED
from openacorn.core.trades.trade import normal_words

MOST = 6


@dataclass(frozen=True, slots=True)
class PersonMention:
    """One source's word on somebody. where: the source; profile: the address of its entry, "" where it has none."""

    name: str
    role: str
    where: str
    profile: str = ""


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody at a business. roles: each with where it is said, the best first; address: theirs, guessed from the pattern of
    another one at the domain if `guessed`; profile: the address of their entry in a directory, "" where there is none."""

    name: str
    roles: tuple[tuple[str, str], ...]
    address: str = ""
    guessed: bool = False
    profile: str = ""


def works_there(entries: Sequence[Listing], name: str, town: str, domain: str) -> tuple[PersonSaid, ...]:
    """The persons of a directory's answer who are at this business: by its domain, else by its whole name in its town.

    A directory searches by words and hands out everybody who shares one: a neighbour's owner is worse than nobody. Of a firm with
    branches those in this town come first; where there are none, the others still speak for the domain.
    """
    by_domain, here = [], []
    for entry in entries:
        same_domain, in_town = bool(domain) and entry.website.lower() == domain, entry.town.lower() == town.lower()
        # an entry under another domain is another firm of the name
        by_name = in_town and not (domain and entry.website) and name_tokens(entry.name) == name_tokens(name)
        if same_domain:
            by_domain.append(entry)
        if by_name or (same_domain and in_town):
            here.append(entry)
    return tuple(person for entry in here or by_domain for person in _persons(entry))


def _persons(entry: Listing) -> list[PersonSaid]:
    """Who an entry names: a person, or a company's officers."""
    said = {name: str(value) for name, value in entry.extra.items()}
    if said.get("person"):
        return [PersonSaid(said["person"], said.get("role", ""), said.get("profile", ""), entry.source)]
    return [PersonSaid(name, role, "", entry.source) for name, role in officers_of(said.get("officers", ""))]


def _key(name: str) -> tuple[str, str]:
    """First letter and surname: "J. Núñez" and "Jo Núñez" are one; the register has middle names that nobody uses."""
    words = [word for word in normal_words(name.replace(",", " ")) if word]
    return (words[0][:1], words[-1]) if words else ("", "")


def _belongs(address: str, name: str) -> bool:
    words = [word for word in normal_words(name) if word]
    local = address.partition("@")[0].lower()
    return bool(words) and (words[-1] in local or (len(words[0]) > 2 and local == words[0]))


def people(mentions: Sequence[PersonMention], addresses: Sequence[str], own_domain: str) -> list[Person]:
    """Return each person once, owners first, at most MOST."""
    grouped: dict[tuple[str, str], list[PersonMention]] = {}
    for item in mentions:
        if REMOVED in item.name:  # somebody who asked to be erased
            continue
        grouped.setdefault(_key(item.name), []).append(item)
    named = [address for address in addresses if nature(address, own_domain)[0] == "named"]
    found = []
    for members in grouped.values():
        roles = sorted({(m.role.lower(), m.where) for m in members}, key=lambda item: (rank_of(item[0]), item))
        name = max((member.name for member in members), key=lambda text: (text.istitle(), len(text)))
        found.append((name, tuple(roles), next((member.profile for member in members if member.profile), "")))
    found.sort(key=lambda item: rank_of(item[1][0][0]))
    guessed: Mapping[str, str] = guesses([name for name, _, _ in found], named, own_domain)
    ranked = []
    for name, ranked_roles, profile in found[:MOST]:
        own = next((address for address in named if _belongs(address, name)), "")
        ranked.append(Person(name, ranked_roles, own or guessed.get(name, ""), not own and name in guessed, profile))
    return ranked
