"""A workbook (ECMA-376) with one sheet; texts are texts, so nothing in it is run."""

import tempfile
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from openacorn.core.export.format import Cell, Column, ExportRecord, Format

LONGEST = 32_767
"""Characters that a cell can hold (ECMA-376)."""

CHUNK = 256 * 1024


def write(columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield the workbook in chunks; rows go to a file as they come."""
    from openpyxl import Workbook  # loaded when the first workbook is written
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
    from openpyxl.styles import Font

    book = Workbook(write_only=True)
    sheet = book.create_sheet("Businesses")
    sheet.freeze_panes = "B2"

    def made(cell: Cell) -> Any:
        if not isinstance(cell, str):
            return WriteOnlyCell(sheet, value=cell)
        found = WriteOnlyCell(sheet, value=ILLEGAL_CHARACTERS_RE.sub("", cell)[:LONGEST])
        found.data_type = "s"  # else a text that begins with "=" would be a formula
        return found

    heads = [made(column.title) for column in columns]
    for head in heads:
        head.font = Font(bold=True)
    sheet.append(heads)
    for record in records:
        sheet.append([made(cell) for cell in record.cells])
    with tempfile.TemporaryFile() as file:
        book.save(file)
        file.seek(0)
        while chunk := file.read(CHUNK):
            yield chunk


FORMAT = Format(
    id="xlsx",
    title="Workbook",
    media_type="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    suffix="xlsx",
    write=write,
)
