"""Fields in the form in which two listings can be compared."""

import html
import re
import unicodedata
from collections import Counter
from collections.abc import Iterable
from functools import lru_cache
from typing import NamedTuple

import phonenumbers

from openacorn.core.audit.address import AddressError, clean_url, host_of
from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.audit.hosts import borrowed, registrable_domain
from openacorn.core.gather.listing import Listing
from openacorn.core.trades.catalogue import Catalogue
from openacorn.core.trades.trade import normal_words, singular

LEGAL = frozenset("pty ltd limited llc inc co company corp plc gmbh group the of a an and at in by".split())
GENERIC = frozenset(
    "shop store service centre center clinic studio house family bro brother son practice surgery specialist professional local "
    "mobile national solution works team care repair supply hire school lesson training".split()
)
"""Words that half the businesses of a street carry (common practice); the trades' own words come on top."""

ABBREVIATIONS = {
    "st": "street", "rd": "road", "ave": "avenue", "av": "avenue", "dr": "drive", "pde": "parade", "tce": "terrace", "ln": "lane",
    "esp": "esplanade", "hwy": "highway", "cres": "crescent", "pl": "place", "ct": "court", "sq": "square", "blv": "boulevard",
    "blvd": "boulevard", "pkwy": "parkway", "n": "north", "s": "south", "e": "east", "w": "west",
}  # fmt: skip
ORDINALS = {
    word: f"{number}{'st nd rd'.split()[number - 1] if number < 4 else 'th'}"
    for number, word in enumerate(
        "first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth".split(), 1
    )
}
_CROSSING = re.compile(r"\s(?:between|near|opposite|opp|corner|cnr|at|off)\s.*")
"""What follows tells where along the street it is, not which street."""

COMMON_SHARE, COMMON_AT_LEAST = 0.01, 8
"""A word in this share of many names says as little as a trade's word does."""

_WORD = re.compile(r"[^a-z0-9]+")
_APOSTROPHE = re.compile(r"['’`]")
_UNIT = re.compile(r"^(?:shop|unit|suite|level|lot)\s*\w+\s*[,/]?\s*|^\w+/(?=\d)")
_HOUSE = re.compile(r"\d+[a-z]?$")
_DIGITS = re.compile(r"\D+")
_LETTER = re.compile(r"[^\W\d_]")
MIN_PHONE_DIGITS = 7


STROKES = str.maketrans(
    {"ø": "o", "ł": "l", "đ": "d", "ħ": "h", "ı": "i", "æ": "ae", "œ": "oe", "ß": "ss", "þ": "th", "ð": "d"}
)
"""Letters that Unicode does not take apart, as they are written where they cannot be typed (common practice)."""


def plain(text: str) -> str:
    """Lower case, entities undone, accents and strokes off, "&" as "and"."""
    lowered = (html.unescape(text) if "&" in text else text).lower().replace("&", " and ")
    if lowered.isascii():
        return lowered
    spelled = unicodedata.normalize("NFKD", lowered).translate(STROKES)
    return "".join(char for char in spelled if not unicodedata.combining(char))


@lru_cache(maxsize=65536)
def _singular(word: str) -> str:
    return singular(word)


def _words(name: str) -> list[str]:
    words = _WORD.split(_APOSTROPHE.sub("", plain(name)))
    return [_singular(word) for word in words if word and word not in LEGAL]


def name_tokens(name: str) -> frozenset[str]:
    """The words of a name in the singular, without legal forms and joining words."""
    return frozenset(_words(name))


@lru_cache(maxsize=16)
def trade_words(trades: Catalogue) -> frozenset[str]:
    """Words that name a trade, and so do not tell one business of it from the next."""
    return GENERIC | trades.words


def common_words(names: Iterable[str]) -> frozenset[str]:
    """Words that occur in so many of `names` that they tell nothing."""
    found, total = Counter[str](), 0
    for name in names:
        found.update(set(_words(name)))
        total += 1
    least = max(COMMON_AT_LEAST, COMMON_SHARE * total)
    return frozenset(word for word, count in found.items() if count >= least)


def street_key(street: str) -> str:
    """House number and street words in full: "Shop 2, 14 Harbour Rd." → "14 harbour road"."""
    words = _WORD.split(_CROSSING.sub("", _UNIT.sub("", plain(street).strip())))
    return " ".join(ABBREVIATIONS.get(word) or ORDINALS.get(word, word) for word in words if word)


@lru_cache(maxsize=65536)
def _site(website: str) -> tuple[str, str]:
    """(registrable domain of an own site, "") or ("", address of a page on somebody else's host)."""
    try:
        url = clean_url(website)
    except AddressError:
        return "", ""
    host = host_of(url)
    kind = borrowed(host)
    if kind is None:
        return registrable_domain(host) or "", ""
    if kind[0] == "builder's subdomain" and host != kind[1] and host.removeprefix("www.") != kind[1]:
        return "", host
    path = url.split("://", 1)[1].partition("?")[0].rstrip("/").lower().removeprefix("www.")
    return "", path if "/" in path else ""


def own_domain(website: str) -> str | None:
    """The registrable domain of a website, None on shared hosts and social networks."""
    return _site(website)[0] or None if website else None


def trade_named(text: str, trades: Catalogue) -> str:
    """Id of the trade that a category or a name names, "" if none."""
    return next((trade.id for trade in trades.named(text)), "")


def category_key(category: str, trades: Catalogue) -> str:
    """The trade's id where the category names one, else its words in the singular."""
    return trade_named(category, trades) or " ".join(sorted(normal_words(plain(category))))


@lru_cache(maxsize=65536)
def _number(digits: str, region: str | None) -> str:
    found = parse_phone(digits, region)
    if found:
        return found
    bare = digits.lstrip("+")
    return bare if len(bare) >= MIN_PHONE_DIGITS and len(set(bare)) > 2 else ""


def _phone(raw: str, region: str | None) -> str:
    """E.164, or the bare digits where the number cannot be read without knowing the country."""
    if not raw:
        return ""
    if _LETTER.search(raw):
        return parse_phone(raw, region) or ""  # an extension, or letters for digits
    return _number(("+" if raw.lstrip().startswith("+") else "") + _DIGITS.sub("", raw), region)


def region_of_phones(phones: Iterable[str]) -> str | None:
    """The country (ISO 3166) of most numbers that are written internationally, None if none is."""
    found = Counter[str]()
    for raw in phones:
        if raw.lstrip().startswith("+") and (number := parse_phone(raw, None)):
            found[phonenumbers.region_code_for_number(phonenumbers.parse(number)) or ""] += 1
    return found.most_common(1)[0][0] or None if found else None


class ListingRecord(NamedTuple):
    """A listing as the matcher sees it; `key` is whatever the caller calls it by. Unknown text is "", an unknown pin nan.

    core: the words of the name that tell it from others, sorted; full: all words, sorted; letters: all words as written,
    run together, so that a space in the wrong place is no difference. domain: of an own site;
    page: address on a shared host or network. number, street: of the house.
    """

    key: int
    source: str
    source_id: str
    core: str
    full: str
    letters: str
    phone: str
    email: str
    domain: str
    page: str
    number: str
    street: str
    town: str
    postcode: str
    category: str
    lat: float
    lon: float


@lru_cache(maxsize=8192)
def _town(name: str) -> tuple[str, frozenset[str]]:
    """(a town as it is compared, the words of it)."""
    town = plain(name).strip()
    return town, frozenset(_words(town))


def _address(street: str, town: str) -> tuple[str, str]:
    """(house number, street's words) of an address line."""
    head, _, rest = street_key(street).partition(" ")
    if not _HOUSE.match(head):  # "3rd Street" is no house
        return "", f"{head} {rest}".strip().removesuffix(town).strip()
    return head, rest.removesuffix(town).strip()


def _is_its_host(listing: Listing) -> bool:
    """Was the listing an address alone, so that its host had to stand in for a name? Then nothing is known of the name."""
    name = listing.name.lower()
    if "." not in name or name not in listing.website.lower():
        return False
    try:
        return host_of(clean_url(listing.website)).removeprefix("www.") == name
    except AddressError:
        return False


def record_of(
    key: int, listing: Listing, region: str | None, trades: Catalogue, *, common: frozenset[str] = frozenset()
) -> ListingRecord:
    """Normalise one listing. `region`: ISO 3166 code in which national phone numbers are read; `common`: see common_words."""
    written = [] if _is_its_host(listing) else _words(listing.name)
    words = sorted(set(written))
    town, places = _town(listing.town)
    known = trade_words(trades)  # as large as a dictionary: asked, not copied
    number, street = _address(listing.street, town)
    domain, page = _site(listing.website) if listing.website else ("", "")
    pinned = listing.lat is not None and listing.lon is not None
    return ListingRecord(
        key=key, source=listing.source, source_id=listing.source_id,
        core=" ".join(word for word in words if word not in known and word not in common and word not in places),
        full=" ".join(words), letters="".join(written),
        phone=_phone(listing.phone, region), email=listing.email.strip().lower(), domain=domain, page=page,
        number=number, street=street, town=town, postcode=listing.postcode.strip().lower(),
        category=category_key(listing.category, trades) if listing.category else trade_named(listing.name, trades),
        lat=float(listing.lat) if pinned and listing.lat is not None else float("nan"),
        lon=float(listing.lon) if pinned and listing.lon is not None else float("nan"),
    )  # fmt: skip


CELL_DEG = 0.01
"""About 1 km; each pin also counts for the cells it is near, so that a border does not part a pair."""

PREFIX = 4
"""Letters of a word that must agree: slips sit further back in most words, and a block stays small."""


def _cells(record: ListingRecord) -> list[str]:
    if record.lat != record.lat:
        return []
    lat, lon = record.lat / CELL_DEG, record.lon / CELL_DEG
    return [f"g{int(lat // 1) + i}:{int(lon // 1) + j}" for i in (0, lat % 1 > 0.5) for j in (0, lon % 1 > 0.5)]


def block_keys(record: ListingRecord) -> frozenset[str]:
    """Keys under which a pair must meet to be compared: phone, e-mail, site, house, and place × each telling word of the name."""
    keys = {
        f"{mark}:{value}"
        for mark, value in (("p", record.phone), ("e", record.email), ("d", record.domain), ("w", record.page))
        if value
    }
    place = record.postcode or record.town
    if record.number and record.street:
        keys.add(f"a:{record.number} {record.street[:PREFIX]} {place}")
    places = dict.fromkeys([f"z{place}"] if place else []) | dict.fromkeys(_cells(record))
    words = {word[:PREFIX] for word in (record.core or record.full).split()}
    keys |= {f"{where}:{word}" for where in places for word in words}
    return frozenset(keys)
