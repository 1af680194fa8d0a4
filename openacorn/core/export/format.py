"""Export formats: records to bytes, one file a format, found by scan."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache

Cell = str | int | float | bool | None


@dataclass(frozen=True, slots=True)
class ExportRecord:
    """A business to be written. cells: the chosen columns in their order; whole: every column by its id, for formats that have
    a place of their own for some (a pin, a name, a number)."""

    cells: Sequence[Cell]
    whole: Mapping[str, Cell]


@dataclass(frozen=True, slots=True)
class Column:
    """A column that can be exported."""

    id: str
    title: str


@dataclass(frozen=True, slots=True)
class Format:
    """`write` turns columns and records into chunks of bytes, record by record, so that memory does not grow with the list."""

    id: str
    title: str
    media_type: str
    suffix: str
    write: Callable[[Sequence[Column], Iterable[ExportRecord]], Iterator[bytes]]


@cache
def all_formats() -> dict[str, Format]:
    """Format id → format."""
    from openacorn.core.export import formats  # here, because the formats import this module
    from openacorn.plugins import scan

    return {item.id: item for item in scan(formats, "FORMAT", Format)}
