"""The gazetteer."""

import sqlite3
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from openacorn.core.geo.gazetteer import gazetteer
from openacorn.core.geo.tiles import Tile


@dataclass(frozen=True, slots=True)
class Place:
    """A named place; `residents` 0 where it is part of another place."""

    name: str
    within: str
    kind: str
    lat: float
    lon: float
    residents: int
    radius_km: float


TOWN_RADIUS_KM = 1.0
"""Radius of a town of 5,000; it grows with the square root of the residents (common practice)."""

SEARCH = """
SELECT name, within, kind, lat, lon, residents, radius_km FROM place WHERE name LIKE ? ESCAPE '\\'
ORDER BY within = ? DESC, name LIKE ? ESCAPE '\\' DESC, residents DESC, name LIMIT ?
"""
INSERT = """
INSERT INTO place (name, within, kind, lat, lon, residents, radius_km)
VALUES (:name, :within, :kind, :lat, :lon, :residents, :radius_km)
"""


def search_places(conn: sqlite3.Connection, text: str, limit: int, country: str = "") -> list[Place]:
    """Places whose name holds `text`, those that begin with it first, larger ones first.

    country: its name; places there come before all others.
    """
    quoted = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return [Place(**dict(row)) for row in conn.execute(SEARCH, (f"%{quoted}%", country, f"{quoted}%", limit))]


TOWNS = """
SELECT name, within, kind, lat, lon, residents, radius_km FROM place
WHERE residents > 0 AND lat BETWEEN ? AND ? AND (lon BETWEEN ? AND ? OR lon BETWEEN ? AND ?)
"""
TOWN_POINTS = "SELECT lat, lon, residents FROM place WHERE residents > 0 AND lat BETWEEN ? AND ?"
SUBURB = "SELECT name FROM place WHERE length(name) > 3 AND lat BETWEEN ? AND ? AND lon BETWEEN ? AND ?"


def towns(conn: sqlite3.Connection, within: Tile) -> list[Place]:
    """Every place with residents of its own in a rectangle, whose longitudes may run past ±180."""
    west, east = within.west, within.east
    turn = 360.0 if west < -180 else -360.0
    bounds = (within.south, within.north, west, east, west + turn, east + turn)
    return [Place(**dict(row)) for row in conn.execute(TOWNS, bounds)]


def town_points(conn: sqlite3.Connection, south: float, north: float) -> list[tuple[float, float, int]]:
    """(lat, lon, residents) of every place with residents of its own between two latitudes."""
    return [tuple(row) for row in conn.execute(TOWN_POINTS, (south, north))]


LARGEST = """
SELECT name, within, kind, lat, lon, residents, radius_km FROM place
WHERE residents > 0 AND lat BETWEEN ? AND ? AND (lon BETWEEN ? AND ? OR lon BETWEEN ? AND ?)
ORDER BY residents DESC LIMIT ?
"""


def largest_towns(conn: sqlite3.Connection, within: Tile, most: int) -> list[Place]:
    """The largest places in a rectangle, whose longitudes may run past ±180."""
    turn = 360.0 if within.west < -180 else -360.0
    bounds = (within.south, within.north, within.west, within.east, within.west + turn, within.east + turn)
    return [Place(**dict(row)) for row in conn.execute(LARGEST, (*bounds, most))]


def names_near(conn: sqlite3.Connection, lat: float, lon: float, degrees: float = 5.0) -> list[str]:
    """Names of places around a spot."""
    bounds = (lat - degrees, lat + degrees, lon - degrees, lon + degrees)
    return [str(row[0]) for row in conn.execute(SUBURB, bounds)]


def world_places() -> Iterator[dict[str, Any]]:
    """The gazetteer that ships with the product."""
    for name, country, lat, lon, residents, _ in gazetteer():
        yield {
            "name": name, "within": country, "kind": "town", "lat": float(lat), "lon": float(lon), "residents": int(residents),
            "radius_km": round(min(30.0, TOWN_RADIUS_KM * (int(residents) / 5000) ** 0.5), 1),
        }  # fmt: skip


def fill_if_empty(conn: sqlite3.Connection) -> None:
    """Put the world's towns into a store that has none."""
    if conn.execute("SELECT 1 FROM place LIMIT 1").fetchone() is None:
        conn.executemany(INSERT, world_places())


NAMED = """
SELECT name, within, kind, lat, lon, residents, radius_km FROM place WHERE name = ? COLLATE NOCASE
ORDER BY residents DESC LIMIT 1
"""


def place_named(conn: sqlite3.Connection, name: str) -> Place | None:
    """The largest place of exactly this name, whatever its case; postcodes are places too."""
    row = conn.execute(NAMED, (name,)).fetchone()
    return Place(**dict(row)) if row is not None else None


def replace_places(conn: sqlite3.Connection, places: Iterable[Mapping[str, Any]]) -> None:
    """Set the gazetteer."""
    conn.execute("DELETE FROM place")
    conn.executemany(INSERT, places)
