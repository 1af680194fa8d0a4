"""Rows out of files: CSV, XLSX, ODS, XLS, JSON, NDJSON, GeoJSON, map extracts (JSON and XML), one row at a time."""

import itertools
from collections.abc import Iterator
from pathlib import Path

from openacorn.core.gather.encoding import by_mark
from openacorn.gather.tables.objects import read_json, read_map_extract, read_ndjson
from openacorn.gather.tables.row import FileError, Row
from openacorn.gather.tables.text import encoding_of, open_text, read_csv
from openacorn.gather.tables.workbook import read_workbook

__all__ = ["KINDS", "FileError", "Row", "encoding_of", "headings_of", "kind_of", "open_text", "rows_here"]
KINDS = ("csv", "xlsx", "ods", "xls", "json", "ndjson", "geojson", "osm")
OPEN_DOCUMENT = b"application/vnd.oasis.opendocument.spreadsheet"
SAME_AS = {"tsv": "csv", "txt": "csv", "tab": "csv", "jsonl": "ndjson", "xml": "osm", "xlsm": "xlsx"}
"""Other endings of file names → the kind they stand for."""


def kind_of(path: Path, name: str) -> str:
    """The kind of a file by its name, else by how it begins. Raises FileError."""
    suffix = Path(name).suffix.lower().lstrip(".")
    suffix = SAME_AS.get(suffix, suffix)
    with path.open("rb") as file:
        head = file.read(512).lstrip()
    if head.startswith(b"\xd0\xcf\x11\xe0"):
        return "xls"
    if head.startswith(b"PK\x03\x04"):
        return "ods" if OPEN_DOCUMENT in head else "xlsx"
    if suffix in KINDS:
        return suffix
    if head.startswith((b"<?xml", b"<osm")):
        return "osm"
    if head.startswith(b"["):
        return "json"
    if head.startswith(b"{"):
        return "geojson" if b"FeatureCollection" in head else "ndjson"
    if by_mark(head) or any(mark in head for mark in (b",", b"\t", b";")):
        return "csv"
    raise FileError(f"{name}: cannot tell what kind of file this is; name it .{', .'.join(KINDS)}")


def rows_here(path: Path, name: str = "", encoding: str = "", notes: list[str] | None = None) -> Iterator[Row]:
    """Yield the rows of a file in this process; `child.read_rows` does so within limits. Raises FileError."""
    name = name or path.name
    kind = kind_of(path, name)
    if kind in {"xlsx", "ods", "xls"}:
        return read_workbook(path, name, notes, modern=kind == "xlsx")
    if kind == "osm":
        return read_map_extract(path, name)
    return {"csv": read_csv, "ndjson": read_ndjson}.get(kind, read_json)(path, name, encoding)


def headings_of(rows: Iterator[Row], count: int) -> tuple[list[str], list[Row]]:
    """(all headings among the first `count` rows in order of appearance, these rows)."""
    sample = list(itertools.islice(rows, count))
    return list(dict.fromkeys(heading for row in sample for heading in row.cells)), sample
