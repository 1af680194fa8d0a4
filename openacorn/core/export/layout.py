"""Files laid out as another tool takes them: its headings in its order, its mark between cells, its encoding."""

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from openacorn.core.export.format import ExportRecord
from openacorn.core.export.formats.csv import BOM, harmless
from openacorn.core.gather.file_columns import guess_columns
from openacorn.errors import InvalidInput

Delimiter = Literal[",", ";", "\t", "|"]
TextEncoding = Literal["utf-8", "utf-8-sig", "cp1252"]
MOST_HEADINGS = 200


class LayoutError(InvalidInput):
    """A sample file or a layout that cannot be used; the message says why."""

    where = "layout"
    remedy = "choose a CSV file that the other tool exports, or its template for imports"


@dataclass(frozen=True, slots=True)
class LayoutField:
    """A column of the other tool's file. column: our column that fills it, "" for none; text: a fixed value instead."""

    heading: str
    column: str = ""
    text: str = ""


@dataclass(frozen=True, slots=True)
class FileLayout:
    """How another tool wants its file."""

    fields: tuple[LayoutField, ...]
    delimiter: Delimiter = ","
    encoding: TextEncoding = "utf-8"

    @property
    def columns(self) -> tuple[str, ...]:
        """Our columns that it asks for, each once."""
        return tuple(dict.fromkeys(field.column for field in self.fields if field.column))


def _decoded(sample: bytes) -> tuple[str, TextEncoding]:
    encoding: TextEncoding = "utf-8-sig" if sample.startswith(BOM) else "utf-8"
    try:
        return sample.decode(encoding), encoding
    except UnicodeDecodeError:
        return sample.decode("cp1252", "replace"), "cp1252"


def read_layout(sample: bytes) -> FileLayout:
    """The layout of a sample file, each heading with our column that seems to fit. Raises LayoutError."""
    text, encoding = _decoded(sample)
    first = next((line for line in text.splitlines() if line.strip()), "")
    if not first or "\x00" in first:
        raise LayoutError("the file has no line of headings")
    delimiter: Delimiter = max((",", ";", "\t", "|"), key=first.count)
    rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter))[:50]
    headings = [cell.strip() for cell in next((row for row in rows if any(cell.strip() for cell in row)), [])]
    if not all(headings) or len(set(headings)) != len(headings):
        raise LayoutError("each column must have a heading of its own")
    if len(headings) > MOST_HEADINGS:
        raise LayoutError(f"the file has {len(headings)} columns; {MOST_HEADINGS} are the most")
    sampled = [dict(zip(headings, row, strict=False)) for row in rows[1:]]
    by_heading = {heading: field for field, heading in guess_columns(headings, sampled).fields.items()}
    return FileLayout(
        tuple(LayoutField(heading, by_heading.get(heading, "")) for heading in headings), delimiter, encoding
    )


def write_layout(layout: FileLayout, columns: Sequence[str], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """The file in chunks. columns: what the cells of the records are; a letter that the encoding lacks becomes a question mark."""
    buffer = io.StringIO()
    writer = csv.writer(buffer, delimiter=layout.delimiter, lineterminator="\r\n")

    def encoded(cells: Sequence[str], encoding: str) -> bytes:
        buffer.seek(0)
        buffer.truncate()
        writer.writerow(cells)
        return buffer.getvalue().encode(encoding, "replace")

    yield encoded([field.heading for field in layout.fields], layout.encoding)
    after = "utf-8" if layout.encoding == "utf-8-sig" else layout.encoding
    places = {column: at for at, column in enumerate(columns)}
    for record in records:
        cells = [
            harmless(record.cells[places[field.column]]) if field.column in places else field.text
            for field in layout.fields
        ]
        yield encoded(cells, after)
