"""The gazetteer."""

import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any


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


SEARCH = """
SELECT name, within, kind, lat, lon, residents, radius_km FROM place WHERE name LIKE ? ESCAPE '\\'
ORDER BY name LIKE ? ESCAPE '\\' DESC, residents DESC, name LIMIT ?
"""
INSERT = """
INSERT INTO place (name, within, kind, lat, lon, residents, radius_km)
VALUES (:name, :within, :kind, :lat, :lon, :residents, :radius_km)
"""


def search_places(conn: sqlite3.Connection, text: str, limit: int) -> list[Place]:
    """Places whose name holds `text`, those that begin with it first, larger ones first."""
    quoted = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return [Place(**dict(row)) for row in conn.execute(SEARCH, (f"%{quoted}%", f"{quoted}%", limit))]


def towns(conn: sqlite3.Connection) -> list[Place]:
    """Every place with residents of its own."""
    query = "SELECT name, within, kind, lat, lon, residents, radius_km FROM place WHERE residents > 0"
    return [Place(**dict(row)) for row in conn.execute(query)]


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
