"""CSV as RFC 4180 has it, in UTF-8, safe to open in a spreadsheet."""

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence

from openacorn.core.export.format import Cell, Column, ExportRecord, Format

FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r", "\uff1d", "\uff0b", "\uff0d", "\uff20")
"""Cells that a spreadsheet would run (OWASP, "CSV Injection"), full-width signs too: a leading apostrophe makes them text."""

PIECES = re.compile(r"([;,|\t\r\n]\s*)(?=[=@\uff1d\uff20]|[+\-\uff0b\uff0d](?![\d\s().-]+(?:$|[;,|\t\r\n])))")
"""Where a spreadsheet that splits at another mark than ours would begin a cell with a formula; a phone or a number is none."""

BOM = b"\xef\xbb\xbf"
"""Tells spreadsheets that the file is UTF-8; readers that expect UTF-8 drop it."""


def harmless(cell: Cell) -> str:
    """Return the cell as text that no spreadsheet runs. Numbers stay numbers, also negative ones."""
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, int | float):
        return repr(cell)
    cell = PIECES.sub(r"\1'", cell)
    return "'" + cell if cell.startswith(FORMULA_STARTS) or cell.lstrip().startswith(FORMULA_STARTS) else cell


def write(columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield the file in chunks: CRLF line ends, quotes doubled, one header line."""
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\r\n")
    writer.writerow([harmless(column.title) for column in columns])
    yield BOM + buffer.getvalue().encode()
    for record in records:
        buffer.seek(0)
        buffer.truncate()
        writer.writerow([harmless(cell) for cell in record.cells])
        yield buffer.getvalue().encode()


FORMAT = Format(id="csv", title="CSV", media_type="text/csv; charset=utf-8", suffix="csv", write=write)
