"""Flesch's reading ease of English text."""

import re
from functools import cache, lru_cache

import pyphen

_WORD = re.compile(r"[A-Za-z][A-Za-z'’]*")
_SENTENCE = re.compile(r"[.!?…]+(?:\s|$)")
MAX_WORDS = 1500


@cache
def _hyphenator() -> pyphen.Pyphen:
    return pyphen.Pyphen(lang="en_US")


@lru_cache(maxsize=32768)
def syllables(word: str) -> int:
    """Syllables of an English word, at least one, by the hyphenation patterns shipped with the library."""
    return len(_hyphenator().positions(word.lower())) + 1


def reading_ease(text: str) -> float:
    """206.835 − 1.015 · words/sentences − 84.6 · syllables/words (R. Flesch, 1948); about 0 (hardest) to 100. 0 without words."""
    words = _WORD.findall(text)[:MAX_WORDS]
    if not words:
        return 0.0
    sentences = max(1, len(_SENTENCE.findall(text)))
    return 206.835 - 1.015 * len(words) / sentences - 84.6 * sum(map(syllables, words)) / len(words)
