"""Which language an owner is written to in."""

from functools import cache

from babel.languages import get_official_languages

from openacorn.core.languages.catalogue import ENGLISH, LANGUAGES


@cache
def languages_of(country: str, *, regional: bool = False) -> tuple[str, ...]:
    """Official languages of a country (ISO 3166) among ours, the most spoken first (CLDR). regional: those of a part of it too."""
    official = get_official_languages(country.upper(), regional=regional, de_facto=True)
    return tuple(dict.fromkeys(code for tag in official if (code := tag.partition("_")[0]) in LANGUAGES))


def language_for(by_hand: str, of_list: str, of_site: str, country: str) -> str:
    """The language for a business: as set for it, else for its list, else that of its website if the country speaks it, else the
    country's first; English where none is ours. of_site: ISO 639-1 or BCP 47; country: ISO 3166."""
    for chosen in (by_hand, of_list):
        if chosen in LANGUAGES:
            return chosen
    spoken = languages_of(country)
    heard = languages_of(country, regional=True)
    site = of_site.replace("_", "-").partition("-")[0].lower()
    if site in LANGUAGES and (site in heard or not country):
        return site
    return spoken[0] if spoken else ENGLISH
