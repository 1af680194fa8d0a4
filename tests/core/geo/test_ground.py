"""The shipped ground, against the outlines of countries that ship beside it and spots that everybody knows."""

import pytest
import shapely

from openacorn.core.geo.ground import ground_within
from openacorn.core.geo.tiles import Tile

SPOTS = [
    ("Hobart", -42.88, 147.33, "land"),
    ("the Tasman Sea", -38.5, 160.5, ""),
    ("Lake Victoria", -1.0, 33.0, "lake"),
    ("Kansas", 38.5, -98.0, "land"),
    ("the Gulf of Guinea", 0.0, 0.0, ""),
    ("Suva, near the antimeridian", -18.12, 178.44, "land"),
    ("Queen Maud Land", -78.0, 10.0, "land"),
]  # spots from memory


def kinds_at(lat: float, lon: float, degrees: float) -> set[str]:
    view = Tile(max(-90.0, lat - degrees), lon - degrees, min(90.0, lat + degrees), lon + degrees, "")
    spot = shapely.Point(lon, lat)
    shapes = [(f["properties"]["kind"], shapely.geometry.shape(f["geometry"])) for f in ground_within(view)]
    return {kind for kind, shape in shapes if kind != "state" and shape.contains(spot)}


@pytest.mark.parametrize("degrees", [0.05, 1.0, 20.0])
@pytest.mark.parametrize(("name", "lat", "lon", "kind"), SPOTS)
def test_what_is_land_is_land_at_every_scale(name: str, lat: float, lon: float, kind: str, degrees: float) -> None:
    found = kinds_at(lat, lon, degrees)
    assert kind in found if kind else not found, name


def test_a_view_is_cut_to_its_bounds_and_gets_no_more_corners_than_it_can_show() -> None:
    world = ground_within(Tile(-60.0, -180.0, 80.0, 180.0, ""))
    corners = sum(shapely.get_num_coordinates(shapely.geometry.shape(f["geometry"])) for f in world)
    assert 5_000 < corners < 60_000
    view = Tile(51.0, -3.0, 52.0, -1.0, "")
    for feature in ground_within(view):
        west, south, east, north = shapely.geometry.shape(feature["geometry"]).bounds
        assert view.west - 1e-6 <= west <= east <= view.east + 1e-6
        assert view.south - 1e-6 <= south <= north <= view.north + 1e-6


def test_states_are_parted_by_lines_and_not_drawn_along_the_coast() -> None:
    lines = [f for f in ground_within(Tile(-39.0, 140.0, -33.0, 151.0, "")) if f["properties"]["kind"] == "state"]
    assert lines
    assert {f["geometry"]["type"] for f in lines} <= {"LineString", "MultiLineString"}
