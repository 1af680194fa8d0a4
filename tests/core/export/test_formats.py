"""CSV: RFC 4180 by the standard library's reader, and no cell that a spreadsheet would run."""

import csv
import io
import json
from html.parser import HTMLParser
from xml.etree import ElementTree

import pytest
import vobject
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE

from openacorn.core.export.format import Cell, Column, ExportRecord, all_formats
from openacorn.core.export.formats.csv import BOM, FORMULA_STARTS

CELLS = st.one_of(
    st.none(),
    st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\x00")),
    st.integers(-(10**9), 10**9),
    st.booleans(),
)


def out(format_id: str, header: list[str], rows: list[list[Cell]], whole: dict[str, Cell] | None = None) -> bytes:
    """What a format writes; column ids are their titles."""
    columns = [Column(name, name) for name in header]
    return b"".join(all_formats()[format_id].write(columns, (ExportRecord(row, whole or {}) for row in rows)))


def written(header: list[str], rows: list[list[Cell]]) -> str:
    data = out("csv", header, rows)
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
                assert text.replace("'", "") == cell.replace("'", "")
                assert not text.lstrip().startswith(FORMULA_STARTS)
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


@pytest.mark.parametrize(
    ("cell", "text"),
    [
        (" a;=1+1", " a;'=1+1"),
        ("a;\u3000=1+1", "a;\u3000'=1+1"),
        ("a\n@SUM(1)", "a\n'@SUM(1)"),
        ("a|-2+3", "a|'-2+3"),
        (" =1+1", "' =1+1"),
        ("\uff1d1+1", "'\uff1d1+1"),
        ("a;\uff1d1", "a;'\uff1d1"),
        ("+61 491 570 006; +61 491 570 156", "'+61 491 570 006; +61 491 570 156"),
        ("Gull, Heron & Co; since 1990", "Gull, Heron & Co; since 1990"),
    ],
)
def test_no_piece_of_a_cell_is_a_formula_where_another_mark_splits_cells(cell: str, text: str) -> None:
    """A spreadsheet in Western Europe splits at semicolons, whatever the file is (common practice)."""
    assert next(csv.reader(io.StringIO(written(["a"], [[cell]]).split("\r\n", 1)[1], newline="")))[0] == text


@given(st.text(), st.text())
def test_nothing_that_a_business_is_called_adds_a_line_to_its_card(name: str, website: str) -> None:
    card = out("vcard", [], [[]], {"id": 1, "name": name, "website": website}).decode()
    unfolded = card.replace("\r\n ", "")
    starts = [line.split(":")[0] for line in unfolded.splitlines()]
    assert set(starts) <= {"BEGIN", "VERSION", "KIND", "FN", "ORG", "UID", "URL", "END"}
    assert len(starts) == len(set(starts))


ROWS = st.lists(st.lists(CELLS, min_size=2, max_size=2), max_size=6)


@given(ROWS)
def test_json_and_ndjson_come_back_as_they_went(rows: list[list[Cell]]) -> None:
    expected = [dict(zip(("a", "b"), row, strict=True)) for row in rows]
    assert json.loads(out("json", ["a", "b"], rows)) == expected
    assert [json.loads(line) for line in out("ndjson", ["a", "b"], rows).decode().split("\n") if line] == expected


@given(ROWS)
def test_a_workbook_holds_the_same_texts_and_no_formula(rows: list[list[Cell]]) -> None:
    """Read back by openpyxl; characters that no XML can hold are left out (ECMA-376 stores texts as XML)."""
    sheet = load_workbook(io.BytesIO(out("xlsx", ["a", "=b"], rows))).worksheets[0]
    read = [list(row) for row in sheet.iter_rows()]
    assert [cell.value for cell in read[0]] == ["a", "=b"]
    for asked, came in zip(rows, read[1:], strict=False):
        for cell, shown in zip(asked, came, strict=True):
            assert shown.data_type != "f"
            if isinstance(cell, str):
                plain = ILLEGAL_CHARACTERS_RE.sub("", cell)
                assert (
                    "".join(str(shown.value or "").split()) == "".join(plain.split()) or "_x" in plain
                )  # line ends are the reader's
            else:
                assert shown.value == cell


@given(ROWS)
def test_xml_and_html_are_well_formed_whatever_is_in_a_cell(rows: list[list[Cell]]) -> None:
    root = ElementTree.fromstring(out("xml", ["a", "check.b"], rows))
    assert len(root) == len(rows)

    class Cells(HTMLParser):
        count = 0

        def handle_starttag(self, tag: str, _attributes: object) -> None:
            self.count += tag == "td"

    reader = Cells()
    reader.feed(out("html", ["a", "b"], rows).decode())
    assert reader.count == 2 * len(rows)


WHOLE: dict[str, Cell] = {
    "id": 7, "name": "Núñera, Ash & Co; Vets", "street": "12 Mill Lane", "town": "Larch Flat", "postcode": "7801", "phone": "+61 3 5550 1234",
    "emails": "jo@gull.example; info@gull.example", "website": "https://gull.example/", "trade": "Vet", "lat": -37.0123456789, "lon": 160.5,
    "person": "Jo Ash, owner",
}  # fmt: skip


def test_geojson_has_points_east_first_and_null_where_there_is_no_pin() -> None:
    # RFC 7946 sections 3.1.1 (longitude before latitude), 3.2 (a feature's geometry may be null, its id is a member of it)
    found = json.loads(out("geojson", ["name"], [["Gull"]], WHOLE))
    (feature,) = found["features"]
    assert (found["type"], feature["type"], feature["id"], feature["properties"]) == (
        "FeatureCollection",
        "Feature",
        7,
        {"name": "Gull"},
    )
    assert feature["geometry"] == {"type": "Point", "coordinates": [160.5, -37.0123457]}
    assert json.loads(out("geojson", ["name"], [["Gull"]], {"id": 1}))["features"][0]["geometry"] is None
    assert json.loads(out("geojson", ["name"], []))["features"] == []


def test_a_vcard_is_read_back_by_a_reference_reader() -> None:
    """PyPI vobject; lines are folded at 75 octets and no character is cut (RFC 6350 section 3.2)."""
    data = out("vcard", ["ignored"], [[1], [2]], {**WHOLE, "name": "Müllner & Núñera " * 12})
    assert all(len(line) <= 75 for line in data.split(b"\r\n"))
    first, _ = vobject.readComponents(data.decode("utf-8"))
    assert first.fn.value == "Müllner & Núñera " * 12
    card = next(vobject.readComponents(out("vcard", [], [[]], WHOLE).decode("utf-8")))
    assert card.fn.value == "Núñera, Ash & Co; Vets"
    assert [mail.value for mail in card.contents["email"]] == ["jo@gull.example", "info@gull.example"]
    assert (card.tel.value, card.url.value) == ("+61 3 5550 1234", "https://gull.example/")
    assert (card.adr.value.street, card.adr.value.city, card.adr.value.code) == ("12 Mill Lane", "Larch Flat", "7801")
