"""Territories of circles and polygons: what is inside, which tiles touch, how large, and what is refused."""

import contextlib
import json
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pyproj import Geod

from openacorn.core.geo.geodesy import AreaError, Circle, Point, Points, destination
from openacorn.core.geo.territory import Area, Polygon, Territory, areas_of_geojson, checked_polygon, checked_territory
from openacorn.core.geo.tiles import Tile

SQUARE = ((160.0, -37.0), (161.0, -37.0), (161.0, -36.0), (160.0, -36.0))
HOLE = ((160.4, -36.6), (160.6, -36.6), (160.6, -36.4), (160.4, -36.4))
DATELINE = ((179.5, -17.0), (-179.5, -17.0), (-179.5, -16.0), (179.5, -16.0))

INSIDE = [
    ("the middle", (SQUARE,), Point(-36.5, 160.3), True),
    ("an edge", (SQUARE,), Point(-36.5, 160.0), True),
    ("a corner", (SQUARE,), Point(-37.0, 161.0), True),
    ("outside", (SQUARE,), Point(-36.5, 159.999), False),
    ("a hole", (SQUARE, HOLE), Point(-36.5, 160.5), False),
    ("a hole's edge", (SQUARE, HOLE), Point(-36.5, 160.4), True),
    ("across the antimeridian, west", (DATELINE,), Point(-16.5, 179.9), True),
    ("across the antimeridian, east", (DATELINE,), Point(-16.5, -179.9), True),
    ("the other side of the world", (DATELINE,), Point(-16.5, 0.0), False),
]


@pytest.mark.parametrize(("rings", "point", "inside"), [case[1:] for case in INSIDE], ids=[case[0] for case in INSIDE])
def test_inside(rings: tuple[tuple[tuple[float, float], ...], ...], point: Point, inside: bool) -> None:
    assert Polygon(rings).contains(point) is inside


def test_an_area_is_that_of_the_reference_library() -> None:
    """pyproj's Geod is PROJ's own geodesic code."""
    geod = Geod(ellps="WGS84")
    square = abs(geod.polygon_area_perimeter(*zip(*SQUARE, strict=True))[0]) / 1e6
    hole = abs(geod.polygon_area_perimeter(*zip(*HOLE, strict=True))[0]) / 1e6
    assert Polygon((SQUARE,)).area_km2 == pytest.approx(square, rel=1e-9)
    assert Polygon((SQUARE, HOLE)).area_km2 == pytest.approx(square - hole, rel=1e-9)
    assert Polygon((DATELINE,)).area_km2 == pytest.approx(
        abs(geod.polygon_area_perimeter(*zip(*DATELINE, strict=True))[0]) / 1e6
    )


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000))
def test_every_tile_that_holds_a_place_of_the_territory_touches_it(seed: int) -> None:
    rng = random.Random(seed)
    west = rng.choice((160.0, 179.6))
    ring = tuple((west + rng.random(), -37 + rng.random()) for _ in range(3))
    try:
        polygon = checked_polygon([ring])
    except AreaError:
        return
    territory = Territory((Area("a", polygon), Area("b", Circle(Point(-36.2, west), 9000))))
    tiles = territory.roots()
    for _ in range(4):
        tiles = [quarter for tile in tiles for quarter in tile.quarters() if territory.touches(quarter)]
    for _ in range(40):
        point = Point(-37 + rng.random(), west + rng.random())
        if territory.contains(point.normal()):
            assert any(holds(tile, point) for tile in tiles)


@settings(max_examples=80, deadline=None)
@given(st.integers(0, 10_000))
def test_many_points_at_once_are_inside_as_one_by_one(seed: int) -> None:
    rng = random.Random(seed)
    west, south = rng.choice((160.0, 179.7, -180.0)), rng.choice((-84.0, -37.0, 0.0, 60.0))
    ring = tuple((west + rng.random(), south + rng.random()) for _ in range(4))
    circle = Circle(Point(south + 0.5, west + 0.2), rng.choice((500, 30_000, 200_000)))
    areas = [Area("a", circle)]
    with contextlib.suppress(AreaError):
        areas.append(Area("b", checked_polygon([ring])))
    territory = Territory(tuple(areas))
    points = [Point(south + rng.uniform(-1, 2), west + rng.uniform(-1, 2)).normal() for _ in range(60)]
    # on the edge and a metre to either side, where the sphere cannot tell
    points += [destination(circle.centre, rng.uniform(0, 360), circle.radius_m + off).normal() for off in (-1, 0, 1)]
    many = Points.of(np.array([p.lat for p in points]), np.array([p.lon for p in points]))
    assert territory.contains_many(many).tolist() == [territory.contains(points[at]) for at in many.order]
    assert not territory.contains_many(Points.of(np.array([np.nan, south + 0.5]), np.array([np.nan] * 2))).any()


def holds(tile: Tile, point: Point) -> bool:
    turn = 360 * round((tile.centre.lon - point.lon) / 360)
    return tile.south <= point.lat <= tile.north and tile.west <= point.lon + turn <= tile.east


def test_areas_far_apart_are_begun_one_by_one_and_near_ones_together() -> None:
    near = checked_territory(
        [{"lat": -37.0, "lon": 160.0, "radius_m": 5000}, {"lat": -37.05, "lon": 160.05, "radius_m": 5000}]
    )
    far = checked_territory(
        [{"lat": -37.0, "lon": 160.0, "radius_m": 5000}, {"lat": -36.0, "lon": 161.0, "radius_m": 5000}]
    )
    assert len(near.roots()) == 1
    assert len({tile.key for tile in far.roots()}) == 2
    assert far.area_km2 == pytest.approx(2 * 78.54, rel=1e-3)


@pytest.mark.parametrize(
    ("rings", "says"),
    [
        ([], "needs an outline"),
        ([[[0, 0], [1, 1]]], "at least three corners"),
        ([[[0, 0], [1, 1], [1, 0], [0, 1], [0, 0]]], "crosses itself"),
        ([[[0, 0], [1, 0], [2, 0]]], "no area|crosses"),
        ([[[0, 0], ["x", 1], [1, 0]]], "no .longitude, latitude"),
        ([[[0, 89], [1, 89], [1, 88]]], "longitude first"),
        ([[[-90, -60], [90, -60], [90, 60], [-90, 60]]], "more than can be swept"),
    ],
)
def test_what_is_no_polygon_is_refused_with_the_reason(rings: object, says: str) -> None:
    with pytest.raises(AreaError, match=says):
        checked_polygon(rings)


def test_geojson_gives_its_polygons_by_name() -> None:
    """RFC 7946, § 3.1.6 and § 3.1.7."""
    square = [list(map(list, SQUARE))]
    features = [
        {"type": "Feature", "properties": {"name": "Ward 1"}, "geometry": {"type": "Polygon", "coordinates": square}},
        {"type": "Feature", "properties": None, "geometry": {"type": "MultiPolygon", "coordinates": [square, square]}},
        {"type": "Feature", "properties": {}, "geometry": {"type": "Point", "coordinates": [160, -37]}},
    ]
    found = areas_of_geojson(json.loads(json.dumps({"type": "FeatureCollection", "features": features})), "wards")
    assert [area["name"] for area in found] == ["Ward 1", "wards", "wards"]
    with pytest.raises(AreaError, match="no polygon"):
        areas_of_geojson({"type": "Point", "coordinates": [160, -37]}, "x")
