"""Territories: circles and polygons, one or several together. Longitudes may run past ±180 inside a computation."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
import shapely
from geographiclib.geodesic import Geodesic
from shapely.geometry import Polygon as Shape
from shapely.geometry import box

from openacorn.core.geo.geodesy import AreaError, Circle, Mask, Point, Points, checked_circle
from openacorn.core.geo.tiles import Tile, bounding_tile

Ring = tuple[tuple[float, float], ...]
MAX_CORNERS, MAX_AREAS, MAX_KM2 = 20_000, 500, 2_000_000.0
MAX_POLE_LAT = 85.0


def _unrolled(ring: Sequence[Sequence[float]], near: float) -> list[tuple[float, float]]:
    """Corners with longitudes that run on instead of jumping at the antimeridian, the first one within 180° of `near`."""
    found: list[tuple[float, float]] = []
    for corner in ring:
        lon, lat = float(corner[0]), float(corner[1])
        lon += 360.0 * round((near - lon) / 360.0)
        found.append((lon, lat))
        near = lon
    return found


@lru_cache(maxsize=256)
def _shape(rings: tuple[Ring, ...]) -> Shape:
    outer = _unrolled(rings[0], rings[0][0][0])
    shape = Shape(outer, [_unrolled(ring, outer[0][0]) for ring in rings[1:]])
    shapely.prepare(shape)
    return shape


@dataclass(frozen=True)
class Polygon:
    """An area by its rings of (longitude, latitude), the first the outline, the others holes, as in RFC 7946."""

    rings: tuple[Ring, ...]

    @cached_property
    def _middle(self) -> float:
        west, _, east, _ = _shape(self.rings).bounds
        return float(west + east) / 2

    def contains(self, point: Point) -> bool:
        """A point on the edge is inside, one in a hole is not."""
        lon = point.lon + 360.0 * round((self._middle - point.lon) / 360.0)
        return bool(_shape(self.rings).covers(shapely.Point(lon, point.lat)))

    def contains_many(self, points: Points, band: slice) -> Mask:
        """Which of the points of a band are inside; only those between its west and its east are looked at closely."""
        west, _, east, _ = _shape(self.rings).bounds
        lons = points.lons[band]
        turned = lons + 360.0 * np.round((self._middle - lons) / 360.0)
        inside = (turned >= west) & (turned <= east)
        near = shapely.points(turned[inside], points.lats[band][inside])
        inside[inside] = shapely.covers(_shape(self.rings), near)
        return inside

    def touches(self, tile: Tile) -> bool:
        """Have the tile and the area a point in common?"""
        shift = 360.0 * round((self._middle - (tile.west + tile.east) / 2) / 360.0)
        return bool(_shape(self.rings).intersects(box(tile.west + shift, tile.south, tile.east + shift, tile.north)))

    def bounds(self) -> Tile:
        """The tile that just holds it."""
        west, south, east, north = _shape(self.rings).bounds
        return Tile(float(south), float(west), float(north), float(east))

    @property
    def area_km2(self) -> float:
        """Area on the ellipsoid (Karney), holes taken off."""
        return max(0.0, _ring_km2(self.rings[0]) - sum(_ring_km2(ring) for ring in self.rings[1:]))


def _ring_km2(ring: Ring) -> float:
    outline = Geodesic.WGS84.Polygon()
    for lon, lat in ring:
        outline.AddPoint(lat, lon)
    return abs(float(outline.Compute()[2])) / 1e6


@dataclass(frozen=True)
class Area:
    """One named part of a territory."""

    name: str
    shape: Circle | Polygon

    def touches(self, tile: Tile) -> bool:
        """Have the tile and the area a point in common? Errs on the side of yes."""
        return tile.touches(self.shape) if isinstance(self.shape, Circle) else self.shape.touches(tile)

    @property
    def bounds(self) -> Tile:
        """The tile that just holds it."""
        return bounding_tile(self.shape) if isinstance(self.shape, Circle) else self.shape.bounds()


@dataclass(frozen=True)
class Territory:
    """Areas taken together; where they overlap, a place is in it once."""

    areas: tuple[Area, ...]

    def contains(self, point: Point) -> bool:
        """Is the point in one of the areas?"""
        return any(area.shape.contains(point) for area in self.areas)

    def contains_many(self, points: Points) -> Mask:
        """Which of many points are in one of the areas; in the points' own order, that of latitude."""
        found = np.zeros(len(points.lats), np.bool_)
        for area in self.areas:
            bounds = area.bounds
            band = points.between(bounds.south, bounds.north)
            found[band] |= area.shape.contains_many(points, band)
        return found

    def touches(self, tile: Tile) -> bool:
        """Could a point of the territory lie in this tile?"""
        return any(area.touches(tile) for area in self.areas)

    @property
    def bounds(self) -> Tile:
        """The tile that just holds all areas, on the side of the globe of the first."""
        tiles = [area.bounds for area in self.areas]
        middle = tiles[0].centre.lon
        spans = []
        for tile in tiles:
            shift = 360.0 * round((middle - tile.centre.lon) / 360.0)
            spans.append((tile.west + shift, tile.east + shift))
        return Tile(
            min(tile.south for tile in tiles), min(west for west, _ in spans),
            max(tile.north for tile in tiles), max(east for _, east in spans),
        )  # fmt: skip

    @property
    def centre(self) -> Point:
        """Middle of the bounds; where distances are measured from if the agency has no home."""
        return self.bounds.centre.normal()

    @property
    def area_km2(self) -> float:
        """Sum of the areas; what two share counts twice."""
        return sum(area.shape.area_km2 for area in self.areas)

    def roots(self) -> list[Tile]:
        """Tiles to begin with: one round everything if the areas lie together, else one round each."""
        whole = self.bounds
        parts = [area.bounds for area in self.areas]
        spread = (whole.north - whole.south) * (whole.east - whole.west)
        if spread <= APART * sum((tile.north - tile.south) * (tile.east - tile.west) for tile in parts):
            return [whole]
        return [Tile(t.south, t.west, t.north, t.east, f"{number}.") for number, t in enumerate(parts)]


APART = 4.0
"""Areas whose common bounds are more than this many times their own are asked for one by one."""


def _ring(raw: Any, what: str) -> Ring:
    if not isinstance(raw, Sequence) or len(raw) < 3:
        raise AreaError(f"{what} needs at least three corners")
    corners = []
    for corner in raw:
        try:
            lon, lat = float(corner[0]), float(corner[1])
        except (TypeError, ValueError, IndexError):
            raise AreaError(f"{what}: {corner!r} is no [longitude, latitude]") from None
        if not (math.isfinite(lon) and math.isfinite(lat) and abs(lat) <= MAX_POLE_LAT and abs(lon) <= 540):
            raise AreaError(
                f"{what}: latitude {lat:g}, longitude {lon:g} is outside what can be swept (RFC 7946 has longitude first)"
            )
        corners.append((lon, lat))
    return tuple(corners)


def checked_polygon(rings: Any) -> Polygon:
    """Return the polygon, or raise AreaError saying what is wrong with it."""
    if not isinstance(rings, Sequence) or not rings:
        raise AreaError("a polygon needs an outline")
    made = tuple(_ring(ring, "the outline" if number == 0 else f"hole {number}") for number, ring in enumerate(rings))
    if sum(len(ring) for ring in made) > MAX_CORNERS:
        raise AreaError(f"a polygon of more than {MAX_CORNERS:,} corners; simplify it")
    shape = _shape(made)
    if not shape.is_valid:
        raise AreaError(f"the outline crosses itself: {shapely.is_valid_reason(shape)}; move its corners")
    if shape.area == 0:
        raise AreaError("the outline has no area; draw it round something")
    polygon = Polygon(made)
    if polygon.area_km2 > MAX_KM2:
        raise AreaError(
            f"{polygon.area_km2:,.0f} km² is more than can be swept at once; choose at most {MAX_KM2:,.0f} km²"
        )
    return polygon


def checked_territory(areas: Sequence[Mapping[str, Any]]) -> Territory:
    """Return the territory of areas as plans keep them: {name, lat, lon, radius_m} or {name, rings}. Raises AreaError."""
    if not areas:
        raise AreaError("choose where: a place, a circle or an outline")
    if len(areas) > MAX_AREAS:
        raise AreaError(f"{len(areas):,} areas in one sweep; at most {MAX_AREAS} can be taken")
    made = []
    for number, area in enumerate(areas, 1):
        name = str(area.get("name") or f"area {number}")
        if area.get("rings") is not None:
            made.append(Area(name, checked_polygon(area["rings"])))
        elif None in (area.get("lat"), area.get("lon"), area.get("radius_m")):
            raise AreaError(f"area {number}: give a circle (lat, lon, radius_m) or rings")
        else:
            made.append(Area(name, checked_circle(float(area["lat"]), float(area["lon"]), float(area["radius_m"]))))
    return Territory(tuple(made))


def areas_of_geojson(value: Any, name: str) -> list[dict[str, Any]]:
    """Areas out of GeoJSON (RFC 7946): polygons and multipolygons, bare, in features or in collections. Raises AreaError."""
    found: list[dict[str, Any]] = []

    def visit(item: Any, called: str) -> None:
        kind = item.get("type") if isinstance(item, Mapping) else None
        if kind == "FeatureCollection":
            for feature in item.get("features") or ():
                visit(feature, called)
        elif kind == "Feature":
            properties = item.get("properties") or {}
            visit(item.get("geometry") or {}, str(properties.get("name") or called))
        elif kind == "GeometryCollection":
            for part in item.get("geometries") or ():
                visit(part, called)
        elif kind in {"Polygon", "MultiPolygon"}:
            many = item.get("coordinates") or [] if kind == "MultiPolygon" else [item.get("coordinates")]
            for rings in many:
                checked_polygon(rings)
                found.append({"name": called, "rings": rings})

    visit(value, name)
    if not found:
        raise AreaError("no polygon in this file: GeoJSON with Polygon or MultiPolygon is needed")
    return found
