"""Find a recipe in an API's address and one of its answers: its list of places, the paging, the form of the area."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any
from urllib.parse import parse_qsl, quote, urlencode, urlsplit, urlunsplit

import orjson

from openacorn.core.gather.api_fields import NAMES, best_list, number_of, walk, words_of
from openacorn.core.gather.api_reader import next_link, text_at
from openacorn.core.gather.api_recipe import ApiRecipe, Asked, find
from openacorn.core.gather.people_fields import people_list
from openacorn.core.gather.recipe import RecipeError

CURSORS = (
    "next_page_token", "next_cursor", "next_token", "continuation_token", "cursor", "continue", "after", "end_cursor", "token",
    "scroll_id", "next_page", "next",
)  # fmt: skip
"""Names of what says where the next page begins (common practice)."""

CURSOR_PARAMETERS = {
    "next_page_token": "pageToken", "next_cursor": "cursor", "next_token": "nextToken", "continuation_token": "continuationToken",
    "end_cursor": "after",
}  # fmt: skip
TOTALS = (
    "total",
    "total_count",
    "total_results",
    "totalhits",
    "count_total",
    "result_count",
    "hits_total",
    "num_found",
    "number_matched",
    "matches",
)
PAGE_NAMES = ("page", "p", "page_no", "pagenumber", "page_number", "pg")
OFFSET_NAMES = ("offset", "start", "skip", "from", "startindex", "first")
SIZE_NAMES = ("limit", "per_page", "page_size", "pagesize", "size", "take", "count", "rows", "max", "num", "n")
RADIUS = {
    "radius_km": ("km",),
    "radius_mi": ("mi", "mile"),
    "radius_m": ("radius", "distance", "dist", "range", "within", "r"),
}
TERM_NAMES = ("q", "query", "term", "what", "keyword", "keywords", "search", "text", "category", "type", "kind")
PLACE_NAMES = ("near", "where", "place", "city", "town", "location", "locality", "area", "region")
MORE_NAMES = ("more", "has_more", "has_next", "has_next_page", "more_results", "next_page_exists")
"""Names of what says that there is a further page, true or false (common practice)."""

ERROR_NAMES = ("error", "errors", "fault", "error_message")


def _joined(name: str) -> str:
    """A name as the tables of this module have it: "nextCursor" → "next_cursor"."""
    return words_of(name).replace(" ", "_")


def _named(document: Any, names: Sequence[str], *, but: str) -> tuple[str, Any]:
    """(path, value) of the first part outside the places that is called so, in the order of the names; ("", None) if none."""
    parts = [(path, value) for path, value in walk(document) if not path.startswith(but)]
    for name in names:
        for path, value in parts:
            last = _joined(path.rpartition(".")[2])
            same = last == name or last.replace("_", "") == name.replace("_", "")
            if same and not isinstance(value, Mapping | list):
                return path, value
    return "", None


def _paging(document: Any, items: str, link: str, parameters: Mapping[str, str]) -> dict[str, Any]:
    """How further pages are asked for, as parts of a recipe."""
    total, number = _named(document, TOTALS, but=items)
    found: dict[str, Any] = {"total": total} if isinstance(number, int) and not isinstance(number, bool) else {}
    path, value = _named(document, MORE_NAMES, but=items)
    if isinstance(value, bool):
        found["more"] = path
    if next_link(link):
        return found | {"paging": "header"}
    for path, value in walk(document):
        named = isinstance(value, list) and all(
            isinstance(part, Mapping) and {"rel", "href"} <= set(part) for part in value
        )
        if named and value:
            return found | {"paging": "link", "cursor": f"{path}[?rel=='next'].href | [0]"}
    path, value = _named(document, CURSORS, but=items)
    text = text_at(value)
    if text.startswith(("http://", "https://", "/", "?")):
        return found | {"paging": "link", "cursor": path}
    lower = {name.lower(): name for name in parameters}
    if name := next((lower[known] for known in PAGE_NAMES if known in lower), ""):
        return found | {"paging": "page", "slot": (name, "page")}
    if name := next((lower[known] for known in OFFSET_NAMES if known in lower), ""):
        return found | {"paging": "offset", "slot": (name, "offset")}
    if path and not isinstance(value, bool | int):
        last = _joined(path.rpartition(".")[2])
        own = next(
            (name for name in parameters if "cursor" in name.lower() or "token" in name.lower() or name == "after"), ""
        )
        return found | {"paging": "cursor", "cursor": path, "cursor_name": own or CURSOR_PARAMETERS.get(last, last)}
    return found


WORDS = ("term", "domain", "name", "phone", "postcode", "town")
"""What a parameter may be a value of, whole."""


def _slot_of(name: str, value: str, asked: Asked) -> str:
    """What a parameter is to be filled with, "" to leave it as it is. asked: its present value."""
    plain, last = _joined(name), words_of(name).split()[-1] if words_of(name) else ""
    place = asked.place
    for slot in WORDS:
        if (said := getattr(asked, slot).strip().lower()) and value.strip().lower() == said:
            return f"{{{slot}}}"
    if place and place.strip().lower() in value.strip().lower() and not re.fullmatch(r"[-\d.,; ]+", value):
        return re.sub(re.escape(place.strip()), "{place}", value, flags=re.I)
    if plain in SIZE_NAMES and value.isdigit():
        return "{limit}"
    numbers = [part for part in re.split(r"[,; ]+", value) if number_of(part) is not None]
    if len(numbers) == 4:
        order = (
            ("west", "south", "east", "north")
            if abs(float(numbers[0])) > 90 or "bbox" in plain
            else ("south", "west", "north", "east")
        )
        return ",".join(f"{{{side}}}" for side in order)
    if len(numbers) == 2 and re.fullmatch(r"[-\d., ;]+", value):
        return "{lon},{lat}" if abs(float(numbers[0])) > 90 else "{lat},{lon}"
    if number_of(value) is not None:
        if last in NAMES["lat"][:2]:
            return "{lat}"
        if last in NAMES["lon"][:4]:
            return "{lon}"
        if last in {"north", "south", "east", "west"}:
            return f"{{{last}}}"
        for slot, names in RADIUS.items():
            if any(part in names for part in plain.split("_")):
                return f"{{{slot}}}" if slot != "radius_m" or float(value) >= 200 else "{radius_km}"
    if not value and plain in TERM_NAMES:
        return "{term}"
    if not value and plain in PLACE_NAMES:
        return "{place}"
    return ""


def _slotted_address(address: str, said: Asked, paged: tuple[str, str] | None) -> tuple[str, int | None]:
    """(the address with its slots, the page size it asks for)."""
    parts, size = urlsplit(address), None
    pairs = []
    for name, value in parse_qsl(parts.query, keep_blank_values=True):
        slot = f"{{{paged[1]}}}" if paged and name == paged[0] else _slot_of(name, value, said)
        if slot == "{limit}":
            size = int(value)
        pairs.append((name, slot or value))
    query = urlencode(pairs, quote_via=quote, safe="{},:")
    path = parts.path
    for slot in (*WORDS, "place"):
        text = quote(getattr(said, slot))
        if text and f"/{text}" in path:
            path = path.replace(f"/{text}", f"/{{{slot}}}", 1)
    return urlunsplit(parts._replace(query=query, path=path, fragment="")), size


def _slotted_body(value: Any, said: Asked, name: str = "") -> Any:
    """A JSON body with its slots."""
    if isinstance(value, Mapping):
        return {key: _slotted_body(part, said, str(key)) for key, part in value.items()}
    if isinstance(value, list):
        box = [part for part in value if isinstance(part, int | float) and not isinstance(part, bool)]
        if len(box) == len(value) == 4:
            return [f"{{{side}}}" for side in ("west", "south", "east", "north")]
        if len(box) == len(value) == 2:
            order = ("lon", "lat") if abs(box[0]) > 90 or "coordinates" in name.lower() else ("lat", "lon")
            return [f"{{{side}}}" for side in order]
        return [_slotted_body(part, said, name) for part in value]
    text = text_at(value)
    plain = _joined(name)
    if isinstance(value, int) and not isinstance(value, bool):
        for names, slot in ((PAGE_NAMES, "page"), (OFFSET_NAMES, "offset")):
            if plain in names:
                return f"{{{slot}}}"
    slot = _slot_of(name, text, said)
    return slot or value


def propose_api(address: str, answer: bytes, said: Asked, *, title: str, body: str = "", link: str = "") -> ApiRecipe:
    """A recipe out of an address, one answer, and what was asked for in it. link: the answer's Link header.

    Where one business was asked about it is a look-up: of persons, or of a company's officers. Raises RecipeError.
    """
    try:
        document = orjson.loads(answer)
    except orjson.JSONDecodeError as error:
        raise RecipeError(f"this answer is not JSON: {error}") from None
    found, fields = people_list(document) if said.about_one else best_list(document)
    sent = orjson.loads(body) if body else {}
    parameters = dict(parse_qsl(urlsplit(address).query, keep_blank_values=True))
    numbers = {str(name): text_at(value) for name, value in (sent.items() if isinstance(sent, Mapping) else ())}
    paging = _paging(document, found.path, link, {**parameters, **numbers})
    slot = paging.pop("slot", None)
    asked, size = _slotted_address(address, said, slot if slot and slot[0] in parameters else None)
    filled = _slotted_body(sent, said) if body else None
    error_path = next((path for path, value in walk(document) if path in ERROR_NAMES and not value), "error")
    zero = slot is not None and slot[1] == "page" and parameters.get(slot[0]) == "0"
    recipe = ApiRecipe(
        title, asked, found.path, fields, body=orjson.dumps(filled).decode() if filled is not None else "", error=error_path,
        page_size=size or _size_in(sent) or len(found.items), first_page=0 if zero else 1, **paging,
    )  # fmt: skip
    return replace(recipe, error="") if find(recipe.error, document) else recipe


def _size_in(sent: Any) -> int | None:
    """The page size in a body."""
    for name, value in sent.items() if isinstance(sent, Mapping) else ():
        if _joined(str(name)) in SIZE_NAMES and isinstance(value, int):
            return value
    return None
