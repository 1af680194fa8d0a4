"""Recipes of JSON APIs: how places are asked for and read out of the answers, as data that a user can see and correct."""

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Any
from urllib.parse import quote, urljoin, urlsplit

import jmespath
import orjson

from openacorn.core.gather.file_columns import HEADINGS
from openacorn.core.gather.recipe import RecipeError
from openacorn.core.geo.tiles import Tile

EXTRA_FIELDS = ("claimed", "photos", "staff_band", "price_band", "closed")
"""Fields of a listing that files have no column for. closed: true where the business is permanently closed."""

FIELDS = (*(name for name in HEADINGS if name != "source"), *EXTRA_FIELDS)
PAGINGS = ("none", "page", "offset", "cursor", "link", "header")
"""How further pages are asked for: not at all, by {page}, by {offset}, by a cursor in the answer, by a link in it, by a Link header
(RFC 8288)."""

AREA_SLOTS = {
    "box": ("south", "west", "north", "east"),
    "circle": ("lat", "lon"),
}
SLOT = re.compile(r"\{(\w+)\}")
SLOTS = frozenset(
    ("term", "place", "page", "offset", "limit", "lat", "lon", "radius_m", "radius_km", "radius_mi", *AREA_SLOTS["box"])
)
DEFAULT_CAP = 10_000
MOST_PAGES = 1_000
MILE_M = 1609.344


@dataclass(frozen=True, slots=True)
class ApiField:
    """One field of a listing and where it stands in a place (JMESPath)."""

    field: str
    path: str


@dataclass(frozen=True, slots=True)
class ApiRecipe:
    """How an API is asked and read.

    address, body: with the slots of SLOTS; body: JSON text, "" for a GET. items: path to the places (JMESPath), and the fields of
    each. cursor: path to what names the next page, a token or an address; cursor_name: the parameter that takes the token. total:
    path to how many there are, error: to what stands only in answers that are none. first_page: number of the first page.
    cap: most places one question gives over all its pages, 0: not known. key_name: the header or parameter that carries the key,
    after `key_prefix`; key_in: "header" or "query". Costs in the agency's currency.
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

    @property
    def by(self) -> str:
        """What one question is about: "tiles" of an area, "places" by name, or everything at "once"."""
        slots = set(SLOT.findall(self.address + self.body))
        if any(set(names) <= slots for names in AREA_SLOTS.values()):
            return "tiles"
        return "places" if "place" in slots else "once"


@dataclass(frozen=True, slots=True)
class Asked:
    """What one question is about. tile: None where it is asked by place. page: from 1; seen: places on the pages before."""

    term: str
    place: str = ""
    tile: Tile | None = None
    page: int = 1
    seen: int = 0
    cursor: str = ""


@dataclass(frozen=True, slots=True)
class ApiCall:
    """A request to be sent; body: JSON bytes, None for a GET."""

    url: str
    headers: Mapping[str, str]
    body: bytes | None


@dataclass(frozen=True, slots=True)
class PlacesRead:
    """Rows (field → text) of one answer in order, how many places had nothing to read, the next page's cursor or address ("" at the
    end), whether there is a next page, and how many places the API says there are in all."""

    rows: tuple[Mapping[str, str], ...]
    empty: int
    next: str
    more: bool
    total: int | None


@lru_cache(maxsize=500)
def compiled(text: str) -> Any:
    return jmespath.compile(text)


def find(path: str, document: Any) -> Any:
    """What stands at a path; None where nothing does."""
    return compiled(path).search(document) if path else None


def _slots(recipe: ApiRecipe, asked: Asked) -> dict[str, str | float | int]:
    found: dict[str, str | float | int] = {
        "term": asked.term, "place": asked.place, "page": recipe.first_page + asked.page - 1, "offset": asked.seen,
        "limit": recipe.page_size,
    }  # fmt: skip
    if asked.tile is not None:
        circle = asked.tile.covering_circle()
        found |= {
            "lat": round(circle.centre.lat, 6), "lon": round(circle.centre.lon, 6), "radius_m": math.ceil(circle.radius_m),
            "radius_km": round(circle.radius_m / 1000 + 0.0005, 3), "radius_mi": round(circle.radius_m / MILE_M + 0.0005, 3),
        }  # fmt: skip
        found |= {side: round(getattr(asked.tile, side), 6) for side in AREA_SLOTS["box"]}
    return found


def _filled(value: Any, slots: Mapping[str, Any]) -> Any:
    """JSON with its slots filled; a text that is a slot and nothing else takes the slot's own type."""
    if isinstance(value, Mapping):
        return {name: _filled(part, slots) for name, part in value.items()}
    if isinstance(value, list):
        return [_filled(part, slots) for part in value]
    if not isinstance(value, str):
        return value
    whole = SLOT.fullmatch(value)
    if whole and whole[1] in slots:
        return slots[whole[1]]
    return SLOT.sub(lambda found: str(slots.get(found[1], found[0])), value)


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
    url = SLOT.sub(lambda found: quote(str(slots.get(found[1], "")), safe=""), recipe.address)
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


def text_at(value: Any) -> str:
    """A value as a row's text: lists joined, what holds further parts left out."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, int | float):
        return f"{value:.10g}" if isinstance(value, float) else str(value)
    if isinstance(value, list):
        return "; ".join(filter(None, (text_at(part) for part in value)))
    return " ".join(value.split()) if isinstance(value, str) else ""


LINK = re.compile(r"<([^>]*)>([^<]*)")


def next_link(header: str) -> str:
    """The address of the next page in a Link header (RFC 8288), "" if there is none."""
    for address, rest in LINK.findall(header):
        if re.search(r';\s*rel\s*=\s*"?(?:[^",;]*\s)?next(?:\s[^",;]*)?"?\s*(?:[;,]|$)', rest, re.I):
            return str(address)
    return ""


def _whole(value: Any) -> int | None:
    text = text_at(value)
    return int(text) if text.isdigit() else None


def _places(recipe: ApiRecipe, document: Any) -> list[Any]:
    """The places in an answer. Raises RecipeError if there is no list where they should stand."""
    if recipe.error and (said := find(recipe.error, document)):
        raise RecipeError(f"it answered with an error: {_said(said)}")
    found = find(recipe.items, document)
    if isinstance(found, Mapping):
        found = list(found.values())
    if not isinstance(found, list):
        raise RecipeError(f"there is no list at {recipe.items} in its answer: {_said(document)}")
    return found


def _said(value: Any) -> str:
    return text_at(value)[:200] if isinstance(value, str) else orjson.dumps(value).decode()[:200]


def read_places(recipe: ApiRecipe, asked: Asked, body: bytes, headers: Mapping[str, str], url: str) -> PlacesRead:
    """Read one answer. Raises RecipeError for one that holds no places, with what it says instead."""
    try:
        document = orjson.loads(body)
    except orjson.JSONDecodeError:
        start = " ".join(body[:120].decode("utf-8", "replace").split())
        kind = "a web page" if start[:1] == "<" else "something else"
        raise RecipeError(f"it sent {kind} instead of JSON: {start}") from None
    places = _places(recipe, document)
    rows = tuple(filter(None, (_row(recipe.fields, place) for place in places)))
    total = _whole(find(recipe.total, document))
    there = _next(recipe, document, headers, url)
    if recipe.paging in {"page", "offset"}:
        left = asked.seen + len(places) < total if total is not None else len(places) >= recipe.page_size
        return PlacesRead(rows, len(places) - len(rows), "", bool(places) and left, total)
    return PlacesRead(rows, len(places) - len(rows), there, bool(there) and bool(places), total)


def _next(recipe: ApiRecipe, document: Any, headers: Mapping[str, str], url: str) -> str:
    if recipe.paging == "header":
        there = next_link(headers.get("link", ""))
    elif recipe.paging in {"cursor", "link"}:
        there = text_at(find(recipe.cursor, document))
    else:
        return ""
    if there in {"", "null", "false"}:
        return ""
    return urljoin(url, there) if recipe.paging in {"link", "header"} else there


def _row(rules: Sequence[ApiField], place: Any) -> dict[str, str]:
    """Field → text of one place."""
    found = ((rule.field, text_at(find(rule.path, place))) for rule in rules)
    return {name: text for name, text in found if text}


def dump_api(recipe: ApiRecipe) -> str:
    """The recipe as JSON text."""
    return orjson.dumps(asdict(recipe)).decode()
