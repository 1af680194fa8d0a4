"""Recipes of JSON APIs: how places are asked for and read out of the answers, as data that a user can see and correct."""

import math
import re
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Any
from urllib.parse import quote, urljoin, urlsplit

import jmespath
import orjson
from jmespath.exceptions import JMESPathError

from openacorn.core.gather.file_columns import HEADINGS
from openacorn.core.geo.tiles import Tile

EXTRA_FIELDS = ("claimed", "photos", "staff_band", "price_band", "closed")
"""Fields of a listing that files have no column for. closed: true where the business is permanently closed."""

FACTS: dict[str, type[str] | type[int] | type[bool]] = {
    "page": str, "followers": int, "last_post": str, "ads_running": bool, "created": str, "messages": bool,
    "trading_as": str, "incorporated": str, "officers": str, "parent": str, "parent_number": str, "revenue_band": str,
    "person": str, "role": str, "profile": str,
}  # fmt: skip
"""Facts that few services tell, kept beside a listing under these names. officers: "name, role; name, role"; page: a page on a
social network; profile: a person's."""

FIELDS = (*(name for name in HEADINGS if name != "source"), *EXTRA_FIELDS, *FACTS)
PAGINGS = ("none", "page", "offset", "cursor", "link", "header")
"""How further pages are asked for: not at all, by {page}, by {offset}, by a cursor in the answer, by a link in it, by a Link header
(RFC 8288)."""

AREA_SLOTS = {
    "box": ("south", "west", "north", "east"),
    "circle": ("lat", "lon"),
}
SLOT = re.compile(r"\{(\w+)\}")
BUSINESS_SLOTS = frozenset(("name", "town", "postcode", "domain", "phone"))
"""Slots of a look-up: the API is asked about one business at a time."""

SLOTS = BUSINESS_SLOTS | {
    "term", "codes", "place", "page", "offset", "limit", "lat", "lon", "radius_m", "radius_km", "radius_mi", *AREA_SLOTS["box"],
}  # fmt: skip
"""codes: the trade's industry codes, with commas between; its words take the place of codes that it does not have."""
DEFAULT_CAP = 10_000
MOST_PAGES = 1_000
MILE_M = 1609.344


@dataclass(frozen=True, slots=True)
class ApiField:
    """One field of a listing and its path in a place (JMESPath)."""

    field: str
    path: str


@dataclass(frozen=True, slots=True)
class ApiRecipe:
    """How an API is asked and read.

    address, body: with the slots of SLOTS; body: JSON text, "" for a GET. items: path to the places (JMESPath), and the fields of
    each. cursor: path to what names the next page, a token or an address; cursor_name: the parameter that takes the token. total:
    path to how many there are, more: to whether there is a further page, error: to what stands only in answers that are none.
    first_page: number of the first page. cap: most places one question gives over all its pages, 0: not known. ranked: does the
    order of the places say who is seen first? key_name: the header or parameter that carries the key, after `key_prefix`; key_in:
    "header" or "query". Costs in the agency's currency.
    """

    title: str
    address: str
    items: str
    fields: tuple[ApiField, ...]
    body: str = ""
    paging: str = "none"
    cursor: str = ""
    cursor_name: str = ""
    total: str = ""
    more: str = ""
    error: str = ""
    first_page: int = 1
    page_size: int = 20
    cap: int = 0
    limit: int = 200
    key_name: str = ""
    key_in: str = "header"
    key_prefix: str = ""
    pace_s: float = 1.0
    cost_per_request: float = 0.0
    cost_per_row: float = 0.0
    ranked: bool = False

    @property
    def slots(self) -> frozenset[str]:
        """The slots of the address and of the body."""
        return frozenset(SLOT.findall(self.address + self.body))

    @property
    def by(self) -> str:
        """What one question is about: one "business", "tiles" of an area, "places" by name, or everything at "once"."""
        slots = self.slots
        if slots & BUSINESS_SLOTS:
            return "business"
        if any(set(names) <= slots for names in AREA_SLOTS.values()):
            return "tiles"
        return "places" if "place" in slots else "once"


@dataclass(frozen=True, slots=True)
class Asked:
    """What one question is about. tile: None where it is asked by place. page: from 1; seen: places on the pages before. codes: the
    trade's industry codes. The rest is known of the one business that is looked up."""

    term: str
    place: str = ""
    tile: Tile | None = None
    page: int = 1
    seen: int = 0
    cursor: str = ""
    codes: tuple[str, ...] = ()
    name: str = ""
    town: str = ""
    postcode: str = ""
    domain: str = ""
    phone: str = ""

    @property
    def about_one(self) -> bool:
        """Is it about one business?"""
        return any(getattr(self, slot) for slot in BUSINESS_SLOTS)


@dataclass(frozen=True, slots=True)
class ApiCall:
    """A request to be sent; body: JSON bytes, None for a GET."""

    url: str
    headers: Mapping[str, str]
    body: bytes | None


@lru_cache(maxsize=500)
def compiled(text: str) -> Any:
    return jmespath.compile(text)


PLAIN_PATH = re.compile(r"[A-Za-z_]\w*(?:\.[A-Za-z_]\w*)*", re.ASCII)


@lru_cache(maxsize=500)
def _steps(path: str) -> tuple[str, ...]:
    """The names of a path that is nothing but names, none of any other."""
    return tuple(path.split(".")) if PLAIN_PATH.fullmatch(path) else ()


def find(path: str, document: Any) -> Any:
    """What stands at a JMESPath; None where nothing does, or nothing that its functions take.

    Most paths are names alone and asked of every field of every place: these are walked, which is much faster and the same.
    """
    if steps := _steps(path):
        for name in steps:
            document = document.get(name) if isinstance(document, dict) else None
        return document
    try:
        return compiled(path).search(document) if path else None
    except JMESPathError:
        return None


def _slots(recipe: ApiRecipe, asked: Asked) -> dict[str, str | float | int]:
    found: dict[str, str | float | int] = {
        "term": asked.term, "place": asked.place, "page": recipe.first_page + asked.page - 1, "offset": asked.seen,
        "limit": recipe.page_size, "codes": ",".join(asked.codes) or asked.term,
    }  # fmt: skip
    found |= {name: getattr(asked, name) for name in BUSINESS_SLOTS}
    if asked.tile is not None:
        circle = asked.tile.covering_circle()
        found |= {
            "lat": round(circle.centre.lat, 6), "lon": round(circle.centre.lon, 6), "radius_m": math.ceil(circle.radius_m),
            "radius_km": round(circle.radius_m / 1000 + 0.0005, 3), "radius_mi": round(circle.radius_m / MILE_M + 0.0005, 3),
        }  # fmt: skip
        found |= {side: round(getattr(asked.tile, side), 6) for side in AREA_SLOTS["box"]}
    return found


def _filled(value: Any, slots: Mapping[str, Any]) -> Any:
    """JSON with its slots filled; a text that is a slot and nothing else takes the slot's own type, and is left out where there is
    nothing to put there."""
    if isinstance(value, Mapping):
        return {name: _filled(part, slots) for name, part in value.items() if not _unsaid(part, slots)}
    if isinstance(value, list):
        return [_filled(part, slots) for part in value]
    if not isinstance(value, str):
        return value
    whole = SLOT.fullmatch(value)
    if whole and whole[1] in slots:
        return slots[whole[1]]
    return SLOT.sub(lambda found: str(slots.get(found[1], found[0])), value)


def _unsaid(value: Any, slots: Mapping[str, Any]) -> bool:
    """Is it a slot and nothing else, with nothing to put there?"""
    whole = SLOT.fullmatch(value) if isinstance(value, str) else None
    return whole is not None and slots.get(whole[1], "") == ""


def _filled_address(address: str, slots: Mapping[str, Any]) -> str:
    """An address with its slots filled, without the parameters for which there is nothing to say."""
    base, _, query = address.partition("?")
    said = "&".join(part for part in query.split("&") if part and not _unsaid(part.partition("=")[2], slots))
    return SLOT.sub(lambda found: quote(str(slots.get(found[1], "")), safe=""), f"{base}?{said}" if said else base)


def without(url: str, name: str) -> str:
    """An address without the parameter of a name."""
    base, _, query = url.partition("?")
    kept = [part for part in query.split("&") if part and part.partition("=")[0] != name]
    return f"{base}?{'&'.join(kept)}" if kept else base


def _with(url: str, name: str, value: str) -> str:
    """An address with one more parameter, in place of one of that name."""
    rest = without(url, name)
    return f"{rest}{'&' if '?' in rest else '?'}{quote(name)}={quote(value)}"


def call_of(recipe: ApiRecipe, asked: Asked, key: str) -> ApiCall:
    """The request that asks for one page."""
    slots = _slots(recipe, asked)
    url = _filled_address(recipe.address, slots)
    body: dict[str, Any] | None = _filled(orjson.loads(recipe.body), slots) if recipe.body else None
    if asked.cursor and recipe.paging in {"link", "header"}:
        url = urljoin(url, asked.cursor)
    elif asked.cursor and body is not None:
        body[recipe.cursor_name] = asked.cursor
    elif asked.cursor:
        url = _with(url, recipe.cursor_name, asked.cursor)
    headers = {"Accept": "application/json"}
    if body is not None:
        headers["Content-Type"] = "application/json"
    if recipe.key_name and key and _same_host(url, recipe.address):
        if recipe.key_in == "header":
            headers[recipe.key_name] = recipe.key_prefix + key
        else:
            url = _with(url, recipe.key_name, recipe.key_prefix + key)
    return ApiCall(url, headers, None if body is None else orjson.dumps(body))


def _same_host(url: str, address: str) -> bool:
    """The key goes to the API's own host alone, wherever a link leads."""
    return urlsplit(url).netloc == urlsplit(address).netloc


def dump_api(recipe: ApiRecipe) -> str:
    """The recipe as JSON text."""
    return orjson.dumps(asdict(recipe)).decode()
