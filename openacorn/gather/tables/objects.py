"""JSON, NDJSON, GeoJSON and map extracts as tables: one object a row."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import orjson

from openacorn.gather.tables.limits import COLUMNS, DEPTH
from openacorn.gather.tables.row import FileError, Row, text_of
from openacorn.gather.tables.text import lines_of, open_text

MAX_JSON = 64 * 1024 * 1024
LISTS = ("features", "elements", "results", "data", "items", "listings")
"""Members of a JSON object under which its rows are looked for."""

MAP_ELEMENTS = ("node", "way", "relation")


def _feature(item: dict[str, Any]) -> dict[str, Any]:
    """The cells of a GeoJSON feature (RFC 7946): its properties and the point of its geometry. Raises ValueError."""
    cells, geometry = dict(item["properties"]), item.get("geometry")
    if geometry is None:
        return cells  # RFC 7946, 3.2: a feature that is nowhere
    if not isinstance(geometry, dict):
        raise ValueError("its geometry is no GeoJSON object")
    if geometry.get("type") == "Point":
        spot = geometry.get("coordinates")
        if not isinstance(spot, list) or len(spot) < 2:
            raise ValueError("its point has no two coordinates")
        cells["lon"], cells["lat"] = spot[:2]
    return cells


def _element(item: dict[str, Any]) -> dict[str, Any]:
    """The cells of an element of a map extract: its tags, its id, and its place or its centre."""
    middle = item.get("center")
    spot = middle if isinstance(middle, dict) else item
    name = f"{item['type'][0]}{item.get('id')}"
    return {**item["tags"], "id": name, "lat": spot.get("lat"), "lon": spot.get("lon")}


def row_of(number: int, item: Any) -> Row:
    """One object as a row; one that is odd is a row with its reason."""
    if not isinstance(item, dict):
        return Row(number, {}, "not an object")
    try:
        if item.get("type") == "Feature" and isinstance(item.get("properties"), dict):
            item = _feature(item)
        elif item.get("type") in MAP_ELEMENTS and isinstance(item.get("tags"), dict):
            item = _element(item)
    except (ValueError, TypeError) as error:
        return Row(number, {}, str(error))
    if len(item) > COLUMNS:
        return Row(number, {}, f"{len(item):,} members are no business")
    return Row(number, {str(key): text_of(value) for key, value in item.items()})


def read_ndjson(path: Path, name: str, encoding: str = "") -> Iterator[Row]:
    """Yield a row for each line that holds an object. Raises FileError."""
    with open_text(path, name, encoding) as file:
        for number, line in enumerate(lines_of(file, name), 1):
            if not line.strip():
                continue
            try:
                item = orjson.loads(line)
            except orjson.JSONDecodeError as error:
                yield Row(number, {}, f"not JSON: {error}")
                continue
            yield row_of(number, item)


def read_json(path: Path, name: str, encoding: str = "") -> Iterator[Row]:
    """Yield a row for each object of a JSON document. Raises FileError."""
    if path.stat().st_size > MAX_JSON:
        raise FileError(
            f"{name}: a JSON file over {MAX_JSON // 2**20} MB has to be read whole; save it as NDJSON, one object a line"
        )
    try:
        with open_text(path, name, encoding) as file:
            whole = orjson.loads(file.read())
    except (orjson.JSONDecodeError, UnicodeError) as error:
        if "Not enough memory" in str(error):  # how the library says it
            raise MemoryError from None
        raise FileError(f"{name}: not JSON: {error}") from None
    if isinstance(whole, dict):
        lists = [value for key in LISTS if isinstance(value := whole.get(key), list)]
        whole = lists[0] if lists else [whole]
    if not isinstance(whole, list):
        raise FileError(f"{name}: holds no list of objects")
    for number, item in enumerate(whole, 1):
        yield row_of(number, item)


def _place(element: Any) -> dict[str, Any] | None:
    """A node, way or relation as the extract in JSON has it, None without a name."""
    tags = {tag.get("k", ""): tag.get("v", "") for tag in element.iter("tag")}
    middle = element.find("center")
    spot = element if middle is None else middle
    if not tags.get("name"):
        return None
    return {"type": element.tag, "id": element.get("id"), "tags": tags, "lat": spot.get("lat"), "lon": spot.get("lon")}


def read_map_extract(path: Path, name: str) -> Iterator[Row]:
    """Yield the elements of a map extract in XML (wiki.openstreetmap.org/wiki/OSM_XML) that have a name, piece by piece.

    Raises FileError.
    """
    from xml.etree import ElementTree

    number = depth = 0
    root = None
    try:
        for event, element in ElementTree.iterparse(path, events=("start", "end")):
            depth += 1 if event == "start" else -1
            if depth > DEPTH:
                raise FileError(
                    f"{name}: its elements stand more than {DEPTH} deep in one another: this is no map extract"
                )
            root = element if root is None else root
            if event == "start" or depth != 1:
                continue
            if element.tag in MAP_ELEMENTS:
                number += 1
                if found := _place(element):
                    yield row_of(number, found)
            root.clear()  # else every element that was read would stay until the end
    except FileError:
        raise
    except (ElementTree.ParseError, ValueError) as error:
        raise FileError(f"{name}: this is no map extract: {error}") from None
