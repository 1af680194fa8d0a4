"""What follows from where an agency is: currency, distances, how numbers are written, the time there."""

from typing import Any

from openacorn.clock import now
from openacorn.core.geo.countries import country_facts, known_country
from openacorn.core.geo.gazetteer import zone_at
from openacorn.match.country import CountryError, countries


def follow_country(country: str, lat: float | None, lon: float | None) -> dict[str, Any]:
    """Settings by name for a country (ISO 3166) and a home in it. Raises CountryError."""
    if country not in countries() or not known_country(country):
        raise CountryError(f"there is no country {country!r}; write its two letters (ISO 3166), such as AU")
    facts = country_facts(country, now().date())
    found: dict[str, Any] = {"region": country, "units": facts.units, "locale": ""}
    if facts.currency:
        found["currency"] = facts.currency
    if lat is not None and lon is not None:
        found |= {"home": [lat, lon], "time_zone": zone_at(lat, lon)}
    return found
