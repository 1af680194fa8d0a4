"""Tiles: rectangles of latitude and longitude that cover a territory and split in four."""

import math
from dataclasses import dataclass
from functools import lru_cache

from openacorn.core.geo.geodesy import Circle, Point, destination, distance_m

ROUNDING_M = 1.0
"""Added to each covering circle, so that a corner is never lost to rounding."""


@dataclass(frozen=True, slots=True)
class Tile:
    """A rectangle in degrees. `key` names its place in the quadtree: "" is the root, each digit a quarter."""

    south: float
    west: float
    north: float
    east: float
    key: str = ""

    @property
    def centre(self) -> Point:
        return Point((self.south + self.north) / 2, (self.west + self.east) / 2)

    @property
    def side_m(self) -> float:
        """The longer of height and width through the centre, in metres."""
        middle = self.centre
        height = distance_m(Point(self.south, middle.lon), Point(self.north, middle.lon))
        width = distance_m(Point(middle.lat, self.west), Point(middle.lat, self.east))
        return max(height, width)

    def covering_circle(self) -> Circle:
        """The smallest circle about the centre that holds all four corners."""
        middle = self.centre
        corners = [Point(lat, lon) for lat in (self.south, self.north) for lon in (self.west, self.east)]
        return Circle(middle.normal(), max(distance_m(middle, corner) for corner in corners) + ROUNDING_M)

    def quarters(self) -> tuple["Tile", "Tile", "Tile", "Tile"]:
        """South-west, south-east, north-west, north-east."""
        lat, lon = self.centre.lat, self.centre.lon
        return (
            Tile(self.south, self.west, lat, lon, self.key + "0"),
            Tile(self.south, lon, lat, self.east, self.key + "1"),
            Tile(lat, self.west, self.north, lon, self.key + "2"),
            Tile(lat, lon, self.north, self.east, self.key + "3"),
        )

    def touches(self, circle: Circle) -> bool:
        """Could a point of `circle` lie in this tile? Errs on the side of yes."""
        lon = circle.centre.lon
        middle = self.centre.lon
        lon += 360.0 * round((middle - lon) / 360.0)
        nearest = Point(min(max(circle.centre.lat, self.south), self.north), min(max(lon, self.west), self.east))
        # clamping is exact on the plane; the margin covers the bend of meridians over a tile
        return distance_m(Point(circle.centre.lat, lon), nearest) <= circle.radius_m * 1.01 + ROUNDING_M


@lru_cache(maxsize=4096)  # an estimate asks for every area that was ever swept
def bounding_tile(circle: Circle) -> Tile:
    """Return the tile that just holds `circle`. Its longitudes may run past ±180 at the antimeridian."""
    centre, radius = circle.centre, circle.radius_m
    north = destination(centre, 0, radius).lat
    south = destination(centre, 180, radius).lat
    # the widest longitude of a circle lies poleward of its centre: asin(sin r / cos lat), plus a margin for the ellipsoid
    half = math.degrees(math.asin(min(1.0, math.sin(radius / 6_371_000) / math.cos(math.radians(centre.lat))))) * 1.004
    return Tile(south, centre.lon - half, north, centre.lon + half)
