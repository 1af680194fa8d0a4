"""Files in another tool's layout: read from samples written by others, and written so that they are read back the same."""

import csv
import io
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.export.format import ExportRecord
from openacorn.core.export.layout import FileLayout, LayoutError, LayoutField, read_layout, write_layout


def by_pandas(headings: list[str], **more: Any) -> bytes:
    import pandas

    out = io.BytesIO()
    pandas.DataFrame([["x"] * len(headings)], columns=headings).to_csv(out, index=False, **more)
    return out.getvalue()


@pytest.mark.parametrize(
    ("sample", "delimiter", "encoding", "columns"),
    [
        (lambda: by_pandas(["Company Name", "Website URL", "Phone Number", "City", "Postal Code", "Owner"]), ",", "utf-8",
         ["name", "website", "phone", "town", "postcode", ""]),
        (lambda: by_pandas(["Firma", "Straße", "PLZ", "Ort", "Telefon", "Kundennummer"], sep=";", encoding="cp1252"), ";", "cp1252",
         ["name", "street", "postcode", "town", "phone", ""]),
        (lambda: by_pandas(["Nom", "E-mail", "Ville"], sep="\t", encoding="utf-8-sig"), "\t", "utf-8-sig", ["name", "email", "town"]),
        (lambda: b"\r\nLead Status|Name\r\n", "|", "utf-8", ["", "name"]),
    ],
)  # fmt: skip
def test_headings_of_a_sample(sample: Callable[[], bytes], delimiter: str, encoding: str, columns: list[str]) -> None:
    found = read_layout(sample())
    assert (found.delimiter, found.encoding, [field.column for field in found.fields]) == (delimiter, encoding, columns)


@pytest.mark.parametrize(
    "sample", [b"", b"\n\n", b"a,,c\n", b"a,a\n", b"\x00\x01\x02", b",".join(b"c%d" % n for n in range(300))]
)
def test_what_is_no_sample(sample: bytes) -> None:
    with pytest.raises(LayoutError):
        read_layout(sample)


CELL = st.none() | st.integers(-9, 9) | st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=20)


@given(
    st.lists(st.tuples(CELL, CELL), max_size=8),
    st.sampled_from([",", ";", "\t", "|"]),
    st.sampled_from(["utf-8", "utf-8-sig"]),
)
def test_what_is_written_is_read_back(rows: list[tuple[Any, Any]], delimiter: Any, encoding: Any) -> None:
    layout = FileLayout(
        (LayoutField("Stage", text="new"), LayoutField("Town", "town"), LayoutField("Who", "name")), delimiter, encoding
    )
    body = b"".join(write_layout(layout, ["name", "town"], [ExportRecord(list(row), {}) for row in rows]))
    read = list(csv.reader(io.StringIO(body.decode(encoding), newline=""), delimiter=delimiter))
    assert read[0] == ["Stage", "Town", "Who"]
    assert len(read) == len(rows) + 1
    for (name, town), (stage, *cells) in zip(rows, read[1:], strict=True):
        assert stage == "new"
        for told, cell in zip((town, name), cells, strict=True):
            plain = "" if told is None else str(told)
            assert cell.replace("'", "") == plain.replace("'", "")
            assert not cell.startswith(("=", "@"))
