"""Geodesy against a published line and reference libraries; tiles and cap-splitting against brute force."""

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pyproj import Geod

from openacorn.core.gather.planning import CutShort, expected_requests, first_by_tiles, is_full, narrower
from openacorn.core.geo.geodesy import AreaError, Circle, Point, checked_circle, destination, distance_m
from openacorn.core.geo.territory import Area, Territory
from openacorn.core.geo.tiles import Tile, bounding_tile

LATS, LONS = st.floats(-80, 80), st.floats(-180, 180)


def dms(degrees: int, minutes: int, seconds: float) -> float:
    return degrees + minutes / 60 + seconds / 3600


def test_the_published_line_from_flinders_peak_to_buninyong() -> None:
    # Geocentric Datum of Australia Technical Manual, chapter 4: 54,972.271 m on GRS80, which is WGS84 to .1 mm here.
    flinders = Point(-dms(37, 57, 3.72030), dms(144, 25, 29.52440))
    buninyong = Point(-dms(37, 39, 10.15610), dms(143, 55, 35.38390))
    assert distance_m(flinders, buninyong) == pytest.approx(54972.271, abs=0.001)


@given(LATS, LONS, LATS, LONS)
def test_distance_agrees_with_proj(lat1: float, lon1: float, lat2: float, lon2: float) -> None:
    _, _, theirs = Geod(ellps="WGS84").inv(lon1, lat1, lon2, lat2)
    assert distance_m(Point(lat1, lon1), Point(lat2, lon2)) == pytest.approx(theirs, abs=0.001)


@given(LATS, LONS, st.floats(100, 200_000), st.floats(0.98, 1.02), st.floats(0, 360))
def test_inside_a_circle_is_what_the_distance_says_also_close_to_its_edge(
    lat: float, lon: float, radius: float, share: float, bearing: float
) -> None:
    there = destination(Point(lat, lon), bearing, radius * share)
    assert Circle(Point(lat, lon), radius).contains(there) == (distance_m(Point(lat, lon), there) <= radius)


@given(LATS, LONS, st.floats(100, 200_000), st.floats(0, 360), st.floats(0, 1))
def test_the_bounding_tile_holds_every_point_of_its_circle(
    lat: float, lon: float, radius: float, bearing: float, share: float
) -> None:
    circle = Circle(Point(lat, lon), radius)
    inside = destination(circle.centre, bearing, radius * share)
    tile = bounding_tile(circle)
    turn = 360 * round((tile.centre.lon - inside.lon) / 360)
    assert tile.south - 1e-9 <= inside.lat <= tile.north + 1e-9
    assert tile.west - 1e-9 <= inside.lon + turn <= tile.east + 1e-9


@given(LATS, LONS, st.floats(200, 100_000), st.floats(0, 1), st.floats(0, 1))
def test_four_quarters_and_their_circles_leave_no_point_out(
    lat: float, lon: float, radius: float, x: float, y: float
) -> None:
    tile = bounding_tile(Circle(Point(lat, lon), radius))
    point = Point(tile.south + y * (tile.north - tile.south), tile.west + x * (tile.east - tile.west))
    holding = [q for q in tile.quarters() if q.south <= point.lat <= q.north and q.west <= point.lon <= q.east]
    assert holding
    assert all(quarter.covering_circle().contains(point) for quarter in holding)


@given(LATS, LONS, st.floats(1000, 100_000), st.floats(0, 360), st.floats(0, 1))
def test_a_quarter_that_is_dropped_holds_nothing_of_the_territory(
    lat: float, lon: float, radius: float, bearing: float, share: float
) -> None:
    circle = Circle(Point(lat, lon), radius)
    inside = destination(circle.centre, bearing, radius * share)
    for quarter in bounding_tile(circle).quarters():
        for part in quarter.quarters():
            turn = 360 * round((part.centre.lon - inside.lon) / 360)
            if part.south < inside.lat < part.north and part.west < inside.lon + turn < part.east:
                assert part.touches(circle)


@pytest.mark.parametrize(
    ("lat", "lon", "radius", "says"),
    [
        (-37.0, 160.0, 0.0, "0 km cannot be swept; choose 0.1 to 200 km"),
        (-37.0, 160.0, 5_000_000.0, "5000 km cannot be swept"),
        (-91.0, 160.0, 1000.0, "latitude -91"),
        (-37.0, 181.0, 1000.0, "longitude 181"),
        (-37.0, 160.0, float("nan"), "cannot be swept"),
        (89.0, 0.0, 1000.0, "pole"),
    ],
)
def test_an_impossible_circle_is_refused_with_its_limits(lat: float, lon: float, radius: float, says: str) -> None:
    with pytest.raises(AreaError, match=says):
        checked_circle(lat, lon, radius)


CAP, PAGE = 60, 20


def gather(points: list[Point], territory: Circle) -> tuple[set[int], list[CutShort], int]:
    """Carry out a plan against a capped source that hands out the first 60 of what lies in the asked circle."""
    area = Territory((Area("here", territory),))
    todo, found, cut, asked = first_by_tiles("s", [("t", "word")], area), set[int](), [], 0
    while todo:
        query = todo.pop()
        assert query.tile is not None
        circle = query.tile.covering_circle()
        rows = [index for index, point in enumerate(points) if circle.contains(point)][:CAP]
        asked += max(1, -(-len(rows) // PAGE))
        found.update(rows)
        if is_full(len(rows), CAP):
            after = narrower(query, ("word", "other"), area)
            if isinstance(after, CutShort):
                cut.append(after)
            else:
                todo.extend(after)
    return found, cut, asked


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10_000), st.integers(50, 300), st.floats(2_000, 40_000))
def test_splitting_gets_past_the_cap_all_that_a_brute_force_count_finds(seed: int, count: int, radius: float) -> None:
    rng = random.Random(seed)
    territory = Circle(Point(-37.0, 179.95), radius)
    points = [destination(territory.centre, rng.uniform(0, 360), radius * rng.random()).normal() for _ in range(count)]
    found, cut, _ = gather(points, territory)
    assert found == {index for index, point in enumerate(points) if territory.contains(point)} | found
    assert len(found) == count
    assert cut == []


def test_more_in_one_spot_than_the_cap_is_said_to_be_cut_short() -> None:
    spot = Circle(Point(-37.0, 160.0), 5000)
    found, cut, _ = gather([spot.centre] * 100, spot)
    assert len(found) == CAP
    assert cut
    assert all(item.side_m is not None and item.side_m < 500 for item in cut)


@pytest.mark.parametrize("rows", [10, 200, 600])
def test_the_expected_requests_are_near_what_an_even_spread_takes(rows: int) -> None:
    rng = random.Random(rows)
    territory = Circle(Point(-37.0, 160.0), 20_000)
    points = [destination(territory.centre, rng.uniform(0, 360), 20_000 * rng.random() ** 0.5) for _ in range(rows)]
    _, _, asked = gather(points, territory)
    assert expected_requests(rows, CAP, PAGE) == pytest.approx(asked, rel=0.8)


def test_a_tile_names_its_place() -> None:
    assert [quarter.key for quarter in Tile(0, 0, 1, 1, "2").quarters()] == ["20", "21", "22", "23"]
