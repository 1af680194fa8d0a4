"""Workbooks (ECMA-376, OpenDocument, and the old binary kind) as tables: the first sheet that holds any rows."""

import itertools
import zipfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any, NamedTuple

from openacorn.gather.tables.limits import BLANK_ROWS
from openacorn.gather.tables.row import FileError, Row, text_of, unique_headings

MAX_UNPACKED = 512 * 1024 * 1024
MAX_RATIO = 200
"""A workbook that unpacks to more than this many times its size is a bomb, not a table."""

HEADINGS_WITHIN = 10
"""Titles and blank rows may stand above the headings; they are looked for among so many rows (common practice)."""


def _check_size(path: Path, name: str) -> None:
    with zipfile.ZipFile(path) as pack:
        unpacked = sum(item.file_size for item in pack.infolist())
    if unpacked > MAX_UNPACKED or unpacked > max(path.stat().st_size, 50_000) * MAX_RATIO:
        raise FileError(f"{name}: unpacks to {unpacked // 2**20} MB, which no table of listings does; save it as CSV")


def _filled(cells: Sequence[Any]) -> int:
    return sum(1 for cell in cells if text_of(cell).strip())


class Sheet(NamedTuple):
    """A sheet: its title, and what gives its rows from the top."""

    title: str
    rows: Callable[[], Iterator[Sequence[Any]]]


def _head(sheet: Sheet) -> int:
    """The number of rows above the headings: they are the first row that is at least half as full as the fullest near by."""
    top = [_filled(cells) for cells in itertools.islice(sheet.rows(), HEADINGS_WITHIN)]
    return next((number for number, filled in enumerate(top) if filled and filled * 2 >= max(top)), -1)


@contextmanager
def _modern(path: Path) -> Iterator[list[Sheet]]:
    """The sheets of a workbook of today (.xlsx), read row by row."""
    from openpyxl import load_workbook

    def rows(sheet: Any) -> Iterator[Sequence[Any]]:
        sheet.reset_dimensions()  # other programs write a wrong size, and cells beyond it would be lost
        return iter(sheet.iter_rows(values_only=True))

    with path.open("rb") as file:  # a path would be refused for its ending
        book = load_workbook(file, read_only=True, data_only=True)
        yield [Sheet(sheet.title, partial(rows, sheet)) for sheet in book.worksheets]


@contextmanager
def _others(path: Path) -> Iterator[list[Sheet]]:
    """The sheets of an OpenDocument (.ods) or old binary (.xls) workbook."""
    from python_calamine import CalamineWorkbook

    def rows(title: str) -> Iterator[Sequence[Any]]:
        return iter(book.get_sheet_by_name(title).to_python(skip_empty_area=False))

    with path.open("rb") as file:
        book = CalamineWorkbook.from_filelike(file)
        yield [Sheet(title, partial(rows, title)) for title in book.sheet_names]


def read_workbook(path: Path, name: str, notes: list[str] | None = None, *, modern: bool = True) -> Iterator[Row]:
    """Yield the rows of a workbook. modern: is it an .xlsx? notes: takes what was left out, in words. Raises FileError."""
    notes = [] if notes is None else notes
    try:
        if zipfile.is_zipfile(path):
            _check_size(path, name)
        with (_modern if modern else _others)(path) as sheets:
            yield from _rows(sheets, name, notes)
    except FileError:
        raise
    except Exception as error:  # the library raises whatever the broken part raises
        raise FileError(
            f"{name}: this is no readable workbook, or it has a password ({type(error).__name__}); save it as CSV or XLSX again"
        ) from None


def _rows(sheets: list[Sheet], name: str, notes: list[str]) -> Iterator[Row]:
    """The rows of the first sheet that holds any."""
    sheet, above = next(((s, n) for s in sheets if (n := _head(s)) >= 0), (None, 0))
    if sheet is None:
        raise FileError(f"{name}: the workbook holds no rows; its first row must name the columns")
    if len(sheets) > 1:
        notes.append(f"only the sheet “{sheet.title}” is read, of {len(sheets)}")
    if above:
        notes.append(f"{above} {'row' if above == 1 else 'rows'} above the headings are left out")
    rows = itertools.islice(sheet.rows(), above, None)
    heads = [text_of(cell) for cell in next(rows)]
    headings = unique_headings(heads)
    blank = 0
    for line, cells in enumerate(rows, above + 2):
        texts = [text_of(cell) for cell in cells]
        blank = 0 if any(texts) else blank + 1
        if blank > BLANK_ROWS:
            notes.append(f"nothing is read below line {line}: more than {BLANK_ROWS:,} blank rows come before it")
            return
        if len(texts) > len(headings):
            headings = unique_headings([*heads, *[""] * (len(texts) - len(heads))])
        if any(text.strip() for text in texts):
            yield Row(line, dict(itertools.zip_longest(headings, texts, fillvalue="")))
