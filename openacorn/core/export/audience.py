"""Rows of an audience file, as advertisers' uploads of customers take them: normalised first, then hashed (SHA-256, FIPS 180-4).

The rules of normalising are common practice of such uploads (from memory): mail addresses trimmed and in lower case, numbers in
E.164, names in lower case without punctuation, countries as ISO 3166-1 alpha-2, postcodes without spaces.
"""

import csv
import hashlib
import io
import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

AudienceKind = Literal["contacts", "people", "companies"]
KINDS: dict[AudienceKind, str] = {
    "contacts": "one contact for each business",
    "people": "everybody known at each business",
    "companies": "names and domains of the businesses",
}
HASHED = ("email", "phone", "fn", "ln")
"""Columns that are hashed: what names a person. Country and postcode are uploaded as they are."""

COLUMNS = {
    "contacts": ("email", "phone", "fn", "ln", "country", "zip"), "people": ("email", "phone", "fn", "ln", "country", "zip"),
    "companies": ("company", "domain"),
}  # fmt: skip
_NO_NAME = re.compile(r"[^\w\s]|\d|_")


@dataclass(frozen=True, slots=True)
class AudienceRow:
    """A person or a company. phone: E.164; country: ISO 3166-1 alpha-2."""

    email: str = ""
    phone: str = ""
    first_name: str = ""
    last_name: str = ""
    country: str = ""
    postcode: str = ""
    company: str = ""
    domain: str = ""


def hashed(text: str) -> str:
    """The SHA-256 of a text in UTF-8, in hexadecimal; "" for an empty one, whose hash would name nobody."""
    return hashlib.sha256(text.encode()).hexdigest() if text else ""


def plain_name(name: str) -> str:
    """A name in lower case, without punctuation, in composed letters (NFC)."""
    return " ".join(_NO_NAME.sub(" ", unicodedata.normalize("NFC", name)).lower().split())


def normalised(row: AudienceRow) -> dict[str, str]:
    """A row's cells before hashing."""
    return {
        "email": row.email.strip().lower(), "phone": re.sub(r"[^\d+]", "", row.phone), "fn": plain_name(row.first_name),
        "ln": plain_name(row.last_name), "country": row.country.strip().lower(), "zip": re.sub(r"\s", "", row.postcode).lower(),
        "company": " ".join(row.company.split()), "domain": row.domain.strip().lower(),
    }  # fmt: skip


def write_audience(rows: Iterable[AudienceRow], kind: AudienceKind, *, hash_people: bool) -> bytes:
    """The file as CSV (RFC 4180). A row that names nobody is left out, and so is one that stands there already."""
    columns, seen = COLUMNS[kind], set[tuple[str, ...]]()
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(columns)
    for row in rows:
        cells = normalised(row)
        if hash_people:
            cells |= {name: hashed(cells[name]) for name in HASHED}
        line = tuple(cells[name] for name in columns)
        if line in seen or not any(cells[name] for name in ("email", "phone", "company") if name in columns):
            continue
        seen.add(line)
        writer.writerow(line)
    return out.getvalue().encode()
