"""The words that sites use, in the languages that we read, and which language a text is in.

The table is `words/words.tsv`: language, kind, words, source. Names of days are CLDR's; the others are marked "own knowledge".
"""

import re
from collections.abc import Iterable
from functools import cache, lru_cache
from typing import Any

import py3langid
import re2

from openacorn.core.audit import words
from openacorn.core.audit.tables import rows_of

_UNSPACED = re.compile("[\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff\u3040-\u30ff\u3400-\u9fff\uf900-\ufaff]")
"""Scripts that part words by no space: Thai, Lao, Burmese, Khmer, kana and Han."""

_UNENDED = re.compile(_UNSPACED.pattern[:-1] + "\uac00-\ud7af]")
"""Scripts whose words have no end that a pattern could tell: Hangul adds its particles to them."""

OPEN_ENDED = frozenset({"contact", "about", "team", "imprint", "privacy"})
"""Kinds whose words may go on ("enquir" in "enquiries"); the others are whole words."""

SURE_CHARS = 40
"""A text with fewer letters does not tell its language."""

READ_CHARS = 3000
MIXED_UP = {
    "gl": "es",
    "nb": "no",
    "nn": "no",
    "yue": "zh",
    "wuu": "zh",
    "pcm": "en",
    "sco": "en",
    "be": "ru",
    "af": "nl",
}
"""Languages that short texts are taken for → the large neighbour whose words they use as well (own knowledge)."""


@cache
def _table() -> dict[str, dict[str, tuple[str, ...]]]:
    found: dict[str, dict[str, tuple[str, ...]]] = {}
    for row in rows_of(words, "words.tsv"):
        found.setdefault(row["kind"], {})[row["language"]] = tuple(row["words"].split("|"))
    return found


def table_of(kind: str) -> dict[str, tuple[str, ...]]:
    """Language → its words of a kind."""
    return _table().get(kind, {})


@cache
def languages() -> frozenset[str]:
    """The languages whose words are known, as ISO 639-1 codes."""
    return frozenset(_table()["privacy"])


@cache
def words_of(kind: str, codes: frozenset[str] | None = None) -> frozenset[str]:
    """The words of a kind in lower case: of some languages, of all if None."""
    known = table_of(kind).items()
    return frozenset(word.lower() for code, group in known if codes is None or code in codes for word in group)


def alternatives(phrases: Iterable[str], *, open_ended: bool = False) -> str:
    """A pattern (RE2) for any of the words: at the beginnings of words, where the script parts words at all."""
    spaced = sorted((re.escape(word) for word in phrases if not _UNENDED.search(word)), key=len, reverse=True)
    joined = sorted((re.escape(word) for word in phrases if _UNENDED.search(word)), key=len, reverse=True)
    end = "" if open_ended else r"(?:$|[^\pL\pN])"
    parts = [rf"(?:^|[^\pL\pN])(?:{'|'.join(spaced)}){end}"] if spaced else []
    return "|".join([*parts, *(["(?:" + "|".join(joined) + ")"] if joined else [])])


@cache
def _pattern(kind: str, codes: frozenset[str] | None) -> Any:
    known = words_of(kind, codes)
    return re2.compile("(?i)" + alternatives(known, open_ended=kind in OPEN_ENDED)) if known else re2.compile("$^")


def says(kind: str, text: str, codes: frozenset[str] | None = None) -> bool:
    """Return whether a text holds a word of a kind, in some languages or, if None, in any."""
    return bool(_pattern(kind, codes).search(text))


@cache
def _matcher(kinds: tuple[str, ...]) -> Any:
    matcher = re2.Set.SearchSet()
    for kind in kinds:
        matcher.Add("(?i)" + alternatives(words_of(kind), open_ended=kind in OPEN_ENDED))
    matcher.Compile()
    return matcher


def first_kind(kinds: tuple[str, ...], text: str) -> str | None:
    """Return the first of some kinds whose words, in any language, a text holds; None if it holds none."""
    hits = _matcher(kinds).Match(text)
    return kinds[min(hits)] if hits else None


def count_words(text: str) -> int:
    """Return the number of words; in scripts that do not part them by spaces, two characters count as one."""
    joined = len(_UNSPACED.findall(text))
    return len(text.split()) if not joined else len(_UNSPACED.sub(" ", text).split()) + (joined + 1) // 2


@lru_cache(maxsize=4096)
def _guessed(text: str) -> str:
    code = str(py3langid.classify(text)[0])
    return MIXED_UP.get(code, code)


def language_of(text: str, declared: str | None) -> str:
    """Return the ISO 639-1 code of the language that a text is in: its own, else the declared one, "" if neither tells."""
    start = text[:READ_CHARS]
    if sum(char.isalpha() for char in start[:400]) >= SURE_CHARS:
        return _guessed(start)
    return base_language(declared)


def base_language(declared: str | None) -> str:
    """Return the language of a tag (BCP 47, or with an underscore): "pt-BR" → "pt"; "" for none."""
    return (declared or "").strip().lower().split("-")[0].split("_")[0]
