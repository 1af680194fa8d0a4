"""Whom to ask for: people found under several sources put together, the best role first, with an address where one is known."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from openacorn.core.audit.extract.people import rank_of
from openacorn.core.audit.verification import guesses, nature
from openacorn.core.trades.trade import normal_words

MOST = 6


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody at a business. roles: each with where it is said, the best first; address: theirs, guessed from the pattern of
    another one at the domain if `guessed`."""

    name: str
    roles: tuple[tuple[str, str], ...]
    address: str = ""
    guessed: bool = False


def _key(name: str) -> tuple[str, str]:
    """First letter and surname: "J. Núñez" and "Jo Núñez" are one; the register has middle names that nobody uses."""
    words = [word for word in normal_words(name.replace(",", " ")) if word]
    return (words[0][:1], words[-1]) if words else ("", "")


def _belongs(address: str, name: str) -> bool:
    words = [word for word in normal_words(name) if word]
    local = address.partition("@")[0].lower()
    return bool(words) and (words[-1] in local or (len(words[0]) > 2 and local == words[0]))


def people(said: Sequence[tuple[str, str, str]], addresses: Sequence[str], own_domain: str) -> list[Person]:
    """said: (name, role, where). Returns each person once, owners first."""
    grouped: dict[tuple[str, str], list[tuple[str, str, str]]] = {}
    for name, role, where in said:
        grouped.setdefault(_key(name), []).append((name, role.lower(), where))
    named = [address for address in addresses if nature(address, own_domain)[0] == "named"]
    found = []
    for members in grouped.values():
        roles = sorted({(role, where) for _, role, where in members}, key=lambda item: (rank_of(item[0]), item))
        name = max((member[0] for member in members), key=lambda text: (text.istitle(), len(text)))
        found.append((name, tuple(roles)))
    found.sort(key=lambda item: rank_of(item[1][0][0]))
    guessed: Mapping[str, str] = guesses([name for name, _ in found], named, own_domain)
    told = []
    for name, told_roles in found[:MOST]:
        own = next((address for address in named if _belongs(address, name)), "")
        told.append(Person(name, told_roles, own or guessed.get(name, ""), guessed=not own and name in guessed))
    return told
