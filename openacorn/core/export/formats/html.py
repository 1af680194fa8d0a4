"""A page with one table, to be printed or pasted."""

from collections.abc import Iterable, Iterator, Sequence
from html import escape

from openacorn.core.export.format import Column, ExportRecord, Format

STYLE = (
    "body{font:11px/1.35 sans-serif;margin:1cm}table{border-collapse:collapse;width:100%}thead{display:table-header-group}"
    "th,td{text-align:left;vertical-align:top;padding:2px 6px;border-bottom:1px solid #bbb}tr{break-inside:avoid}"
    "td.n{text-align:right}@page{size:landscape}"
)


def write(columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield row by row."""
    heads = "".join(f'<th scope="col">{escape(column.title)}</th>' for column in columns)
    yield (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>Businesses</title><style>{STYLE}</style>'
        f"<table><thead><tr>{heads}</tr></thead><tbody>\n"
    ).encode()
    for record in records:
        cells = "".join(
            f'<td class="n">{cell}</td>'
            if isinstance(cell, int | float) and not isinstance(cell, bool)
            else f"<td>{escape('' if cell is None else str(cell))}</td>"
            for cell in record.cells
        )
        yield f"<tr>{cells}</tr>\n".encode("utf-8", "replace")
    yield b"</tbody></table></html>\n"


FORMAT = Format(id="html", title="Printable table", media_type="text/html; charset=utf-8", suffix="html", write=write)
