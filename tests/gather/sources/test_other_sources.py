"""The connectors of open map data, social pages and directories: their questions, and replies sound, odd and broken."""

import json

import pytest

from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import FieldRule, Recipe
from openacorn.core.geo.geodesy import Circle, Point
from openacorn.core.geo.tiles import bounding_tile
from openacorn.core.trades.catalogue import catalogue
from openacorn.gather.sources import directory, map_data
from openacorn.gather.sources._source import (
    Endpoint,
    SourceFailure,
    SourceReply,
    UnknownSource,
    service_endpoint,
    source_of,
)
from openacorn.settings import SourceSettings

TILE = bounding_tile(Circle(Point(-37.0, 179.99), 5000))
MAP = Query("map_data", "vets", "vets", TILE)
HERE = Endpoint("https://map.example/api/interpreter", "k", 0.5)

# the shape of the public servers' answers, as the wiki's "Overpass API/Overpass QL" page prints it (from memory)
ANSWER = {
    "version": 0.6, "generator": "x", "osm3s": {"timestamp_osm_base": "2026-09-01T00:00:00Z", "copyright": "x"},
    "elements": [
        {"type": "node", "id": 5, "lat": -37.0, "lon": 160.0, "tags": {"amenity": "veterinary", "name": "Gull Vets", "addr:housenumber": "14",
         "addr:street": "Mill Lane", "addr:city": "Port Ellery", "contact:phone": "+61 3 5550 1234", "website": "https://gull.example"}},
        {"type": "way", "id": 6, "center": {"lat": -37.1, "lon": 160.1}, "nodes": [1, 2], "tags": {"shop": "florist", "operator": "Heron"}},
        {"type": "node", "id": 7, "lat": 1, "lon": 1, "tags": {"amenity": "veterinary"}},
        {"type": "node", "id": 8, "lat": 1, "lon": 1},
        {"id": 9, "tags": {"name": "torn"}},
    ],
}  # fmt: skip


def test_a_map_question_names_tags_and_box_and_splits_it_at_the_antimeridian() -> None:
    request = map_data.SOURCE.ask(MAP, HERE)
    text = request.params["data"]
    assert (request.url, request.pace_s) == (HERE.url, 0.5)
    assert text.startswith('[out:json][timeout:60];(nwr["amenity"="veterinary"](')
    assert text.endswith("out center 1000;")
    assert text.count("nwr") == 2
    assert ",180.000000);" in text
    assert ",-180.000000," in text


def test_map_elements_become_listings() -> None:
    reading = map_data.SOURCE.read(MAP, HERE, SourceReply(json.dumps(ANSWER).encode()))
    assert [
        (item.source_id, item.name, item.lat, item.street, item.phone, item.category) for item in reading.listings
    ] == [
        ("n5", "Gull Vets", -37.0, "14 Mill Lane", "+61 3 5550 1234", "veterinary"),
        ("w6", "Heron", -37.1, "", "", "florist"),
    ]
    assert (reading.unreadable, reading.cut) == (1, False)
    short = ANSWER | {"remark": 'runtime error: Query ran out of memory in "query" at line 1.'}
    assert map_data.SOURCE.read(MAP, HERE, SourceReply(json.dumps(short).encode())).cut


SOCIAL = source_of("social_pages")
THERE = service_endpoint(SOCIAL, SourceSettings(endpoint="https://s.example/", key="tok"), catalogue())


@pytest.mark.parametrize(
    ("tags", "name"),
    [
        ({"name": "Ξενία", "name:en": "Xenia"}, "Ξενία"),
        ({"name:ja": "花屋", "name:en": "Flower Shop"}, "Flower Shop"),
        ({"name:ja": "花屋", "operator": "K. Mori"}, "花屋"),
        ({"brand": "Heron Optik", "operator": "Heron AG"}, "Heron Optik"),
        ({"shop": "florist"}, ""),
    ],
)
def test_a_map_element_is_called_by_its_sign_or_by_what_it_has_instead(tags: dict[str, str], name: str) -> None:
    element = {"type": "node", "id": 5, "lat": 1.0, "lon": 2.0, "tags": tags}
    found = map_data.SOURCE.read(MAP, HERE, SourceReply(json.dumps({"elements": [element]}).encode())).listings
    assert [item.name for item in found] == ([name] if name else [])


PAGES = Query("social_pages", "vets", "vets", place="Port Ellery", cursor="30", seen=30)


def test_social_pages_follow_their_cursor_and_keep_facts_of_their_own() -> None:
    request = SOCIAL.ask(PAGES, THERE)
    assert request.url == "https://s.example/v1/pages?q=vets&city=Port%20Ellery&after=30"
    assert request.headers["Authorization"] == "Bearer tok"
    row = {
        "id": 1,
        "name": "Gull  Vets",
        "url": "https://facebook.com/gull",
        "city": "Port Ellery",
        "followers": 90,
        "ads_running": False,
    }
    body = {"data": [row, {"id": 2}, row | {"id": 3, "website": "https://gull.example"}], "paging": {"after": "60"}}
    reading = SOCIAL.read(PAGES, THERE, SourceReply(json.dumps(body).encode()))
    first, second = reading.listings
    assert (first.name, first.website, second.website, first.rank) == (
        "Gull Vets",
        "https://facebook.com/gull",
        "https://gull.example",
        31,
    )
    assert first.extra == {"followers": 90, "ads_running": False, "page": "https://facebook.com/gull"}
    assert (reading.more, reading.cursor, reading.unreadable) == (True, "60", 1)


PLAN = Recipe(
    "Pages",
    "https://d.example/?q={term}&in={place}",
    "li",
    (FieldRule("name", "b"), FieldRule("phone", "i")),
    next="a.n",
    limit=2,
)
ASKED = Query("directory:1", "vets", "vets", place="Port Ellery")
PAGE = b"<ul><li><b>Gull</b><i>(03) 5550 1234</i></li><li><i>x</i></li></ul><a class=n href='/?p=2'>next</a>"


def test_a_directory_is_read_page_by_page_up_to_its_limit() -> None:
    here = Endpoint(PLAN.address, "", 1, PLAN)
    request = directory.SOURCE.ask(ASKED, here)
    assert (request.url, request.robots) == ("https://d.example/?q=vets&in=Port+Ellery", True)
    reading = directory.SOURCE.read(ASKED, here, SourceReply(PAGE))
    (found,) = reading.listings
    assert (found.source, found.name, found.town, found.rank) == ("directory:1", "Gull", "Port Ellery", 1)
    assert (reading.more, reading.cursor, reading.unreadable, reading.cut) == (True, "https://d.example/?p=2", 1, False)
    last = Query("directory:1", "vets", "vets", place="Port Ellery", page=2, cursor="https://d.example/?p=2")
    assert directory.SOURCE.ask(last, here).url == "https://d.example/?p=2"
    reading = directory.SOURCE.read(last, here, SourceReply(PAGE.replace(b"?p=2", b"?p=3")))
    assert (reading.more, reading.cut) == (False, True)


@pytest.mark.parametrize("body", [b"", b"<html>busy</html>", b"[]", b'{"elements": null, "data": null}'])
def test_what_is_no_reply_fails_with_a_remedy(body: bytes) -> None:
    for source, endpoint in ((map_data.SOURCE, HERE), (SOCIAL, THERE)):
        with pytest.raises(SourceFailure) as caught:
            source.read(PAGES, endpoint, SourceReply(body))
        assert "address" in caught.value.remedy
        assert "settings" in caught.value.remedy


def test_a_source_is_named_by_its_connector() -> None:
    assert source_of("directory:7") is directory.SOURCE
    with pytest.raises(UnknownSource, match="no source 'rumour'"):
        source_of("rumour")
    with pytest.raises(SourceFailure, match="no recipe"):
        directory.SOURCE.ask(ASKED, HERE)
