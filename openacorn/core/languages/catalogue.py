"""Sentences for owners in their language, out of gettext catalogues; dates and numbers as CLDR has them.

The English sentence is its own key. One that a catalogue lacks stays English and is counted.
"""

import re
from collections.abc import Callable
from datetime import datetime
from functools import cache
from gettext import c2py
from importlib import resources

from babel import Locale
from babel.dates import format_date
from babel.messages.catalog import Catalog
from babel.messages.pofile import read_po
from babel.numbers import format_decimal

LANGUAGES = {
    "en": "English",
    "de": "German",
    "fr": "French",
    "es": "Spanish",
    "it": "Italian",
    "pt": "Portuguese",
    "nl": "Dutch",
}
"""ISO 639-1 code → name, of the languages that owners can be written to in."""

ENGLISH = "en"
_BLANK = re.compile(r"\{(\d)\}")
_NUMBER = re.compile(r"\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d+\.\d+")


@cache
def read_catalogue(language: str) -> Catalog:
    """The catalogue of a language other than English."""
    with resources.files(__package__).joinpath(f"{language}.po").open("rb") as file:
        return read_po(file, locale=language)


@cache
def _plural_form(language: str) -> Callable[[int], int]:
    """Which of its forms a language has for a number."""
    return c2py(read_catalogue(language).plural_expr)


@cache
def _patterns(language: str) -> list[tuple[re.Pattern[str], str]]:
    """Sentences with {0} {1} … for what differs from case to case, as expressions; those that say most first."""
    found = [
        str(entry.id) for entry in read_catalogue(language) if isinstance(entry.id, str) and _BLANK.search(entry.id)
    ]
    found.sort(key=lambda text: -len(_BLANK.sub("", text)))
    return [(re.compile("(.*?)".join(map(re.escape, _BLANK.split(text)[::2])), re.DOTALL), text) for text in found]


class Translator:
    """Speaks one language and remembers what it could not say in it. missing: English sentences that stayed as they are."""

    def __init__(self, language: str = ENGLISH) -> None:
        self.language = language if language in LANGUAGES else ENGLISH
        self.missing: set[str] = set()
        self._locale = Locale.parse(self.language)

    def _found(self, english: str) -> str:
        entry = read_catalogue(self.language).get(english)
        return str(entry.string) if entry and isinstance(entry.string, str) else ""

    def knows(self, english: str) -> bool:
        """Is there a translation of a sentence (or none needed)?"""
        return self.language == ENGLISH or not english or bool(self._found(english))

    def text(self, english: str, **values: object) -> str:
        """A sentence; {name} stands for values["name"]."""
        said = english
        if self.language != ENGLISH and english:
            said = self._found(english)
            if not said:
                self.missing.add(english)
                said = english
        return said.format_map(values) if values else said

    def count(self, one: str, other: str, number: int) -> str:
        """A sentence in the singular or plural that the language has for a number, which stands for {n}."""
        return self.ngettext(one, other, number).format(n=self.number(number))

    def gettext(self, english: str) -> str:
        """As templates ask for a sentence; their values are put in by them."""
        return self.text(english)

    def ngettext(self, one: str, other: str, number: int) -> str:
        """As templates ask for a singular or plural; their values are put in by them."""
        if self.language == ENGLISH:
            return one if number == 1 else other
        entry = read_catalogue(self.language).get(one)
        forms = entry.string if entry and not isinstance(entry.string, str) else ()
        if not forms or not all(forms):
            self.missing.add(one)
            return one if number == 1 else other
        return str(forms[_plural_form(self.language)(number)])

    def sentence(self, english: str) -> str:
        """A sentence in which names and numbers stand already, as findings have them: found by what is around these."""
        if self.language == ENGLISH or not english:
            return english
        said = self._by_pattern(english)
        if not said:
            self.missing.add(english)
        return said or english

    def _by_pattern(self, english: str) -> str:
        if said := self._found(english):
            return said
        for pattern, text in _patterns(self.language):
            if (match := pattern.fullmatch(english)) and (said := self._found(text)):
                return said.format(*map(self._value, match.groups()))
        return ""

    def _value(self, shown: str) -> str:
        """The value of a blank: our own words, in lower case, or numbers as the language writes them."""
        ours = self._by_pattern(shown) if shown[:1].islower() or shown[:1].isdigit() else ""
        return ours or self.numbers(shown)

    def numbers(self, text: str) -> str:
        """A text with numbers written in English (1,234.5) as the language writes them; versions and dates stay."""
        return _NUMBER.sub(lambda match: self.number(float(match[0].replace(",", ""))), text)

    def number(self, value: float) -> str:
        """A number with the language's separators."""
        return str(format_decimal(value, locale=self._locale))

    def day(self, moment: str) -> str:
        """A day with the month in words, which nobody reads the other way round. moment: ISO 8601."""
        when = datetime.fromisoformat(moment)
        if self.language == ENGLISH:
            return f"{when.day} {when:%B %Y}"
        return str(format_date(when, "long", locale=self._locale))
