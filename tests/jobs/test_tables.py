"""Files as tables: every kind, and every way to be broken."""

import zipfile
from pathlib import Path

import orjson
import pytest

from openacorn.core.columns import guess_columns
from openacorn.jobs.tables import FileError, read_rows

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
    assert [dict(row.cells) for row in read_rows(tmp_path / name)] == ROWS


def test_a_workbook_and_a_map_file(tmp_path: Path) -> None:
    write_xlsx(tmp_path / "a.xlsx")
    assert [dict(row.cells) for row in read_rows(tmp_path / "a.xlsx")] == ROWS
    feature = {
        "type": "Feature",
        "properties": {"name": "Gull Vets"},
        "geometry": {"type": "Point", "coordinates": [160.02, -37.0]},
    }
    (tmp_path / "b.geojson").write_bytes(orjson.dumps({"type": "FeatureCollection", "features": [feature]}))
    assert [dict(row.cells) for row in read_rows(tmp_path / "b.geojson")] == [
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
        rows = [row.cells for row in read_rows(tmp_path / name)]
        assert [(row["id"], row["name"], float(row["lat"])) for row in rows] == [
            ("n5", "Gull & Vets", -37.0),
            ("w7", "Heron", -37.1),
        ]
        guess = guess_columns(list(rows[0]), rows).fields
        assert (guess["street"], guess["phone"], guess["source_id"]) == ("addr:street", "contact:phone", "id")


def test_broken_rows_say_where_and_the_others_are_read(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text('name,town\nGull,Bay\n"two\nlines",Bay\nA,B,C\nHeron,Bay\n')
    rows = list(read_rows(tmp_path / "a.csv"))
    assert [(row.line, row.error) for row in rows] == [(2, ""), (3, ""), (5, "3 cells under 2 headings"), (6, "")]
    (tmp_path / "b.ndjson").write_text('{"name": "Gull"}\n{"name": \n[1]\n')
    assert [bool(row.error) for row in read_rows(tmp_path / "b.ndjson")] == [False, True, True]


def bomb() -> bytes:
    import io

    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as pack:
        pack.writestr("xl/worksheets/sheet1.xml", b"0" * 60_000_000)
    return data.getvalue()


BAD = {
    "wrong encoding.csv": ("name\nKüche\n".encode("latin-1"), "UTF-8"),
    "binary.csv": (b"\0\1\2" * 400, "no text file"),
    "empty.csv": (b"", "empty"),
    "one line.csv": (b"name\n" + b"x" * (5 * 2**20), "longer than 4 MB"),
    "bomb.xlsx": (bomb(), "unpacks to"),
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
