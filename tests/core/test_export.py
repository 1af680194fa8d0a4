"""CSV: RFC 4180 by the standard library's reader, and no cell that a spreadsheet would run."""

import csv
import io

from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.export.format import Cell, all_formats
from openacorn.core.export.formats.csv import BOM, FORMULA_STARTS

CELLS = st.one_of(
    st.none(),
    st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\x00")),
    st.integers(-(10**9), 10**9),
    st.booleans(),
)


def written(header: list[str], rows: list[list[Cell]]) -> str:
    data = b"".join(all_formats()["csv"].write(header, rows))
    assert data.startswith(BOM)
    return data[len(BOM) :].decode("utf-8")


@given(st.lists(st.lists(CELLS, min_size=3, max_size=3), max_size=8))
def test_every_cell_comes_back_as_it_went_and_none_is_a_formula(rows: list[list[Cell]]) -> None:
    read = list(csv.reader(io.StringIO(written(["a", "b", "c"], rows), newline=""), strict=True))
    assert read[0] == ["a", "b", "c"]
    assert len(read) == len(rows) + 1
    for asked, came in zip(rows, read[1:], strict=True):
        for cell, text in zip(asked, came, strict=True):
            if isinstance(cell, str):
                assert text in (cell, "'" + cell)
                assert not text.startswith(FORMULA_STARTS)
            elif isinstance(cell, bool):
                assert text == ("yes" if cell else "no")
            else:
                assert text == ("" if cell is None else str(cell))


def test_line_ends_and_quotes_are_those_of_the_standard() -> None:
    # RFC 4180 §2: rules 1 (CRLF), 5–7 (quotes, line breaks and doubled quotes inside fields)
    assert (
        written(["a", "b"], [['say "hi"', "two\nlines"], ["=1+1", -2]])
        == 'a,b\r\n"say ""hi""","two\nlines"\r\n\'=1+1,-2\r\n'
    )
