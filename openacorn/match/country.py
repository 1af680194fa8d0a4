"""The agency's country: in its format national phone numbers are read."""

from pathlib import Path

import phonenumbers

from openacorn.business.store import listings
from openacorn.db.database import Database
from openacorn.errors import InvalidInput
from openacorn.match.merging import merge_new_listings
from openacorn.settings import Settings, save_settings

MERGED_AT_ONCE = 200


class CountryError(InvalidInput):
    """There is no such country; the message names it."""

    where = "country"
    remedy = "choose a country from the list"


def countries() -> list[str]:
    """ISO 3166 codes of the countries whose phone numbers can be read."""
    return sorted(phonenumbers.SUPPORTED_REGIONS)


def set_country(folder: Path, settings: Settings, region: str) -> None:
    """Set the country and keep it in the settings file. Raises CountryError."""
    if region not in phonenumbers.SUPPORTED_REGIONS:
        raise CountryError(f"there is no country {region!r}; write its two letters (ISO 3166), such as AU")
    save_settings(folder, settings.model_copy(update={"region": region}))
    settings.region = region


def read_phones_again(database: Database, settings: Settings) -> None:
    """Merge all listings again, piece by piece: numbers that meant nothing without a country may now join two of them."""
    with database.read() as conn:
        ids = listings.all_ids(conn)
    for start in range(0, len(ids), MERGED_AT_ONCE):
        with database.write() as conn:
            merge_new_listings(conn, ids[start : start + MERGED_AT_ONCE], settings)
