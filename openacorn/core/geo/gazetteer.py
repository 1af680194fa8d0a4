"""The gazetteer that ships: towns of 5,000 people and more, and the time at any spot."""

import gzip
import sys
from collections.abc import Iterator
from functools import cache
from importlib import resources

import numpy as np
import numpy.typing as npt

WORLD = "places.tsv.gz"
"""GeoNames, CC BY 4.0 (tools/extract_data.py)."""


def gazetteer() -> Iterator[list[str]]:
    """[name, country, latitude, longitude, residents, time zone] of each town."""
    packed = resources.files("openacorn").joinpath("data", WORLD).read_bytes()
    for line in gzip.decompress(packed).decode("utf-8").splitlines():
        yield line.split("\t")


def _on_sphere(lat: npt.ArrayLike, lon: npt.ArrayLike) -> npt.NDArray[np.float64]:
    """Degrees → points on a sphere of radius 1, (…, 3)."""
    north, east = np.radians(lat), np.radians(lon)
    return np.stack((np.cos(north) * np.cos(east), np.cos(north) * np.sin(east), np.sin(north)), axis=-1)


@cache
def _zones() -> tuple[npt.NDArray[np.float64], list[str]]:
    rows = list(gazetteer())
    points = _on_sphere([float(row[2]) for row in rows], [float(row[3]) for row in rows])
    return points, [sys.intern(row[5]) for row in rows]


def zone_at(lat: float, lon: float) -> str:
    """The time zone (IANA) of the nearest town: right except within some kilometres of a border of zones."""
    points, zones = _zones()
    return zones[int((points @ _on_sphere(lat, lon)).argmax())]
