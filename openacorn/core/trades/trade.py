"""Trades: kinds of business, in the words that people, sources and categories use for them."""

import re
from dataclasses import dataclass
from functools import lru_cache

from openacorn.errors import InvalidInput

_WORD = re.compile(r"[^\w]+")


@dataclass(frozen=True, slots=True)
class Trade:
    """A kind of local business.

    words: synonyms, singular; a source's category that contains one of them is of this trade.
    tags: what marks it in open map data, "key=value" each, several that must come together joined by "+".
    parent: the wider trade's id, or the name of a group. terms: further words that find it in a search, too vague to name it.
    per_10k: businesses per 10,000 residents, a first guess for estimates until own data replace it (from memory).
    codes: of the official industry classification (NAICS 2022), which company registers are asked by.
    """

    id: str
    label: str
    plural: str
    words: tuple[str, ...]
    per_10k: float
    tags: tuple[str, ...] = ()
    parent: str = ""
    terms: tuple[str, ...] = ()
    codes: tuple[str, ...] = ()


class UnknownTrade(InvalidInput):
    """A trade id that nobody defined; the message lists what there is."""

    where = "trades"
    remedy = "pick a trade from the list"


def singular(word: str) -> str:
    """Return a rough singular, for comparing only: "opticians" → "optician", "boatyards" → "boatyard"."""
    if word.endswith("ies") and len(word) > 4:
        return word[:-3] + "y"
    if word.endswith(("sses", "shes", "ches", "xes")):
        return word[:-2]
    return word[:-1] if word.endswith("s") and not word.endswith("ss") else word


def normal_words(text: str) -> list[str]:
    """Lower-case words in the singular."""
    return [singular(word) for word in _WORD.split(text.lower()) if word]


@lru_cache(maxsize=1024)
def naming_words(trade: Trade) -> tuple[frozenset[str], ...]:
    """The words of each phrase that names a trade: its label, its synonyms, the values of its map tags."""
    tagged = (tag.partition("=")[2].replace("_", " ") for tag in trade.tags if "+" not in tag)
    return tuple(frozenset(normal_words(text)) for text in dict.fromkeys((trade.label, *trade.words, *tagged)))


def names_trade(trade: Trade, category: str) -> bool:
    """Does a source's category name this trade? Every word of one synonym must be in it, in any order."""
    have = set(normal_words(category))
    return any(words <= have for words in naming_words(trade))
