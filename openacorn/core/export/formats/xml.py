"""XML 1.0: a business an element, a column an element in it."""

import re
from collections.abc import Iterable, Iterator, Sequence
from xml.sax.saxutils import escape

from openacorn.core.export.format import Column, ExportRecord, Format

_FORBIDDEN = re.compile("[^\\t\\n\\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""Everything that is no Char of XML 1.0 (production 2)."""

_NO_NAME = re.compile(r"[^\w.-]")


def write(columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield element by element; a cell that is not known is left out."""
    names = [_NO_NAME.sub("_", column.id) for column in columns]
    yield b'<?xml version="1.0" encoding="UTF-8"?>\n<businesses>\n'
    for record in records:
        cells = "".join(
            f"<{name}>{escape(_FORBIDDEN.sub('', str(cell)))}</{name}>"
            for name, cell in zip(names, record.cells, strict=True)
            if cell is not None and cell != ""
        )
        yield f"<business>{cells}</business>\n".encode("utf-8", "replace")
    yield b"</businesses>\n"


FORMAT = Format(id="xml", title="XML", media_type="application/xml", suffix="xml", write=write)
