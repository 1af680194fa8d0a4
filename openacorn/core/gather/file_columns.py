"""Which column of a file says what: guessed from headings and contents, corrected by the user, applied row by row."""

import re
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache

from openacorn.core import gather
from openacorn.core.audit.address import AddressError, clean_url, host_of
from openacorn.core.audit.tables import rows_of
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.one_cell import Address, split_address
from openacorn.errors import InvalidInput

HEADINGS: dict[str, tuple[str, ...]] = {
    "name": (
        "name", "business name", "business", "company", "company name", "title", "trading name", "firm", "organisation",
        "organization", "client", "venue", "firma", "nom", "raison sociale", "nombre", "empresa",
    ),
    "category": ("category", "categories", "trade", "type", "industry", "kind", "sector", "classification"),
    "street": (
        "street", "address", "addr", "street address", "address 1", "address line 1", "address1", "location", "full address",
        "strasse", "adresse", "rue", "direccion", "indirizzo",
    ),
    "town": (
        "town", "city", "suburb", "locality", "place", "municipality", "ort", "stadt", "ville", "commune", "ciudad", "citta",
    ),
    "postcode": (
        "postcode", "post code", "zip", "zip code", "zipcode", "postal code", "postalcode", "plz", "code postal",
        "codigo postal", "cap",
    ),
    "phone": (
        "phone", "telephone", "tel", "phone number", "mobile", "landline", "contact number", "phone 1", "number",
        "telefon", "telefono",
    ),
    "email": ("email", "e mail", "mail", "email address", "contact email"),
    "website": (
        "website", "web", "url", "site", "homepage", "web site", "website url", "web address", "domain", "link", "www",
        "webseite", "internet", "site web",
    ),
    "lat": ("lat", "latitude", "y"),
    "lon": ("lon", "lng", "long", "longitude", "x"),
    "rating": ("rating", "stars", "score", "average rating"),
    "reviews": ("reviews", "review count", "number of reviews", "reviews count", "ratings", "user ratings total"),
    "hours": ("hours", "opening hours", "open hours", "openinghours"),
    "source_id": ("id", "source id", "listing id", "record id", "ref", "reference", "key", "uid"),
    "source": ("source", "provider", "origin", "directory"),
}  # fmt: skip
"""Field → headings that name it, in the order in which they are tried."""


@cache
def _elsewhere() -> dict[str, tuple[str, ...]]:
    """Field → its headings in other languages (headings.tsv; own knowledge), as `_plain` has them."""
    found: dict[str, list[str]] = {}
    for row in rows_of(gather, "headings.tsv"):
        found.setdefault(row["field"], []).extend(_plain(word) for word in row["words"].split("|"))
    return {field: tuple(dict.fromkeys(words)) for field, words in found.items()}


_URL = re.compile(r"^(?!\d+\.\d+$)(?:(?:https?://|www\.)\S+|[\w-]+(?:\.[\w-]+)+(?:/\S*)?)$", re.I)
_EMAIL = re.compile(r"^[^@\s]+@[^@\s]+\.[^@\s]+$")
_PHONE = re.compile(r"^(?!\d{4}-\d\d?-\d\d?$)(?!\d{1,2}[./]\d{1,2}[./]\d{2,4}$)(?!\d+[.,]\d+$)\+?[\d\s().\-/]{7,20}$")
BY_CONTENT: tuple[tuple[str, re.Pattern[str]], ...] = (("email", _EMAIL), ("website", _URL), ("phone", _PHONE))
LOOKS_LIKE = 0.7
"""Share of filled cells that must look like it before a column without a telling heading is taken."""

MIN_PHONE_DIGITS = 7


class ColumnsError(InvalidInput):
    """The columns give no listings; the message says what is missing and what to do."""

    where = "columns"
    remedy = "say which column is which"


class RowError(ValueError):
    """A row that cannot be read; the message is its reason."""


@dataclass(frozen=True, slots=True)
class Guess:
    """field → column heading, and headings that nothing was made of."""

    fields: Mapping[str, str]
    unused: tuple[str, ...]


def _plain(heading: str) -> str:
    """A heading in lower case, without accents (of Latin letters) and marks, its words parted by one space."""
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", heading.replace("ß", "ss"))
    bare = unicodedata.normalize("NFKD", spaced.lower())
    kept = unicodedata.normalize("NFC", "".join(char for char in bare if not "\u0300" <= char <= "\u036f"))
    return " ".join(re.sub(r"[\W_]+", " ", kept).split())


def guess_columns(headings: Sequence[str], sample: Sequence[Mapping[str, str]]) -> Guess:
    """Guess by heading, exact before partial, then by what the cells look like. `sample`: some rows, heading → text."""
    plain = {heading: _plain(heading) for heading in headings}
    fields: dict[str, str] = {}
    for exact in (True, False):
        for field, names in HEADINGS.items():
            known = (*names, *_elsewhere().get(field, ()))
            for name in known if field not in fields else ():
                free = [h for h in headings if h not in fields.values()]
                fits = [
                    h for h in free if plain[h] == name or (not exact and len(name) > 3 and name in plain[h].split())
                ]
                if fits:
                    fields[field] = fits[0]
                    break
    for field, pattern in BY_CONTENT:
        if field not in fields:
            free = [h for h in headings if h not in fields.values()]
            best = max(free, key=lambda h: _share(h, sample, pattern), default=None)
            if best is not None and _share(best, sample, pattern) >= LOOKS_LIKE:
                fields[field] = best
    used = set(fields.values())
    return Guess(fields, tuple(heading for heading in headings if heading not in used))


def _share(heading: str, sample: Sequence[Mapping[str, str]], pattern: re.Pattern[str]) -> float:
    cells = [row.get(heading, "").strip() for row in sample]
    filled = [cell for cell in cells if cell]
    return sum(bool(pattern.match(cell)) for cell in filled) / len(filled) if filled else 0.0


def checked_columns(fields: Mapping[str, str], headings: Sequence[str]) -> dict[str, str]:
    """Return the mapping if listings can come of it. Raises ColumnsError."""
    for field, heading in fields.items():
        if field not in HEADINGS:
            raise ColumnsError(f"there is no field {field!r}; choose from {', '.join(HEADINGS)}")
        if heading not in headings:
            raise ColumnsError(f"there is no column {heading!r}; the file has {', '.join(headings) or 'none'}")
    if "name" not in fields and "website" not in fields:
        raise ColumnsError(
            f"no column was taken for the name or the website; say which one it is (columns: {', '.join(headings) or 'none'})"
        )
    return dict(fields)


def _decimal(text: str, low: float, high: float, what: str) -> float | None:
    if not text:
        return None
    try:
        value = float(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except ValueError:
        raise RowError(f"{what} {text[:40]!r} is not a number") from None
    if not low <= value <= high:
        raise RowError(f"{what} {text[:40]} is outside {low:g} … {high:g}")
    return value


def _name_from(website: str) -> str:
    try:
        return host_of(clean_url(website)).removeprefix("www.")
    except AddressError as error:
        raise RowError(f"no name, and {error}") from None


def _cell(text: str) -> str:
    """A cell's text, spaces in order; the apostrophe that keeps spreadsheets from running a cell is no part of it."""
    text = " ".join(text.split())
    return text[1:] if len(text) > 1 and text[0] == "'" and text[1] in "=+-@" else text


def _place(cells: Mapping[str, str], country: str) -> Address:
    """Street, town and postcode; an address that stands whole in the street's cell is taken apart."""
    given = Address(*(cells.get(field, "") for field in ("street", "town", "postcode")))
    if given.postcode or not given.street:
        return given
    found = split_address(given.street, country)
    if found is None or (given.town and found.town.lower() != given.town.lower()):
        return given
    return found


def read_row(row: Mapping[str, str], fields: Mapping[str, str], source: str, serial: str, country: str = "") -> Listing:
    """Return the listing in one row. A row with only a website is named by its host. Raises RowError with the reason.

    country: ISO 3166, by whose rules an address in one cell is taken apart; "" if it is not known.
    """
    cells = {field: _cell(text) for field, heading in fields.items() if (text := row.get(heading))}
    name, website = cells.get("name", ""), cells.get("website", "")
    if not name and not website:
        raise RowError("neither a name nor a website")
    lat = _decimal(cells.get("lat", ""), -90, 90, "latitude")
    lon = _decimal(cells.get("lon", ""), -180, 180, "longitude")
    reviews = _decimal(cells.get("reviews", "").replace(",", ""), 0, 1e8, "review count")
    place = _place(cells, country)
    email = cells.get("email", "").partition(";")[0].strip()  # several in one cell: the first
    return Listing(
        source=cells.get("source") or source,
        source_id=cells.get("source_id") or serial,
        name=name or _name_from(website),
        category=cells.get("category", ""),
        lat=lat if lon is not None else None,
        lon=lon if lat is not None else None,
        street=place.street,
        town=place.town,
        postcode=place.postcode,
        phone=cells.get("phone", ""),
        website=website,
        email=email,
        rating=_decimal(cells.get("rating", ""), 0, 10, "rating"),
        reviews=int(reviews) if reviews is not None else None,
        hours=cells.get("hours", ""),
    )
