"""One JSON object a line (NDJSON), keys by column id."""

from collections.abc import Iterable, Iterator, Sequence

import orjson

from openacorn.core.export.format import Column, ExportRecord, Format


def write(columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield line by line."""
    for record in records:
        yield orjson.dumps({column.id: cell for column, cell in zip(columns, record.cells, strict=True)}) + b"\n"


FORMAT = Format(id="ndjson", title="NDJSON", media_type="application/x-ndjson", suffix="ndjson", write=write)
