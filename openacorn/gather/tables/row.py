"""A row of a table, and what every reader of tables needs."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.errors import InvalidInput
from openacorn.gather.tables.limits import COLUMNS


class FileError(InvalidInput):
    """The file cannot be read as a table; the message says why and what would do."""

    where = "file"
    remedy = "correct the file, or save it as CSV in UTF-8"


@dataclass(frozen=True, slots=True)
class Row:
    """One row: the line (or item) it stands at, counted from 1, and its cells; `error` instead if it is broken."""

    line: int
    cells: Mapping[str, str]
    error: str = ""


def text_of(value: Any) -> str:
    """Return a cell's value as text."""
    if value is None:
        return ""
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    if isinstance(value, list):
        return "; ".join(text_of(part) for part in value)
    if isinstance(value, dict):
        return orjson.dumps(value).decode()
    return str(value)


def unique_headings(cells: Sequence[str]) -> list[str]:
    """Return a name for each column: an empty heading is numbered, a repeated one too, so that no column hides another.

    Raises FileError if there are too many.
    """
    if len(cells) > COLUMNS:
        raise FileError(f"it has {len(cells):,} columns, and more than {COLUMNS:,} are no table of listings")
    taken: set[str] = set()
    named = []
    for number, cell in enumerate(cells, 1):
        first = name = cell.strip() or f"column {number}"
        count = 1
        while name in taken:
            count += 1
            name = f"{first} ({count})"
        taken.add(name)
        named.append(name)
    return named
