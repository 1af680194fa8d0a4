"""The map's ground for one view: land and water, and as many towns' names as can be read beside each other."""

import sqlite3
from typing import Any

from openacorn.core.geo.ground import ground_within
from openacorn.core.geo.tiles import Tile
from openacorn.gather.store import places
from openacorn.gather.store.places import Place

CANDIDATES = 600
LABELS = 120
WIDE, HIGH = 18, 30
"""A name has so much of the view to itself, across and along; what is asked for is twice as wide as the screen."""


def _spread(towns: list[Place], view: Tile) -> list[Place]:
    """The largest towns whose names do not overlap."""
    wide, high = (view.east - view.west) / WIDE, (view.north - view.south) / HIGH
    kept: list[Place] = []
    for town in towns:
        if all(abs(town.lon - other.lon) > wide or abs(town.lat - other.lat) > high for other in kept):
            kept.append(town)
        if len(kept) == LABELS:
            break
    return kept


def ground_of(conn: sqlite3.Connection, view: Tile) -> dict[str, Any]:
    """GeoJSON (RFC 7946) of a view: outlines, and towns as points with name and residents."""
    towns = _spread(places.largest_towns(conn, view, CANDIDATES), view)
    points = [
        {
            "type": "Feature",
            "properties": {"kind": "town", "name": town.name, "residents": town.residents},
            "geometry": {"type": "Point", "coordinates": [town.lon, town.lat]},
        }
        for town in towns
    ]
    return {"type": "FeatureCollection", "features": [*ground_within(view), *points]}
