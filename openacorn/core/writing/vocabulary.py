"""Words by language: those that claim nothing, those that turn a sentence round, those that weigh, those that are numbers."""

import json
import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib import resources

from openacorn.core.languages.catalogue import LANGUAGES

_NAMES = {
    "en": "english",
    "de": "german",
    "fr": "french",
    "es": "spanish",
    "it": "italian",
    "pt": "portuguese",
    "nl": "dutch",
}
_NOT = re.compile(r"(?<=\w)n['’]t\b|\bcannot\b", re.IGNORECASE)
_LETTERS = re.compile(r"[^\W\d_]+")
_HALVES = {"ca": "can", "wo": "will", "sha": "shall"}
"""What is left of can't, won't and shan't without their negation."""


@dataclass(frozen=True, slots=True)
class Vocabulary:
    """Words of a language, by their stems, and numbers as they are.

    common: stop words (of the collection stopwords-iso); harmless: these and courtesies, which claim nothing by themselves;
    negations: they turn a sentence round; weighty: they raise a claim or give it a time, and are never harmless; units: of time,
    which belong to their number; joins: words between two statements, prefixes: which verbs part with, both as they are; numbers:
    word → its value, as far as 100.
    """

    stem: Callable[[str], str]
    common: frozenset[str]
    harmless: frozenset[str]
    negations: frozenset[str]
    weighty: frozenset[str]
    units: frozenset[str]
    joins: frozenset[str]
    prefixes: tuple[str, ...]
    numbers: dict[str, int]


@cache
def vocabulary(language: str) -> Vocabulary:
    """The words of a language (ISO 639-1, one of LANGUAGES)."""
    from snowballstemmer import stemmer  # heavy: it loads the rules of thirty languages
    from stopwordsiso import stopwords

    words = json.loads(resources.files(__package__).joinpath("words.json").read_text(encoding="utf-8"))[language]
    stem = cache(stemmer(_NAMES[language]).stemWord)
    lists = {name: [part.lower() for part in _LETTERS.findall(words[name])] for name in words}
    negations, weighty, units = (frozenset(map(stem, lists[name])) for name in ("negations", "weighty", "units"))
    values = {word: int(value) for word, _, value in (pair.partition("=") for pair in words["numbers"].split())}
    saying = weighty | frozenset(map(stem, values))
    common = frozenset(stem(part) for word in stopwords(language) for part in _LETTERS.findall(word.lower())) - saying
    harmless = common | (frozenset(map(stem, lists["courtesies"])) - saying)
    joins, prefixes = frozenset(lists["joins"]), tuple(lists.get("prefixes", ()))
    return Vocabulary(stem, common, harmless, negations, weighty, units, joins, prefixes, values)


def words_of(text: str, language: str) -> list[str]:
    """The words of a text as written, shortened ones ("don't", "l'idée") in their parts."""
    if language == "en":
        text = _NOT.sub(lambda match: "can not" if match[0].lower() == "cannot" else " not", text)
    return [_HALVES.get(word, word) if language == "en" else word for word in _LETTERS.findall(text)]


assert set(_NAMES) == set(LANGUAGES)
