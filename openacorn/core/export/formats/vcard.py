"""vCards (RFC 6350), one a business: for the address book of a phone."""

import unicodedata
from collections.abc import Iterable, Iterator, Sequence

from openacorn.core.export.format import Cell, Column, ExportRecord, Format

LINE_OCTETS = 75
"""Longer lines are folded (RFC 6350 section 3.2)."""


def escaped(value: Cell) -> str:
    """A text value (section 3.4): backslash, comma, semicolon and line breaks are escaped."""
    text = "" if value is None else str(value)
    for mark, written in (("\\", "\\\\"), (",", "\\,"), (";", "\\;")):
        text = text.replace(mark, written)
    # all that any reader may take for the end of a line (Unicode 5.8, "Newline Guidelines"): else a name could add a property
    text = "\\n".join(text.splitlines())
    return "".join(char for char in text if char == "\t" or unicodedata.category(char) not in {"Cc", "Cs"})


def folded(line: str) -> bytes:
    """A line, broken so that no piece is longer than 75 octets and no character is cut."""
    pieces, piece = [], b""
    for char in line:
        octets = char.encode("utf-8", "replace")
        if len(piece) + len(octets) > LINE_OCTETS:
            pieces.append(piece)
            piece = b" "
        piece += octets
    return b"\r\n".join([*pieces, piece]) + b"\r\n"


def _lines(whole: dict[str, Cell]) -> Iterator[str]:
    yield "BEGIN:VCARD"
    yield "VERSION:4.0"
    yield "KIND:org"
    yield f"FN:{escaped(whole.get('name') or 'without a name')}"
    yield f"ORG:{escaped(whole.get('name'))}"
    yield f"UID:urn:open-acorn:business:{whole.get('id')}"
    if any(whole.get(field) for field in ("street", "town", "postcode")):
        street, town, postcode = (escaped(whole.get(field)) for field in ("street", "town", "postcode"))
        yield f"ADR;TYPE=work:;;{street};{town};;{postcode};"
    for number in filter(None, str(whole.get("phone") or "").split("; ")):
        yield f"TEL;VALUE=text;TYPE=work:{escaped(number)}"
    for address in filter(None, str(whole.get("emails") or "").split("; ")):
        yield f"EMAIL;TYPE=work:{escaped(address)}"
    if whole.get("website"):
        yield f"URL:{''.join(char for char in str(whole['website']) if char.isprintable() and not char.isspace())}"
    if whole.get("trade"):
        yield f"CATEGORIES:{escaped(whole['trade'])}"
    if whole.get("lat") is not None and whole.get("lon") is not None:
        yield f"GEO:geo:{whole['lat']},{whole['lon']}"
    if whole.get("person"):
        yield f"RELATED;TYPE=contact;VALUE=text:{escaped(whole['person'])}"
    yield "END:VCARD"


def write(_columns: Sequence[Column], records: Iterable[ExportRecord]) -> Iterator[bytes]:
    """Yield card by card. The format has places of its own: the chosen columns have no part in it."""
    for record in records:
        yield b"".join(folded(line) for line in _lines(dict(record.whole)))


FORMAT = Format(id="vcard", title="vCard", media_type="text/vcard; charset=utf-8", suffix="vcf", write=write)
