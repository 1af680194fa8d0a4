"""Rows out of files: CSV, XLSX, JSON, NDJSON, GeoJSON, map extracts (JSON and XML), one row at a time."""

import csv
import itertools
import zipfile
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

import orjson

MAX_LINE = 4 * 1024 * 1024
"""A longer line is no row of a table."""

MAX_JSON = 64 * 1024 * 1024
MAX_SHEET = 512 * 1024 * 1024
MAX_RATIO = 200
"""A workbook that unpacks to more than this many times its size is a bomb, not a table."""

SNIFFED = 64 * 1024
DELIMITERS = ",;\t|"
KINDS = ("csv", "xlsx", "json", "ndjson", "geojson", "osm")


class FileError(ValueError):
    """The file cannot be read as a table; the message says why and what would do."""


@dataclass(frozen=True, slots=True)
class Row:
    """One row: the line (or item) it stands at, counted from 1, and its cells; `error` instead if it is broken."""

    line: int
    cells: Mapping[str, str]
    error: str = ""


def kind_of(path: Path, name: str) -> str:
    """The kind of a file by its name, else by how it begins. Raises FileError."""
    suffix = Path(name).suffix.lower().lstrip(".")
    if suffix in {"tsv", "txt", "tab"}:
        return "csv"
    if suffix == "jsonl":
        return "ndjson"
    if suffix == "xml":
        return "osm"
    if suffix in KINDS:
        return suffix
    with path.open("rb") as file:
        head = file.read(512).lstrip()
    if head.startswith(b"PK\x03\x04"):
        return "xlsx"
    if head.startswith((b"<?xml", b"<osm")):
        return "osm"
    if head.startswith(b"["):
        return "json"
    if head.startswith(b"{"):
        return "geojson" if b"FeatureCollection" in head else "ndjson"
    if b"," in head or b"\t" in head or b";" in head:
        return "csv"
    raise FileError(f"{name}: cannot tell what kind of file this is; name it .{', .'.join(KINDS)}")


def read_rows(path: Path, name: str = "") -> Iterator[Row]:
    """Yield the rows of a file of any kind. Raises FileError when the whole file cannot be read."""
    name = name or path.name
    readers = {"csv": _csv, "xlsx": _xlsx, "json": _json, "ndjson": _ndjson, "geojson": _json, "osm": _osm}
    return readers[kind_of(path, name)](path, name)


def headings_of(rows: Iterator[Row], count: int) -> tuple[list[str], list[Row]]:
    """(all headings among the first `count` rows in order of appearance, these rows)."""
    sample = list(itertools.islice(rows, count))
    return list(dict.fromkeys(heading for row in sample for heading in row.cells)), sample


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    if isinstance(value, list):
        return "; ".join(_text(part) for part in value)
    if isinstance(value, dict):
        return orjson.dumps(value).decode()
    return str(value)


def _encoding(path: Path, name: str) -> str:
    with path.open("rb") as file:
        head = file.read(SNIFFED)
    if head[:2] in {b"\xff\xfe", b"\xfe\xff"}:
        return "utf-16"
    if b"\0" in head:
        raise FileError(f"{name}: this is no text file; save it as CSV in UTF-8")
    return "utf-8-sig"


def _lines(file: IO[str], name: str) -> Iterator[str]:
    number = 0
    while True:
        number += 1
        try:
            line = file.readline(MAX_LINE)
        except UnicodeDecodeError as error:
            raise FileError(
                f"{name}: near line {number}: byte {error.object[error.start]:#04x} is not UTF-8; save the file as CSV in UTF-8"
            ) from None
        if not line:
            return
        if len(line) >= MAX_LINE and not line.endswith("\n"):
            raise FileError(f"{name}: line {number} is longer than {MAX_LINE // 2**20} MB; is this a table?")
        yield line


def _csv(path: Path, name: str) -> Iterator[Row]:
    with path.open(encoding=_encoding(path, name), newline="") as file:
        lines = _lines(file, name)
        first = next(lines, "")
        if not first.strip():
            raise FileError(f"{name}: the file is empty; its first line must name the columns")
        delimiter = max(DELIMITERS, key=first.count) if any(mark in first for mark in DELIMITERS) else ","
        reader = csv.reader(itertools.chain([first], lines), delimiter=delimiter)
        headings = [heading.strip() or f"column {number}" for number, heading in enumerate(next(reader), 1)]
        before = reader.line_num
        while True:
            try:
                cells = next(reader, None)
            except csv.Error as error:
                raise FileError(f"{name}: line {reader.line_num}: {error}") from None
            if cells is None:
                return
            line, before = before + 1, reader.line_num
            if not cells:
                continue  # a blank line is no row; one of empty cells is, and is told
            if len(cells) > len(headings):
                yield Row(line, {}, f"{len(cells)} cells under {len(headings)} headings")
            else:
                yield Row(line, dict(zip(headings, cells, strict=False)))


def _xlsx(path: Path, name: str) -> Iterator[Row]:
    from openpyxl import load_workbook

    try:
        with zipfile.ZipFile(path) as pack:
            unpacked = sum(item.file_size for item in pack.infolist())
            if unpacked > MAX_SHEET or unpacked > max(path.stat().st_size, 50_000) * MAX_RATIO:
                raise FileError(
                    f"{name}: unpacks to {unpacked // 2**20} MB, which no table of listings does; save it as CSV"
                )
        book = load_workbook(path, read_only=True, data_only=True)
        sheet = book.worksheets[0]
        rows = sheet.iter_rows(values_only=True)
        headings = [_text(cell).strip() or f"column {number}" for number, cell in enumerate(next(rows, ()), 1)]
        for line, cells in enumerate(rows, 2):
            texts = [_text(cell) for cell in cells]
            if any(text.strip() for text in texts):
                yield Row(line, dict(zip(headings, texts, strict=False)))
    except FileError:
        raise
    except Exception as error:  # the library raises whatever the broken part raises
        raise FileError(
            f"{name}: this is no readable workbook ({type(error).__name__}); save it as CSV or XLSX again"
        ) from None


def _ndjson(path: Path, name: str) -> Iterator[Row]:
    with path.open(encoding=_encoding(path, name)) as file:
        for number, line in enumerate(_lines(file, name), 1):
            if not line.strip():
                continue
            try:
                item = orjson.loads(line)
            except orjson.JSONDecodeError as error:
                yield Row(number, {}, f"not JSON: {error}")
                continue
            yield _item(number, item)


def _item(number: int, item: Any) -> Row:
    """One object as a row; a GeoJSON feature (RFC 7946) gives its properties and the point of its geometry."""
    if not isinstance(item, dict):
        return Row(number, {}, "not an object")
    cells = item
    if item.get("type") == "Feature" and isinstance(item.get("properties"), dict):
        cells = dict(item["properties"])
        geometry = item.get("geometry") or {}
        if geometry.get("type") == "Point" and len(geometry.get("coordinates") or ()) >= 2:
            cells["lon"], cells["lat"] = geometry["coordinates"][:2]
    elif isinstance(item.get("tags"), dict) and item.get("type") in MAP_ELEMENTS:
        middle = item.get("center") or item
        cells = {
            **item["tags"],
            "id": f"{item['type'][0]}{item.get('id')}",
            "lat": middle.get("lat"),
            "lon": middle.get("lon"),
        }
    return Row(number, {str(key): _text(value) for key, value in cells.items()})


MAP_ELEMENTS = ("node", "way", "relation")


def _osm(path: Path, name: str) -> Iterator[Row]:
    """Elements of a map extract in XML (wiki.openstreetmap.org/wiki/OSM_XML) that have a name; read piece by piece."""
    from xml.etree import ElementTree

    number = 0
    try:
        for _, element in ElementTree.iterparse(path, events=("end",)):
            if element.tag not in MAP_ELEMENTS:
                continue
            number += 1
            tags = {tag.get("k", ""): tag.get("v", "") for tag in element.iter("tag")}
            middle = element.find("center")
            spot = element if middle is None else middle
            if tags.get("name"):
                place = {"lat": spot.get("lat"), "lon": spot.get("lon")}
                yield _item(number, {"type": element.tag, "id": element.get("id"), "tags": tags, **place})
            element.clear()
    except ElementTree.ParseError as error:
        raise FileError(f"{name}: this is no map extract: {error}") from None


def _json(path: Path, name: str) -> Iterator[Row]:
    if path.stat().st_size > MAX_JSON:
        raise FileError(
            f"{name}: a JSON file over {MAX_JSON // 2**20} MB has to be read whole; save it as NDJSON, one object a line"
        )
    try:
        whole = orjson.loads(path.read_bytes())
    except orjson.JSONDecodeError as error:
        raise FileError(f"{name}: not JSON: {error}") from None
    if isinstance(whole, dict):
        lists = [
            value
            for key in ("features", "elements", "results", "data", "items", "listings")
            if isinstance(value := whole.get(key), list)
        ]
        whole = lists[0] if lists else [whole]
    if not isinstance(whole, list):
        raise FileError(f"{name}: holds no list of objects")
    for number, item in enumerate(whole, 1):
        yield _item(number, item)
