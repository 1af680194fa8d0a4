"""Files as tables: every kind, and every way to be broken."""

import io
import os
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import orjson
import pytest
import xlsxwriter
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.gather.encoding import ENCODINGS, guess_encoding
from openacorn.core.gather.file_columns import guess_columns
from openacorn.gather.tables import FileError, encoding_of, rows_here
from openacorn.gather.tables.child import read_rows
from tests.application import ROOT

ROWS = [{"name": "Gull Vets", "town": "Gannet Bay"}, {"name": "Núñera “Optical”", "town": ""}]


def write_xlsx(path: Path) -> None:
    from openpyxl import Workbook

    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(["name", "town"])
    for row in ROWS:
        sheet.append([row["name"], row["town"] or None])
    book.save(path)


def write_ods(path: Path) -> None:
    """An OpenDocument table, by a library that shares nothing with the reader's."""
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.table import Table, TableCell, TableRow
    from odf.text import P

    book = OpenDocumentSpreadsheet()
    sheet = Table(name="All")
    for cells in [["name", "town"], *([row["name"], row["town"]] for row in ROWS)]:
        line = TableRow()
        for text in cells:
            cell = TableCell(valuetype="string")
            cell.addElement(P(text=text))
            line.addElement(cell)
        sheet.addElement(line)
    book.spreadsheet.addElement(sheet)
    book.save(str(path))


def test_an_open_document_is_read_as_a_workbook_is(tmp_path: Path) -> None:
    write_ods(tmp_path / "clients.ods")
    (tmp_path / "clients.ods").rename(tmp_path / "clients")  # known by its content, whatever its name
    assert [dict(row.cells) for row in read_rows(tmp_path / "clients", "clients")] == ROWS


DELIMITED = [
    ("name;lat;lon\nGull, Heron;-36,9;161,4\nTern;-36,8;161,3\n", ["Gull, Heron", "-36,9", "161,4"]),
    ('name,lat\n"a;b;c",1\n"d;e;f",2\n', ["a;b;c", "1"]),
    ("name|town\nGull|Bay, North\nTern|Bay, South\n", ["Gull", "Bay, North"]),
]


@pytest.mark.parametrize(("text", "first"), DELIMITED)
def test_the_mark_between_cells_is_the_one_that_stands_alike_in_every_line(
    tmp_path: Path, text: str, first: list[str]
) -> None:
    (tmp_path / "a.csv").write_text(text)
    assert list(next(rows_here(tmp_path / "a.csv")).cells.values()) == first


GOOD = {
    "a.csv": "name,town\nGull Vets,Gannet Bay\nNúñera “Optical”,\n".encode(),
    "b.csv": "\ufeffname;town\r\nGull Vets;Gannet Bay\r\nNúñera “Optical”;\r\n".encode(),
    "c.tsv": "name\ttown\nGull Vets\tGannet Bay\nNúñera “Optical”\t\n".encode("utf-16"),
    "d.ndjson": b"\n".join(orjson.dumps(row) for row in ROWS),
    "e.json": orjson.dumps({"results": ROWS}),
    "f": orjson.dumps(ROWS),
}


@pytest.mark.parametrize("name", GOOD)
def test_every_kind_gives_the_same_rows(tmp_path: Path, name: str) -> None:
    (tmp_path / name).write_bytes(GOOD[name])
    assert [dict(row.cells) for row in rows_here(tmp_path / name)] == ROWS


def test_a_workbook_and_a_map_file(tmp_path: Path) -> None:
    write_xlsx(tmp_path / "a.xlsx")
    assert [dict(row.cells) for row in rows_here(tmp_path / "a.xlsx")] == ROWS
    feature = {
        "type": "Feature",
        "properties": {"name": "Gull Vets"},
        "geometry": {"type": "Point", "coordinates": [160.02, -37.0]},
    }
    (tmp_path / "b.geojson").write_bytes(orjson.dumps({"type": "FeatureCollection", "features": [feature]}))
    assert [dict(row.cells) for row in rows_here(tmp_path / "b.geojson")] == [
        {"name": "Gull Vets", "lon": "160.02", "lat": "-37"}
    ]


def test_map_extracts_in_json_and_in_xml_give_their_named_places(tmp_path: Path) -> None:
    """The forms are those of the wiki's OSM XML and OSM JSON pages (from memory)."""
    xml = """<?xml version="1.0"?><osm version="0.6"><bounds minlat="-37"/>
      <node id="5" lat="-37.0" lon="160.0"><tag k="name" v="Gull &amp; Vets"/><tag k="addr:street" v="Mill Lane"/><tag k="contact:phone" v="03 5550 1234"/></node>
      <node id="6" lat="-37.0" lon="160.0"/><way id="7"><center lat="-37.1" lon="160.1"/><nd ref="6"/><tag k="name" v="Heron"/></way></osm>"""
    elements = [
        {
            "type": "node",
            "id": 5,
            "lat": -37.0,
            "lon": 160.0,
            "tags": {"name": "Gull & Vets", "addr:street": "Mill Lane", "contact:phone": "03 5550 1234"},
        },
        {"type": "way", "id": 7, "center": {"lat": -37.1, "lon": 160.1}, "tags": {"name": "Heron"}},
    ]
    (tmp_path / "a.osm").write_text(xml)
    (tmp_path / "b.json").write_bytes(orjson.dumps({"version": 0.6, "elements": elements}))
    for name in ("a.osm", "b.json"):
        rows = [row.cells for row in rows_here(tmp_path / name)]
        assert [(row["id"], row["name"], float(row["lat"])) for row in rows] == [
            ("n5", "Gull & Vets", -37.0),
            ("w7", "Heron", -37.1),
        ]
        guess = guess_columns(list(rows[0]), rows).fields
        assert (guess["street"], guess["phone"], guess["source_id"]) == ("addr:street", "contact:phone", "id")


WRITTEN = [
    ("cp1252", "AU", "name;town\nKüche & Co;Köln\n"),
    ("cp1252", None, "name,price\nShop “A”,20 €\n"),
    ("cp1252", None, "nom,ville\nÉlectricité Générale,Évreux\nFleurs où ça pousse,Bègles\nCôté Jardin,Mâcon\n"),
    ("cp1252", None, "nombre,ciudad\nPeluquería Niña,Logroño\nÓptica Ibáñez,Cádiz\n"),
    ("cp1252", None, "nome,cidade\nPadaria São João,Guimarães\nClínica Atenção,Évora\n"),
    ("cp1252", None, "namn,ort\nBlomsterhörnan Åsa,Göteborg\nLåssmed Östgöta,Linköping\n"),
    ("cp1252", None, "nome,città\nCaffè della Libertà,Forlì\nPerché No,Mondovì\n"),
    ("cp1250", None, "nazwa,miasto\nKsięgarnia Śródmieście,Gdańsk\nSklep rowerowy Żółw,Wrocław\n"),
    ("cp1250", None, "název,město\nŘeznictví Žižka,Plzeň\nLékárna Černý kůň,Třebíč\n"),
    ("cp1250", "HU", "név,város\nVirágbolt Őszirózsa,Győr\nZárszerviz Fűzfő,Balatonfűzfő\n"),
    ("cp1254", "TR", "ad,şehir\nÇiçekçi Ayşe,İstanbul\nGözlükçü Işık,Eskişehir\n"),
    ("cp1251", None, "название,город\nЦветы Анна,Москва\nРемонт велосипедов,Казань\n"),
    ("cp1253", None, "όνομα,πόλη\nΑνθοπωλείο Άννα,Αθήνα\nΚτηνιατρείο,Πάτρα\n"),
    ("cp932", None, "名前,住所\n山田花店,東京都新宿区\n鈴木自転車,大阪市北区\n"),
    ("gb18030", None, "名称,地址\n王记花店,北京市朝阳区\n李氏自行车,上海市浦东\n"),
    ("cp949", None, "이름,주소\n한국꽃집,서울시 강남구\n자전거가게,부산시\n"),
    ("mac_roman", None, "Name,Ort\nBäckerei Müller,Düsseldorf\nFahrräder Groß,München\n"),
    ("utf-16-le", None, "name,town\nGull Vets,Gannet Bay\nKüche,Köln\n"),
    ("utf-16-be", None, "name,town\nGull Vets,Gannet Bay\nKüche,Köln\n"),
    ("utf-16", None, "name\ttown\nGull Vets\tGannet Bay\n"),
    ("utf-8", None, "name,town\n" + "Gull,Bay\n" * 9000 + "Küche,Köln\n"),
    ("cp1252", None, "name,town\n" + "Gull,Bay\n" * 90_000 + "Küche,Köln\n"),
]
"""(encoding, the user's country, a list in it): made by Python's own codecs, the languages' own letters."""


@pytest.mark.parametrize(("encoding", "region", "text"), WRITTEN, ids=[f"{e} {t[5:22]}" for e, _, t in WRITTEN])
def test_what_spreadsheets_save_is_read_whatever_its_encoding(
    encoding: str, region: str | None, text: str, tmp_path: Path
) -> None:
    (tmp_path / "a.csv").write_bytes(text.encode(encoding))
    guess = encoding_of(tmp_path / "a.csv", "a.csv", region)
    rows = list(rows_here(tmp_path / "a.csv", encoding=guess))
    assert list(rows[-1].cells.values()) == text.splitlines()[-1].replace("\t", ",").replace(";", ",").split(",")
    chosen = list(rows_here(tmp_path / "a.csv", encoding=encoding))
    assert [row.cells for row in chosen] == [row.cells for row in rows]


@given(st.binary(max_size=300), st.sampled_from([None, "AU", "PL", "JP"]))
def test_any_bytes_are_taken_to_be_in_an_encoding_that_can_be_chosen(lines: bytes, region: str | None) -> None:
    assert guess_encoding(lines, region) in ENCODINGS


def workbook(path: Path, sheets: dict[str, list[list[Any]]]) -> None:
    with xlsxwriter.Workbook(str(path)) as book:
        for title, rows in sheets.items():
            sheet = book.add_worksheet(title)
            for number, row in enumerate(rows):
                sheet.write_row(number, 0, row)


def test_a_workbook_of_another_library_under_a_name_without_ending(tmp_path: Path) -> None:
    """Uploads lie under a number; a cover sheet, a title above the headings, two columns of one name and a stray cell are usual."""
    rows: list[list[Any]] = [
        ["Clients 2026"],
        [],
        ["Name", "Phone", "Phone"],
        ["Gull Vets", 355501234, "x"],
        ["Heron", None, None, "call back"],
    ]
    workbook(tmp_path / "made.xlsx", {"Cover": [], "List": rows})
    upload, notes = (tmp_path / "made.xlsx").rename(tmp_path / "17"), list[str]()
    found = list(rows_here(upload, "Clients.XLSX", notes=notes))
    assert [(row.line, dict(row.cells)) for row in found] == [
        (4, {"Name": "Gull Vets", "Phone": "355501234", "Phone (2)": "x"}),
        (5, {"Name": "Heron", "Phone": "", "Phone (2)": "", "column 4": "call back"}),
    ]
    assert notes == ["only the sheet “List” is read, of 2", "2 rows above the headings are left out"]


def test_a_workbook_that_tells_a_wrong_size_loses_no_cells(tmp_path: Path) -> None:
    write_xlsx(tmp_path / "a.xlsx")
    with zipfile.ZipFile(tmp_path / "a.xlsx") as pack:
        parts = {name: pack.read(name) for name in pack.namelist()}
    name = "xl/worksheets/sheet1.xml"
    parts[name] = parts[name].replace(b'<dimension ref="A1:B3"', b'<dimension ref="A1"')
    with zipfile.ZipFile(tmp_path / "b.xlsx", "w") as pack:
        for part, body in parts.items():
            pack.writestr(part, body)
    assert [dict(row.cells) for row in rows_here(tmp_path / "b.xlsx")] == ROWS


def test_columns_of_one_name_keep_their_cells_and_blank_lines_may_come_first(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("\n\nname,phone,phone,,\nGull,1,2,3,4\n")
    (row,) = rows_here(tmp_path / "a.csv")
    assert (row.line, dict(row.cells)) == (
        4,
        {"name": "Gull", "phone": "1", "phone (2)": "2", "column 4": "3", "column 5": "4"},
    )


JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-9, 9) | st.floats(allow_nan=False) | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=5), inner, max_size=3),
    max_leaves=6,
)
FEATURE = st.fixed_dictionaries(
    {
        "type": st.just("Feature"),
        "properties": JSON,
        "geometry": JSON | st.fixed_dictionaries({"type": st.just("Point"), "coordinates": JSON}),
    }
)
ELEMENT = st.fixed_dictionaries(
    {"type": st.sampled_from(["node", "way", "relation"]), "id": JSON, "tags": JSON, "center": JSON}
)


@given(odd=st.lists(FEATURE | ELEMENT | JSON, max_size=4))
def test_one_odd_object_never_ends_an_import(tmp_path_factory: pytest.TempPathFactory, odd: list[Any]) -> None:
    path = tmp_path_factory.mktemp("odd") / "a.geojson"
    sound = {
        "type": "Feature",
        "properties": {"name": "Gull"},
        "geometry": {"type": "Point", "coordinates": [160.02, -37.0]},
    }
    path.write_bytes(orjson.dumps({"type": "FeatureCollection", "features": [*odd, sound]}))
    rows = list(rows_here(path))
    assert len(rows) == len(odd) + 1
    assert rows[-1].cells == {"name": "Gull", "lon": "160.02", "lat": "-37"}


def test_odd_geometries_are_told_with_their_reason(tmp_path: Path) -> None:
    geometries: list[Any] = [
        [1, 2],
        {"type": "Point", "coordinates": 7},
        {"type": "Point", "coordinates": []},
        None,
        "here",
    ]
    features = [{"type": "Feature", "properties": {"name": "Gull"}, "geometry": geometry} for geometry in geometries]
    (tmp_path / "a.geojson").write_bytes(orjson.dumps({"type": "FeatureCollection", "features": features}))
    result = [row.error for row in rows_here(tmp_path / "a.geojson")]
    shape, point = "its geometry is no GeoJSON object", "its point has no two coordinates"
    assert result == [shape, point, point, "", shape]


def test_broken_rows_say_where_and_the_others_are_read(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text('name,town\nGull,Bay\n"two\nlines",Bay\nA,B,C\nHeron,Bay\n')
    rows = list(rows_here(tmp_path / "a.csv"))
    assert [(row.line, row.error) for row in rows] == [(2, ""), (3, ""), (5, "3 cells under 2 headings"), (6, "")]
    (tmp_path / "b.ndjson").write_text('{"name": "Gull"}\n{"name": \n[1]\n')
    assert [bool(row.error) for row in rows_here(tmp_path / "b.ndjson")] == [False, True, True]


def bomb() -> bytes:
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as pack:
        pack.writestr("xl/worksheets/sheet1.xml", b"0" * 60_000_000)
    return data.getvalue()


def sheet(rows: str) -> bytes:
    """A workbook of one sheet, written by hand as no program would."""
    data = io.BytesIO()
    main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
    office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
    package = "http://schemas.openxmlformats.org/package/2006"
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as pack:
        pack.writestr(
            "[Content_Types].xml",
            f'<Types xmlns="{package}/content-types"><Default Extension="rels" '
            'ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" '
            'ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override '
            'PartName="/xl/worksheets/sheet1.xml" '
            'ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>',
        )
        link = (
            '<Relationships xmlns="{}/relationships"><Relationship Id="r1" Type="{}/{}" Target="{}"/></Relationships>'
        )
        pack.writestr("_rels/.rels", link.format(package, office, "officeDocument", "xl/workbook.xml"))
        pack.writestr("xl/_rels/workbook.xml.rels", link.format(package, office, "worksheet", "worksheets/sheet1.xml"))
        pack.writestr(
            "xl/workbook.xml",
            f'<workbook xmlns="{main}" xmlns:r="{office}"><sheets><sheet name="S" sheetId="1" r:id="r1"/></sheets></workbook>',
        )
        pack.writestr(
            "xl/worksheets/sheet1.xml", f'<worksheet xmlns="{main}"><sheetData>{rows}</sheetData></worksheet>'
        )
    return data.getvalue()


def cell(at: str, text: str) -> str:
    return f'<c r="{at}" t="inlineStr"><is><t>{text}</t></is></c>'


NAME = f'<row r="1">{cell("A1", "name")}</row><row r="2">{cell("A2", "Gull")}</row>'
BAD = {
    "wide.csv": (b",".join(b"c" for _ in range(500_000)) + b"\nGull\n", "500,000 columns"),
    "wide.xlsx": (sheet(f'<row r="1">{cell("A1", "name")}{cell("XFD1", "x")}</row>'), "16,384 columns"),
    "wider.xlsx": (sheet(f'<row r="1">{cell("A1", "name")}{cell("ZZZZZZZ1", "x")}</row>'), "no readable workbook"),
    "elements.osm": (b"<osm>" + b"<x>" * 60 + b"</x>" * 60 + b"</osm>", "no map extract"),
    "laughs.osm": (
        b'<!DOCTYPE osm [<!ENTITY a "aaaaaaaaaa">'
        + b"".join(b'<!ENTITY %c "%s">' % (97 + n, b"&%c;" % (96 + n) * 10) for n in range(1, 10))
        + b"]><osm><node id='1'><tag k='name' v='&j;'/></node></osm>",
        "no map extract",
    ),
    "binary.csv": (b"\0\1\2" * 400, "no text file"),
    "empty.csv": (b"", "empty"),
    "one line.csv": (b"name\n" + b"x" * (5 * 2**20), "longer than 4 MB"),
    "bomb.xlsx": (bomb(), "unpacks to"),
    "old.xls": (b"\xd0\xcf\x11\xe0" + b"\0" * 600, "no readable workbook, or it has a password"),
    "torn.xlsx": (b"PK\3\4 and no more", "no readable workbook"),
    "torn.json": (b'[{"name": "Gull"}', "not JSON"),
    "torn.osm": (b"<osm><node id='1'>", "no map extract"),
    "number.json": (b"7", "no list"),
    "what": (b"hello", "what kind of file"),
}


@pytest.mark.parametrize("name", BAD)
def test_a_file_that_is_no_table_is_refused_with_the_reason(tmp_path: Path, name: str) -> None:
    data, says = BAD[name]
    (tmp_path / name).write_bytes(data)
    with pytest.raises(FileError, match=says):
        list(read_rows(tmp_path / name))


@pytest.fixture
def limited(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Callable[[str, int], None]:
    """Gives readers that are started from now on another limit."""

    def limit(name: str, value: int) -> None:
        words = f"import openacorn.gather.tables.limits as limits\nlimits.{name} = {value}\nlimits.BYTES_A_SECOND = 10**12\n"
        (tmp_path / "sitecustomize.py").write_text(words)
        monkeypatch.setenv("PYTHONPATH", f"{tmp_path}{os.pathsep}{ROOT}")

    return limit


def test_rows_that_a_workbook_only_claims_are_left_out_and_told(tmp_path: Path) -> None:
    far = tmp_path / "far.xlsx"
    far.write_bytes(sheet(f'{NAME}<row r="1000000000">{cell("A1000000000", "Heron")}</row>'))
    assert far.stat().st_size < 2_000
    notes: list[str] = []
    assert [row.cells["name"] for row in read_rows(far, notes=notes)] == ["Gull"]
    assert "blank rows" in notes[0]


def test_elements_that_are_no_place_take_no_memory(tmp_path: Path, limited: Callable[[str, int], None]) -> None:
    many = tmp_path / "many.osm"
    many.write_bytes(b"<osm>" + b"<x/>" * 2_000_000 + b"<node id='1'><tag k='name' v='Gull'/></node></osm>")
    limited("MEMORY", 150 * 2**20)
    assert [row.cells["name"] for row in read_rows(many)] == ["Gull"]


@pytest.mark.parametrize(("limit", "value", "says"), [("MEMORY", 200 * 2**20, "memory"), ("SECONDS", 1, "time")])
def test_a_reader_that_takes_too_much_is_ended_and_says_so(
    tmp_path: Path, limited: Callable[[str, int], None], limit: str, value: int, says: str
) -> None:
    limited(limit, value)
    path = tmp_path / "long.json"
    path.write_bytes(b"[" + b'{"name": "Gull", "tags": [1, 2, 3, 4, 5, 6]},' * 1_300_000 + b"{}]")
    with pytest.raises(FileError, match=f"more {says}"):
        list(read_rows(path))
