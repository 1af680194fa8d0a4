"""Export formats: rows to text, one file a format, found by scan."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache

Cell = str | int | float | bool | None


@dataclass(frozen=True, slots=True)
class Format:
    """`write` turns a header and rows into chunks of bytes, row by row, so that memory does not grow with the list."""

    id: str
    title: str
    media_type: str
    suffix: str
    write: Callable[[Sequence[str], Iterable[Sequence[Cell]]], Iterator[bytes]]


@cache
def all_formats() -> dict[str, Format]:
    """Format id → format."""
    from openacorn.core.export import formats  # here, because the formats import this module
    from openacorn.core.plugins import scan

    return {item.id: item for item in scan(formats, "FORMAT", Format)}
