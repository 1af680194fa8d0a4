"""Fields in the form in which two listings can be compared."""

import html
import re
import unicodedata
from dataclasses import dataclass

from openacorn.core.audit.address import AddressError, clean_url
from openacorn.core.audit.extract.contacts import parse_phone
from openacorn.core.audit.hosts import borrowed, host_of, registrable_domain
from openacorn.core.geo.geodesy import Point
from openacorn.core.listing import Listing
from openacorn.core.trades.trade import singular

LEGAL = frozenset("pty ltd limited llc inc co company group the of a an".split())
ABBREVIATIONS = {
    "st": "street",
    "rd": "road",
    "ave": "avenue",
    "dr": "drive",
    "pde": "parade",
    "tce": "terrace",
    "ln": "lane",
}
ABBREVIATIONS |= {
    "esp": "esplanade",
    "hwy": "highway",
    "cres": "crescent",
    "pl": "place",
    "ct": "court",
    "sq": "square",
}
_WORD = re.compile(r"[^a-z0-9]+")
_APOSTROPHE = re.compile(r"['’`]")
_UNIT = re.compile(r"^(?:shop|unit|suite|level)\s*\w+\s*[,/]?\s*|^\w+/")


def plain(text: str) -> str:
    """Lower case, entities undone, accents off, "&" as "and"."""
    lowered = html.unescape(text).lower().replace("&", " and ")
    return "".join(char for char in unicodedata.normalize("NFKD", lowered) if not unicodedata.combining(char))


def name_tokens(name: str) -> frozenset[str]:
    """The words of a name in the singular, without legal forms and joining words."""
    words = _WORD.split(_APOSTROPHE.sub("", plain(name)))
    return frozenset(singular(word) for word in words if word and word not in LEGAL and word != "and")


def street_key(street: str) -> str:
    """House number and street words in full: "Shop 2, 14 Harbour Rd." → "14 harbour road"."""
    words = _WORD.split(_UNIT.sub("", plain(street).strip()))
    return " ".join(ABBREVIATIONS.get(word, word) for word in words if word)


def own_domain(website: str) -> str | None:
    """The registrable domain of a website, None on shared hosts and social networks."""
    if not website:
        return None
    try:
        host = host_of(clean_url(website))
    except AddressError:
        return None
    return None if borrowed(host) else registrable_domain(host)


@dataclass(frozen=True, slots=True)
class Record:
    """A listing as the matcher sees it; `key` is whatever the caller calls it by."""

    key: int
    source: str
    source_id: str
    name: str
    tokens: frozenset[str]
    phone: str | None
    domain: str | None
    street: str
    point: Point | None
    postcode: str


def record_of(key: int, listing: Listing, region: str | None) -> Record:
    """Normalise one listing. `region` is the ISO 3166 code in which national phone numbers are read."""
    point = Point(listing.lat, listing.lon) if listing.lat is not None and listing.lon is not None else None
    return Record(
        key=key,
        source=listing.source,
        source_id=listing.source_id,
        name=plain(listing.name),
        tokens=name_tokens(listing.name),
        phone=parse_phone(listing.phone, region) if listing.phone else None,
        domain=own_domain(listing.website),
        street=street_key(listing.street),
        point=point,
        postcode=listing.postcode.strip(),
    )


def block_keys(record: Record) -> frozenset[str]:
    """Keys under which a pair must meet to be compared: phone, domain, and place × each word of the name."""
    keys = set()
    if record.phone:
        keys.add(f"p:{record.phone}")
    if record.domain:
        keys.add(f"d:{record.domain}")
    places = [f"z:{record.postcode}"] if record.postcode else []
    if record.point:
        # cells of .01° (about 1 km), each pin also in its neighbours' rounding, so that a border does not part a pair
        lat, lon = record.point.lat * 100, record.point.lon * 100
        places += [f"g:{int(lat // 1) + i}:{int(lon // 1) + j}" for i in (0, lat % 1 > 0.5) for j in (0, lon % 1 > 0.5)]
    keys |= {f"{place}:{token}" for place in dict.fromkeys(places) for token in record.tokens}
    return frozenset(keys)
