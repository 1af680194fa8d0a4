"""Find the list of places in an API's answer, and where each field of a place stands."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.core.gather.api_reader import text_at
from openacorn.core.gather.api_recipe import ApiField
from openacorn.core.gather.file_columns import BY_CONTENT
from openacorn.core.gather.recipe import RecipeError

NAMES: dict[str, tuple[str, ...]] = {
    "name": ("name", "title", "business name", "company name", "display name", "label", "trading name", "organisation"),
    "source_id": ("id", "uid", "uuid", "place id", "listing id", "business id", "key", "ref", "slug", "number"),
    "category": ("category", "categories", "type", "types", "kind", "trade", "industry", "classification", "primary type"),
    "street": (
        "street", "address1", "address line1", "street address", "road", "line1", "address", "formatted address", "full address",
        "house", "display address",
    ),
    "town": ("town", "city", "locality", "suburb", "municipality", "place", "village"),
    "postcode": ("postcode", "zip", "zip code", "postal code", "post code", "zipcode"),
    "phone": (
        "phone", "telephone", "tel", "phone number", "display phone", "international phone number", "mobile", "contact number",
    ),
    "email": ("email", "mail", "e mail", "email address", "contact email"),
    "website": ("website", "site", "web", "homepage", "website uri", "url", "domain", "web address", "external url"),
    "lat": ("lat", "latitude", "y"),
    "lon": ("lon", "lng", "longitude", "long", "x"),
    "rating": ("rating", "stars", "score", "average rating", "rating value"),
    "reviews": (
        "reviews", "review count", "rating count", "user rating count", "ratings total", "num reviews", "review total", "votes",
    ),
    "hours": ("hours", "opening hours", "openings", "weekday text", "opening times"),
    "claimed": ("claimed", "is claimed", "verified"),
    "photos": ("photo count", "photos count", "photos"),
    "price_band": ("price level", "price band", "price"),
    "closed": ("closed", "permanently closed", "is closed"),
}  # fmt: skip
"""Field → names under which APIs give it, the plainest first (common practice)."""

PARTS_OF = frozenset(
    ("name", "text", "value", "title", "label", "count", "total", "formatted", "full", "display", "line1", "0")
)
"""Names of parts that are what their parent is called: "address": {"formatted": …}."""

STRUCTURE = frozenset(("Feature", "Point"))
"""Values of "type" that say what a GeoJSON object is, not what a place is (RFC 7946)."""

LEAST_PLACES = 2
DEPTH = 5
SAMPLE = 40


@dataclass(frozen=True, slots=True)
class PlaceList:
    """An array of objects in an answer."""

    path: str
    items: Sequence[Mapping[str, Any]]


def _step(path: str, name: str) -> str:
    plain = name if re.fullmatch(r"[A-Za-z_]\w*", name) else orjson.dumps(name).decode()
    return f"{path}.{plain}" if path else plain


def words_of(name: str) -> str:
    spaced = re.sub(r"(?<=[a-z0-9])(?=[A-Z])", " ", name)
    return " ".join(re.sub(r"[^a-z0-9]+", " ", spaced.lower()).split())


def walk(value: Any, path: str = "", depth: int = 0) -> Iterator[tuple[str, Any]]:
    """(path, value) of every part of an answer that is no part of a list."""
    if isinstance(value, Mapping) and depth < DEPTH:
        for name, part in value.items():
            there = _step(path, str(name))
            yield there, part
            yield from walk(part, there, depth + 1)


def lists_in(document: Any, least: int = LEAST_PLACES) -> Iterator[PlaceList]:
    """Arrays of objects, and objects whose values are such by their ids. least: so many of them."""
    parts = [("", document), *walk(document)]
    for path, value in parts:
        if isinstance(value, list):
            items = [item for item in value if isinstance(item, Mapping)]
            if len(items) >= least and len(items) >= len(value) / 2:
                yield PlaceList(path or "@", items)
        elif isinstance(value, Mapping) and len(value) >= LEAST_PLACES:
            items = [item for item in value.values() if isinstance(item, Mapping)]
            if len(items) == len(value) and _alike(items):
                yield PlaceList(f"{path}.*" if path else "*", items)


def _alike(items: Sequence[Mapping[str, Any]]) -> bool:
    """Do objects have mostly the same names? Those of one list do."""
    common = set(items[0]).intersection(*(set(item) for item in items[1:SAMPLE]))
    return len(common) >= max(2, len(items[0]) // 2)


def leaves_of(items: Sequence[Mapping[str, Any]]) -> dict[str, list[Any]]:
    """Path within a place → the values found there. Coordinates in an array get one path each."""
    found: dict[str, list[Any]] = {}
    for item in items[:SAMPLE]:
        for path, value in walk(item):
            if isinstance(value, list) and value and all(isinstance(part, int | float) for part in value):
                for at, part in enumerate(value[:2]):
                    found.setdefault(f"{path}[{at}]", []).append(part)
            elif isinstance(value, list) and value and isinstance(value[0], Mapping):
                for name, part in value[0].items():
                    if text_at(part):
                        found.setdefault(f"{path}[*].{_step('', str(name))}", []).append(part)
            elif text_at(value) and text_at(value) not in STRUCTURE:
                found.setdefault(path, []).append(value)
    return found


def _looks(field: str, values: Sequence[Any]) -> bool:
    """Could these be values of that field?"""
    texts = [text_at(value) for value in values]
    if field in {"lat", "lon", "rating", "reviews", "photos", "price_band"}:
        numbers = [number_of(text) for text in texts]
        bound = {"lat": 90.0, "lon": 180.0, "rating": 10.0}.get(field, 1e9)
        return all(number is not None and abs(number) <= bound for number in numbers)
    if field in {"claimed", "closed"}:
        return all(text in {"true", "false"} for text in texts)
    pattern = dict(BY_CONTENT).get(field)
    if pattern is not None:
        texts = [text.partition("; ")[0] for text in texts]
        if field == "website" and all(number_of(text) is not None for text in texts):
            return False
        return sum(bool(pattern.match(text)) for text in texts) >= 0.7 * len(texts)
    if field == "name":
        return (
            sum(any(char.isalpha() for char in text) for text in texts) >= 0.7 * len(texts)
            and len(set(texts)) > len(texts) / 2
        )
    if field == "source_id":
        return len(set(texts)) == len(texts)
    return True


def number_of(text: str) -> float | None:
    try:
        return float(text)
    except ValueError:
        return None


def rank_of_path(path: str, names: Sequence[str]) -> int | None:
    """How well a path is named for a field: less is better, None where it is not. The last step counts, with its parent."""
    steps = [words_of(part) for part in re.findall(r'"[^"]+"|[A-Za-z_]\w*', path.replace("[*]", ""))]
    last, parent = steps[-1], steps[-2] if len(steps) > 1 else ""
    for at, name in enumerate(names):
        if last == name:
            return at * 10 + len(steps)
        within = parent == name and last in PARTS_OF
        if name in {f"{parent} {last}", f"{last} {parent}"} or within:
            return at * 10 + len(steps) + 3
    return None


def _coordinates(leaves: Mapping[str, Sequence[Any]]) -> dict[str, str]:
    """Latitude and longitude out of an array of two: GeoJSON has the longitude first (RFC 7946)."""
    for path in leaves:
        if path.endswith("[0]") and _looks("lon", leaves[path]) and f"{path[:-3]}[1]" in leaves:
            other = f"{path[:-3]}[1]"
            swapped = "coordinates" not in path.lower() and _looks("lat", leaves[path])
            return {"lat": path, "lon": other} if swapped else {"lon": path, "lat": other}
    return {}


def _fields(items: Sequence[Mapping[str, Any]]) -> tuple[ApiField, ...]:
    """The fields of places, by the names and looks of their parts."""
    leaves = leaves_of(items)
    chosen: dict[str, str] = {}
    for field, names in NAMES.items():
        ranked = [
            (rank, path)
            for path, values in leaves.items()
            if path not in chosen.values() and (rank := rank_of_path(path, names)) is not None and _looks(field, values)
        ]
        if ranked:
            chosen[field] = min(ranked)[1]
    for field, _ in BY_CONTENT:
        if field not in chosen:
            fits = (path for path, values in leaves.items() if path not in chosen.values() and _looks(field, values))
            if path := next(fits, ""):
                chosen[field] = path
    if "lat" not in chosen or "lon" not in chosen:
        chosen |= _coordinates(leaves)
    return tuple(ApiField(field, chosen[field]) for field in NAMES if field in chosen)


def _score(found: PlaceList, fields: Sequence[ApiField]) -> float:
    named = {rule.field for rule in fields}
    telling = {"street", "town", "postcode", "phone", "website", "email", "lat", "lon", "rating"}
    return len(named & telling) * min(len(found.items), 30) if "name" in named else 0.0


def best_list(document: Any) -> tuple[PlaceList, tuple[ApiField, ...]]:
    choices = [(found, _fields(found.items)) for found in lists_in(document)]
    best = max(choices, key=lambda choice: _score(*choice), default=None)
    if best is None or not _score(*best):
        raise RecipeError("no list of places is seen in this answer; give the answer to a search that finds several")
    return best
