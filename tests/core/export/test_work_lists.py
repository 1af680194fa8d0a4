"""Audience files, labels and rounds of visits, read back by programs of others."""

import csv
import io
import itertools
import json
import random
from xml.etree import ElementTree

import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.export.audience import HASHED, AudienceRow, hashed, normalised, write_audience
from openacorn.core.export.labels import SHEETS, labels_html
from openacorn.core.export.route import FORMS, Stop, order
from openacorn.core.geo.geodesy import Point, distance_m

ODD = st.text(max_size=30)


@pytest.mark.parametrize(
    ("text", "digest"),
    [
        ("abc", "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"),  # FIPS 180-2, appendix B.1
        (
            "test@example.com",
            "973dfe463ec85785f5f95af5ba3906eedb2d931c24e69824a89ea65dba4e813b",
        ),  # in many uploads' documentation
        ("", ""),
    ],
)
def test_hashes_are_those_that_others_publish(text: str, digest: str) -> None:
    assert hashed(text) == digest


@pytest.mark.parametrize(
    ("row", "cells"),
    [
        (AudienceRow(" Test@Example.COM ", "+61 491-570 156", "Mary-Anne", "O’Neil", "AU", "SW1A 1AA"),
         {"email": "test@example.com", "phone": "+61491570156", "fn": "mary anne", "ln": "o neil", "country": "au", "zip": "sw1a1aa"}),
        (AudienceRow(first_name="Zoe\u0308", last_name="Müller 2"), {"fn": "zoë", "ln": "müller"}),
        (AudienceRow(company="  Gull   Vets ", domain="Gull.Example"), {"company": "Gull Vets", "domain": "gull.example"}),
    ],
)  # fmt: skip
def test_what_is_hashed_is_written_one_way(row: AudienceRow, cells: dict[str, str]) -> None:
    assert normalised(row) | cells == normalised(row)


@given(st.lists(st.builds(AudienceRow, ODD, ODD, ODD, ODD, ODD, ODD, ODD, ODD), max_size=20), st.booleans())
def test_a_file_has_each_once_and_no_name_in_the_clear(rows: list[AudienceRow], hash_people: bool) -> None:
    read = list(
        csv.DictReader(io.StringIO(write_audience(rows, "people", hash_people=hash_people).decode(), newline=""))
    )
    assert len({tuple(row.values()) for row in read}) == len(read)
    assert all(row["email"] or row["phone"] for row in read)
    if hash_people:
        assert all(
            not row[name] or (len(row[name]) == 64 and int(row[name], 16) >= 0) for row in read for name in HASHED
        )
    companies = write_audience(rows, "companies", hash_people=hash_people).decode()
    assert companies.startswith("company,domain\r\n")


def stops(points: list[tuple[float, float]]) -> list[Stop]:
    return [
        Stop(number, f"<Stop> & {number}\x0b", "1 Quay “Rd”", Point(*point)) for number, point in enumerate(points, 1)
    ]


@given(st.lists(st.tuples(st.floats(-60, 60), st.floats(-170, 170)), max_size=7))
def test_a_round_visits_all_and_no_crossing_makes_it_shorter(points: list[tuple[float, float]]) -> None:
    start, wanted = Point(1.0, 1.0), stops(points)
    found, length = order(start, wanted)
    assert sorted(stop.id for stop in found) == sorted(stop.id for stop in wanted)
    way = [start, *(stop.point for stop in found), start]
    assert length == pytest.approx(sum(distance_m(one, two) for one, two in itertools.pairwise(way)))
    for first, last in itertools.combinations(range(1, len(way) - 1), 2):
        crossed = [*way[:first], *reversed(way[first : last + 1]), *way[last + 1 :]]
        assert sum(distance_m(one, two) for one, two in itertools.pairwise(crossed)) >= length - 1


def test_a_round_is_near_the_shortest_there_is() -> None:
    """Every order of seven stops is tried: on average within 5 %."""
    rates = []
    for seed in range(8):
        draw = random.Random(seed)
        start, wanted = (
            Point(-37, 160),
            stops([(draw.uniform(-37.5, -36.5), draw.uniform(159.5, 160.5)) for _ in range(6)]),
        )
        points = [start, *(stop.point for stop in wanted)]
        away = [[distance_m(one, two) for two in points] for one in points]
        shortest = min(
            sum(away[one][two] for one, two in itertools.pairwise((0, *way, 0)))
            for way in itertools.permutations(range(1, 7))
        )
        rates.append(order(start, wanted)[1] / shortest)
    assert sum(rates) / len(rates) < 1.05


def test_rounds_are_read_by_others() -> None:
    """gpxpy, the standard library's XML, shapely."""
    import gpxpy
    from shapely.geometry import shape

    wanted = stops([(-37.1, 160.1), (-37.2, 160.3)])
    gpx = gpxpy.parse(FORMS["gpx"][0]("Tuesday & all", wanted).decode())
    assert [(str(point.name).strip(), point.latitude, point.longitude) for point in gpx.routes[0].points] == [
        ("<Stop> & 1", -37.1, 160.1), ("<Stop> & 2", -37.2, 160.3),
    ]  # fmt: skip
    kml = ElementTree.fromstring(FORMS["kml"][0]("Tuesday", wanted))
    assert [node.text for node in kml.iter("{http://www.opengis.net/kml/2.2}coordinates")] == [
        "160.1,-37.1",
        "160.3,-37.2",
    ]
    features = json.loads(FORMS["geojson"][0]("Tuesday", wanted))["features"]
    assert shape(features[0]["geometry"]).length > 0
    assert [shape(item["geometry"]).coords[0] for item in features[1:]] == [(160.1, -37.1), (160.3, -37.2)]


@pytest.mark.parametrize("sheet", SHEETS.values(), ids=lambda sheet: sheet.id)
def test_labels_stay_on_their_sheet(sheet: object) -> None:
    """PDFium reads the paper back: pages of its size, every address once, what is used already left free."""
    import weasyprint

    chosen = next(item for item in SHEETS.values() if item is sheet)
    width, height = (float(part.removesuffix("mm")) for part in chosen.paper.split())
    assert chosen.left + (chosen.across - 1) * chosen.step_x + chosen.width <= width + 0.5
    assert chosen.top + (chosen.down - 1) * chosen.step_y + chosen.height <= height + 0.5
    addresses = [[f"Firm {number} & <Sons>", "4 Harbour Road", "Port Ellery 7801"] for number in range(chosen.labels)]
    paper = pypdfium2.PdfDocument(weasyprint.HTML(string=labels_html(chosen, addresses, 2)).write_pdf())
    assert len(paper) == 2
    assert [round(part / 72 * 25.4) for part in paper[0].get_size()] == [round(width), round(height)]
    texts = [page.get_textpage().get_text_range() for page in paper]
    assert [text.count("Port Ellery") for text in texts] == [chosen.labels - 2, 2]
    assert "Firm 0 & <Sons>" in texts[0]
