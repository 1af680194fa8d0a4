"""Distances and positions on the WGS84 ellipsoid (Karney's algorithms, by geographiclib). Degrees and metres."""

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from geographiclib.geodesic import Geodesic

from openacorn.errors import InvalidInput

_WGS84 = Geodesic.WGS84
MIN_RADIUS_M, MAX_RADIUS_M = 100.0, 200_000.0
"""Smaller is within one street corner's pin noise, larger is a country: no agency's calls are there."""


SPHERE_M = 6_371_008.8
SPHERE_ERROR = 0.006
"""A distance on the mean sphere is off by no more than .56 % (flattening 1/298, meridian against equator)."""

ABOUT_ERROR = 5e-6
"""Relative error of `_about_m`, with room: 1.4e-6 was the largest of 6,000 up to 200 km."""

Numbers = npt.NDArray[np.float64]
Mask = npt.NDArray[np.bool_]


class AreaError(InvalidInput):
    """An area that cannot be searched; the message says what is wrong and what would do."""

    where = "territory"
    remedy = "change the area and try again; nothing you entered is lost"


@dataclass(frozen=True, slots=True)
class Point:
    """Latitude and longitude in degrees; longitude may run past ±180 inside a computation."""

    lat: float
    lon: float

    def normal(self) -> "Point":
        """Return the same point with its longitude in −180…180."""
        return Point(self.lat, (self.lon + 180.0) % 360.0 - 180.0)


def distance_m(a: Point, b: Point) -> float:
    """Return the geodesic distance in metres."""
    return float(_WGS84.Inverse(a.lat, a.lon, b.lat, b.lon, Geodesic.DISTANCE)["s12"])


def _on_sphere_m(a: Point, b: Point) -> float:
    """The distance on the mean sphere (haversine), off by SPHERE_ERROR at most."""
    lat_a, lat_b, lon = math.radians(a.lat), math.radians(b.lat), math.radians(b.lon - a.lon)
    half = math.sin((lat_b - lat_a) / 2) ** 2 + math.cos(lat_a) * math.cos(lat_b) * math.sin(lon / 2) ** 2
    return 2 * SPHERE_M * math.asin(math.sqrt(min(1.0, half)))


def destination(start: Point, bearing_deg: float, metres: float) -> Point:
    """Return the point reached from `start` (bearing clockwise from north)."""
    end = _WGS84.Direct(
        start.lat, start.lon, bearing_deg, metres, Geodesic.LATITUDE | Geodesic.LONGITUDE | Geodesic.LONG_UNROLL
    )
    return Point(float(end["lat2"]), float(end["lon2"]))


@dataclass(frozen=True, slots=True)
class Points:
    """Many places, in order of latitude, so that a territory can be asked for all of them at once."""

    lats: Numbers
    lons: Numbers
    order: npt.NDArray[np.intp]
    """Where each of them stood before they were put in order: `values[order]` puts what belongs to them in theirs."""
    directions: Numbers
    """Unit vectors from the middle of the mean sphere; shape: 3 × points."""

    @classmethod
    def of(cls, lats: Numbers, lons: Numbers) -> "Points":
        """Degrees; a place that is not a number is in no territory."""
        order = np.argsort(lats)
        lats, lons = lats[order], lons[order]
        return cls(lats, lons, order, _directions(np.radians(lats), np.radians(lons)))

    def between(self, south: float, north: float) -> slice:
        """Those in a band of latitude, its edges included."""
        return slice(int(np.searchsorted(self.lats, south)), int(np.searchsorted(self.lats, north, "right")))


def _directions(lats: Numbers, lons: Numbers) -> Numbers:
    """Unit vectors of radians; shape: 3 × points."""
    flat = np.cos(lats)
    return np.stack((flat * np.cos(lons), flat * np.sin(lons), np.sin(lats)))


def _half_chord(lat: float, lon: float, lats: Numbers, lons: Numbers) -> Numbers:
    """Square of half the chord on the unit sphere (haversine), of radians: grows with the distance."""
    found: Numbers = np.sin((lats - lat) / 2) ** 2 + math.cos(lat) * np.cos(lats) * np.sin((lons - lon) / 2) ** 2
    return found


def _about_m(start: Point, lats: Numbers, lons: Numbers) -> Numbers:
    """Distances in metres by Lambert's formula (Andoyer's correction of the sphere for the flattening)."""
    f = _WGS84.f
    here, there = math.atan((1 - f) * math.tan(math.radians(start.lat))), np.arctan((1 - f) * np.tan(np.radians(lats)))
    half = _half_chord(here, math.radians(start.lon), there, np.radians(lons))
    angle = 2 * np.arcsin(np.sqrt(np.clip(half, 1e-18, 1)))
    middle, apart = (here + there) / 2, (there - here) / 2
    x = (angle - np.sin(angle)) * (np.sin(middle) * np.cos(apart)) ** 2 / np.cos(angle / 2) ** 2
    y = (angle + np.sin(angle)) * (np.cos(middle) * np.sin(apart)) ** 2 / np.sin(angle / 2) ** 2
    found: Numbers = _WGS84.a * (angle - f / 2 * (x + y))
    return found


@dataclass(frozen=True, slots=True)
class Circle:
    """A territory given by its centre and radius in metres."""

    centre: Point
    radius_m: float

    def contains(self, point: Point) -> bool:
        """A point on the edge is inside. The sphere decides where it can, which is a hundred times as fast."""
        about = _on_sphere_m(self.centre, point)
        if abs(about - self.radius_m) > SPHERE_ERROR * max(about, self.radius_m):
            return about < self.radius_m
        return distance_m(self.centre, point) <= self.radius_m

    def contains_many(self, points: Points, band: slice) -> Mask:
        """Which of the points of a band are inside. Exactly as `contains`, which alone decides near the edge."""
        lats, lons = points.lats[band], points.lons[band]
        here = _directions(np.radians([self.centre.lat]), np.radians([self.centre.lon]))
        # the cosine of the angle between them: what it loses of a small angle is far less than the ring looked at below
        cosine = here[:, 0] @ points.directions[:, band]
        inner, outer = (
            math.cos(min(self.radius_m * (1 + off) / SPHERE_M, math.pi)) for off in (-SPHERE_ERROR, SPHERE_ERROR)
        )
        inside: Mask = cosine >= inner
        near = np.flatnonzero((cosine >= outer) & ~inside)
        far = _about_m(self.centre, lats[near], lons[near])
        inside[near] = far <= self.radius_m
        slack = self.radius_m * ABOUT_ERROR + 0.1
        for at in near[np.abs(far - self.radius_m) <= slack]:
            inside[at] = self.contains(Point(float(lats[at]), float(lons[at])))
        return inside

    @property
    def area_km2(self) -> float:
        """Area of the disc; on the ellipsoid the flat formula is within .01 % below 200 km."""
        return 3.141592653589793 * (self.radius_m / 1000) ** 2


def checked_circle(lat: float, lon: float, radius_m: float) -> Circle:
    """Return the circle, or raise AreaError naming the field that is wrong and its limits."""
    if not -90 <= lat <= 90:
        raise AreaError(f"latitude {lat:g} is outside −90 … 90")
    if not -180 <= lon <= 180:
        raise AreaError(f"longitude {lon:g} is outside −180 … 180")
    if not MIN_RADIUS_M <= radius_m <= MAX_RADIUS_M:
        low, high = MIN_RADIUS_M / 1000, MAX_RADIUS_M / 1000
        raise AreaError(f"a radius of {radius_m / 1000:g} km cannot be swept; choose {low:g} to {high:g} km")
    if abs(lat) > 85:
        raise AreaError("areas within 5° of a pole cannot be swept")
    return Circle(Point(lat, lon), radius_m)
