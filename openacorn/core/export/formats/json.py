"""One JSON array of objects (RFC 8259), keys by column id."""

from collections.abc import Iterable, Iterator, Sequence

import orjson

from openacorn.core.export.format import Column, ExportRecord, Format


def write(columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield the array object by object."""
    before = b"[\n"
    for record in records:
        item = {column.id: cell for column, cell in zip(columns, record.cells, strict=True)}
        yield before + orjson.dumps(item)
        before = b",\n"
    yield b"[]\n" if before == b"[\n" else b"\n]\n"


FORMAT = Format(id="json", title="JSON", media_type="application/json", suffix="json", write=write)
