"""Text files as tables: their encoding, their lines, and CSV."""

import codecs
import csv
import itertools
import re
from collections import Counter
from collections.abc import Iterator, Sequence
from io import TextIOWrapper
from pathlib import Path

from openacorn.core.gather.encoding import ENCODINGS, by_mark, by_nuls, guess_encoding
from openacorn.gather.tables.row import FileError, Row, unique_headings

MAX_LINE = 4 * 1024 * 1024
"""A longer line is no row of a table."""

SNIFFED = 64 * 1024
CHUNK = 1024 * 1024
DELIMITERS = ",;\t|"
SAMPLED = 30
"""Lines that tell which mark parts the cells."""


def encoding_of(path: Path, name: str, region: str | None = None) -> str:
    """Return the encoding of a text file (a key of ENCODINGS): by its mark, else UTF-8 if all of it is, else a guess.

    region: the user's country. Raises FileError if it is no text.
    """
    with path.open("rb") as file:
        head = file.read(SNIFFED)
        if known := by_mark(head) or by_nuls(head):
            return known
        if b"\0" in head:
            raise FileError(f"{name}: this is no text file; save it as CSV in UTF-8")
        file.seek(0)
        decoder = codecs.getincrementaldecoder("utf-8")()
        telling = bytearray()
        unicode = True
        while (piece := file.read(CHUNK)) and (unicode or len(telling) < SNIFFED):
            try:
                decoder.decode(piece)
            except UnicodeDecodeError:
                unicode = False
            if not piece.isascii() and len(telling) < SNIFFED:
                telling += b"\n".join(line for line in piece.splitlines() if not line.isascii())[:SNIFFED]
        try:
            decoder.decode(b"", final=True)
        except UnicodeDecodeError:
            unicode = False
    return "utf-8" if unicode else guess_encoding(bytes(telling), region)


def open_text(path: Path, name: str, encoding: str = "") -> TextIOWrapper:
    """Open a text file to read; its encoding is found out if none is given. Raises FileError."""
    chosen = encoding or encoding_of(path, name)
    if chosen not in ENCODINGS:
        raise FileError(f"{name}: there is no encoding {chosen!r}; choose from {', '.join(ENCODINGS)}")
    return path.open(encoding="utf-8-sig" if chosen == "utf-8" else chosen, newline="")


def lines_of(file: TextIOWrapper, name: str) -> Iterator[str]:
    """The lines of a text file. Raises FileError at a line that cannot be decoded or is too long."""
    number = 0
    while True:
        number += 1
        try:
            line = file.readline(MAX_LINE)
        except UnicodeError as error:
            raise FileError(
                f"{name}: near line {number}: not in the encoding {file.encoding} ({error}); choose another"
            ) from None
        if not line:
            return
        if len(line) >= MAX_LINE and not line.endswith("\n"):
            raise FileError(f"{name}: line {number} is longer than {MAX_LINE // 2**20} MB; is this a table?")
        yield line.replace("\ufeff", "") if number == 1 else line


def delimiter_of(lines: Sequence[str]) -> str:
    """The mark that parts the cells: the one that stands equally often in most lines, quoted texts left out."""
    plain = [re.sub(r'"[^"]*"', "", line) for line in lines if line.strip()]

    def regular(mark: str) -> tuple[int, int]:
        times, alike = Counter(line.count(mark) for line in plain).most_common(1)[0]
        return (alike if times else 0, times)

    best = max(DELIMITERS, key=regular)
    return (
        best
        if regular(best)[0]
        else max(DELIMITERS, key=lines[0].count)
        if any(m in lines[0] for m in DELIMITERS)
        else ","
    )


def read_csv(path: Path, name: str, encoding: str = "") -> Iterator[Row]:
    """Yield the rows of a CSV file; its first line that is not blank names the columns. Raises FileError."""
    with open_text(path, name, encoding) as file:
        lines = lines_of(file, name)
        above, first = next(((n, line) for n, line in enumerate(lines) if line.strip()), (0, ""))
        if not first:
            raise FileError(f"{name}: the file is empty; its first line must name the columns")
        ahead = list(itertools.islice(lines, SAMPLED))
        reader = csv.reader(itertools.chain([first], ahead, lines), delimiter=delimiter_of([first, *ahead]))
        headings = unique_headings(next(reader))
        before = reader.line_num
        while True:
            try:
                cells = next(reader, None)
            except csv.Error as error:
                raise FileError(f"{name}: line {above + reader.line_num}: {error}") from None
            if cells is None:
                return
            line, before = above + before + 1, reader.line_num
            if not cells:
                continue  # a blank line is no row; one of empty cells is, and is refused with its reason
            if len(cells) > len(headings):
                yield Row(line, {}, f"{len(cells)} cells under {len(headings)} headings")
            else:
                yield Row(line, dict(zip(headings, cells, strict=False)))
