"""What a country has: currency, language, unit of distance, name (CLDR, by way of Babel)."""

from dataclasses import dataclass
from datetime import date
from functools import cache

from babel import Locale, UnknownLocaleError
from babel.core import get_global
from babel.languages import get_official_languages
from babel.numbers import get_territory_currencies

IN_MILES = frozenset({"US", "GB", "LR", "MM"})
"""Countries whose roads are signed in miles (CLDR measurement systems "US" and "UK")."""


@dataclass(frozen=True, slots=True)
class CountryFacts:
    """currency: ISO 4217, "" where none is legal tender; language: the official one most speak, BCP 47; units: "km" or "mi"."""

    code: str
    currency: str
    language: str
    units: str


def country_facts(code: str, today: date) -> CountryFacts:
    """Facts of a country (ISO 3166, two letters)."""
    currencies = get_territory_currencies(code, today) or [""]
    languages = get_official_languages(code, de_facto=True) or ("en",)
    return CountryFacts(code, currencies[0], languages[0].replace("_", "-"), "mi" if code in IN_MILES else "km")


def country_name(code: str, language: str = "en") -> str:
    """A country's name in a language; its code where CLDR has none."""
    try:
        return str(Locale.parse(language, sep="-").territories.get(code, code))
    except (UnknownLocaleError, ValueError):
        return code


def known_country(code: str) -> bool:
    """Is this a country that CLDR has?"""
    return len(code) == 2 and code in get_global("territory_currencies")


WRITTEN_IN = ("en", "de", "fr", "es", "it", "nl", "pt")
"""Languages in which an address may name its country."""


@cache
def countries_named() -> dict[str, str]:
    """Name in lower case → country (ISO 3166)."""
    found = {
        "usa": "US",
        "u.s.a.": "US",
        "uk": "GB",
        "great britain": "GB",
        "england": "GB",
        "scotland": "GB",
        "wales": "GB",
    }
    for language in WRITTEN_IN:
        names = Locale.parse(language).territories.items()
        found |= {str(name).lower(): str(code) for code, name in names if len(code) == 2 and known_country(code)}
    return found
