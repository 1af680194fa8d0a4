"""The agency's country: in its format national phone numbers are read."""

import phonenumbers

from openacorn.business.store import listings
from openacorn.db.database import Database
from openacorn.errors import InvalidInput
from openacorn.match.merging import merge_new_listings
from openacorn.settings import Settings

MERGED_AT_ONCE = 200


class CountryError(InvalidInput):
    """There is no such country; the message names it."""

    where = "country"
    remedy = "choose a country from the list"


def countries() -> list[str]:
    """ISO 3166 codes of the countries whose phone numbers can be read."""
    return sorted(phonenumbers.SUPPORTED_REGIONS)


def read_phones_again(database: Database, settings: Settings) -> None:
    """Merge all listings again, piece by piece: numbers that meant nothing without a country may now join two of them."""
    with database.read() as conn:
        ids = listings.all_ids(conn)
    for start in range(0, len(ids), MERGED_AT_ONCE):
        with database.write() as conn:
            merge_new_listings(conn, ids[start : start + MERGED_AT_ONCE], settings)
