"""Regions whose boundary is shipped or was imported."""

import gzip
import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from importlib import resources
from typing import Any

import orjson

from openacorn.errors import NotFound

WORLD = "regions.json.gz"
"""Countries (Natural Earth, public domain; tools/extract_data.py)."""

INSERT = "INSERT OR REPLACE INTO region (name, within, lat, lon, parts) VALUES (?, ?, ?, ?, ?)"
SEARCH = """
SELECT id, name, within, lat, lon FROM region WHERE name LIKE ? ESCAPE '\\'
ORDER BY name LIKE ? ESCAPE '\\' DESC, length(name), name LIMIT ?
"""


@dataclass(frozen=True, slots=True)
class Region:
    """A region; `lat`, `lon` a spot in its middle."""

    id: int
    name: str
    within: str
    lat: float
    lon: float


def _middle(parts: list[list[list[list[float]]]]) -> tuple[float, float]:
    """Of the bounds of the part with the most corners."""
    ring = max(parts, key=lambda rings: len(rings[0]))[0]
    lons, lats = [corner[0] for corner in ring], [corner[1] for corner in ring]
    return (min(lats) + max(lats)) / 2, (min(lons) + max(lons)) / 2


def add_regions(conn: sqlite3.Connection, regions: Iterable[Mapping[str, Any]]) -> None:
    """Keep regions, each {name, within, parts}; one of the same name and place is replaced."""
    conn.executemany(
        INSERT,
        (
            (region["name"], region["within"], *_middle(region["parts"]), orjson.dumps(region["parts"]).decode())
            for region in regions
        ),
    )


def world_regions() -> list[dict[str, Any]]:
    """The regions that ship with the product."""
    packed = resources.files("openacorn").joinpath("data", WORLD).read_bytes()
    found: list[dict[str, Any]] = orjson.loads(gzip.decompress(packed))
    return found


def fill_if_empty(conn: sqlite3.Connection) -> None:
    """Put the shipped regions into a store that has none."""
    if conn.execute("SELECT 1 FROM region LIMIT 1").fetchone() is None:
        add_regions(conn, world_regions())


def search_regions(conn: sqlite3.Connection, text: str, limit: int) -> list[Region]:
    """Regions whose name holds `text`, those that begin with it first."""
    quoted = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return [Region(**dict(row)) for row in conn.execute(SEARCH, (f"%{quoted}%", f"{quoted}%", limit))]


def areas_of_region(conn: sqlite3.Connection, region_id: int) -> list[dict[str, Any]]:
    """The region as areas of a plan: {name, rings} a part. Raises NotFound."""
    row = conn.execute("SELECT name, parts FROM region WHERE id = ?", (region_id,)).fetchone()
    if row is None:
        raise NotFound(f"there is no region {region_id}")
    return [{"name": row["name"], "rings": rings} for rings in orjson.loads(row["parts"])]
