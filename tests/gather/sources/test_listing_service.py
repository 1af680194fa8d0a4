"""The listing service by its shipped recipe: its questions, and replies sound, odd and broken."""

import json
from typing import Any
from urllib.parse import parse_qsl, urlsplit

import pytest

from openacorn.core.gather.planning import CutShort, Query
from openacorn.core.geo.geodesy import Circle, Point, distance_m
from openacorn.core.geo.tiles import bounding_tile
from openacorn.core.trades.catalogue import catalogue
from openacorn.db.database import Database
from openacorn.gather.queries import decode_query, encode_query, first_queries, follow_up, words_of
from openacorn.gather.sources._source import Reading, SourceFailure, SourceReply, service_endpoint, source_of
from openacorn.gather.store import places
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import SourceSettings
from tests.conftest import circle

TILE = bounding_tile(Circle(Point(-37.0, 179.99), 5000))
QUERY = Query("listing_service", "vets", "vets", TILE, page=2, seen=20)
PLAN = Plan(("vets",), (circle(-37.0, 179.99, 5000),))
SOURCE = source_of("listing_service")
CAP, PAGE_SIZE = SOURCE.cap, SOURCE.page_size
KEPT = SourceSettings(endpoint="https://listings.example/", key="secret", pace_s=0.25)
HERE = service_endpoint(SOURCE, KEPT, catalogue())


def reply(*rows: Any, more: bool = False) -> SourceReply:
    return SourceReply(json.dumps({"results": list(rows), "page": 1, "more": more}).encode())


def test_a_question_asks_for_the_circle_around_its_tile() -> None:
    request = SOURCE.ask(QUERY, HERE)
    parts = urlsplit(request.url)
    assert (parts.netloc, parts.path) == ("listings.example", "/v1/search")
    assert request.headers["X-Api-Key"] == "secret"
    assert request.pace_s == 0.25
    params = dict(parse_qsl(parts.query))
    assert (params["q"], params["page"]) == ("vets", "2")
    centre = Point(float(params["lat"]), float(params["lon"]))
    assert -180 <= centre.lon <= 180
    corners = [Point(lat, lon) for lat in (TILE.south, TILE.north) for lon in (TILE.west, TILE.east)]
    assert all(distance_m(centre, corner) <= float(params["radius_m"]) + 1 for corner in corners)


FULL = {
    "id": "T1", "name": "Calloway &amp; Fairlight  Vets", "category": "Veterinarian", "phone": "(03) 5550 1234", "website": "https://c.example/",
    "location": {"lat": -37.0, "lon": 160.0, "street": "1 Mill Ln", "town": "Port Ellery", "postcode": "7801"},
    "rating": 4.5, "review_count": 12, "claimed": False, "photo_count": 0, "staff": "2-4", "price_level": 2,
    "hours": ["Mon 9-5", "Tue 9-5"], "permanently_closed": True,
}  # fmt: skip


def test_a_row_is_read_whole() -> None:
    (found,) = SOURCE.read(QUERY, HERE, reply(FULL)).listings
    assert found.name == "Calloway & Fairlight Vets"
    assert (found.rank, found.status, found.hours) == (21, "closed", "Mon 9-5; Tue 9-5")
    assert (found.lat, found.town, found.reviews, found.claimed, found.photos) == (-37.0, "Port Ellery", 12, False, 0)


def test_sparse_rows_are_read_and_broken_ones_counted() -> None:
    sparse = {"id": 7, "name": "Gull Florist", "location": None, "hours": None, "rating": None}
    reading = SOURCE.read(
        QUERY,
        HERE,
        reply(sparse, {"id": 8}, "no row", {"id": "x", "name": "y", "location": {"lat": "north", "lon": 1}}),
    )
    assert [(item.source_id, item.lat, item.website, item.status) for item in reading.listings] == [
        ("7", None, "", "open")
    ]
    assert reading.unreadable == 3


@pytest.mark.parametrize("body", [b"", b"<html>busy</html>", b"[]", b'{"rows": []}', b'{"results": null}'])
def test_what_is_no_reply_fails_with_a_remedy(body: bytes) -> None:
    with pytest.raises(SourceFailure) as caught:
        SOURCE.read(QUERY, HERE, SourceReply(body))
    assert "its address in the settings" in caught.value.remedy


def reading(rows: int, *, more: bool) -> Reading:
    (listing,) = SOURCE.read(QUERY, HERE, reply(FULL)).listings
    return Reading((listing,) * rows, more)


def test_pages_are_followed_then_full_questions_split_then_words_change_then_it_is_said() -> None:
    first = Query("listing_service", "vets", "vets", TILE)
    after, full, cut = follow_up(first, reading(PAGE_SIZE, more=True), SOURCE, PLAN, catalogue())
    assert [(item.page, item.seen) for item in after] == [(2, PAGE_SIZE)]
    assert (full, cut) == (False, None)

    last = Query("listing_service", "vets", "vets", TILE, page=CAP // PAGE_SIZE, seen=CAP - PAGE_SIZE)
    after, full, cut = follow_up(last, reading(PAGE_SIZE, more=False), SOURCE, PLAN, catalogue())
    assert (len(after), full, cut) == (4, True, None)
    assert {item.page for item in after} == {1}
    assert follow_up(last, reading(5, more=False), SOURCE, PLAN, catalogue()) == ([], False, None)
    assert (
        len(follow_up(last, reading(PAGE_SIZE - 1, more=False), SOURCE, PLAN, catalogue())[0]) == 4
    )  # a dropped row hides no cut

    tiny = bounding_tile(Circle(Point(-37.0, 179.99), 150))
    words = words_of(catalogue().of("vets"))
    narrow = Query("listing_service", "vets", words[0], tiny, page=3, seen=40)
    after, _, cut = follow_up(narrow, reading(PAGE_SIZE, more=False), SOURCE, PLAN, catalogue())
    assert [item.word for item in after] == [words[1]]
    _, full, cut = follow_up(
        Query("listing_service", "vets", words[-1], tiny, "", 3, 40),
        reading(PAGE_SIZE, more=False),
        SOURCE,
        PLAN,
        catalogue(),
    )
    assert full
    assert isinstance(cut, CutShort)


PORT = {
    "name": "Port Ellery",
    "within": "Tarrow Coast",
    "kind": "town",
    "lat": -37.0,
    "lon": 160.0,
    "residents": 10_000,
    "radius_km": 5,
}


def test_questions_survive_the_store_and_have_a_name_of_their_own(database: Database) -> None:
    plan = Plan(("vets", "florists"), (circle(-37.0, 160.0, 5000),))
    with database.write() as conn:
        places.replace_places(conn, [PORT])
        by_place = first_queries(conn, plan, "directory:1")
        queries = [*first_queries(conn, plan, "listing_service"), *by_place, QUERY]
    assert [query.place for query in by_place] == ["Port Ellery"] * 2
    assert [decode_query(encode_query(query)) for query in queries] == queries
    assert len({query.key for query in queries}) == 5
