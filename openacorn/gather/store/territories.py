"""Territories kept for later sweeps."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.errors import NameTaken, NotFound


@dataclass(frozen=True, slots=True)
class SavedTerritory:
    """Areas under a name."""

    id: int
    name: str
    areas: tuple[dict[str, Any], ...]


def list_territories(conn: sqlite3.Connection) -> list[SavedTerritory]:
    """All kept territories by name."""
    found = conn.execute("SELECT id, name, areas FROM territory ORDER BY name COLLATE NOCASE")
    return [SavedTerritory(row["id"], row["name"], tuple(orjson.loads(row["areas"]))) for row in found]


def add_territory(conn: sqlite3.Connection, name: str, areas: Sequence[dict[str, Any]], at: str) -> int:
    """Keep areas under a name; return the id. Raises NameTaken."""
    try:
        row = conn.execute(
            "INSERT INTO territory (name, areas, made_at) VALUES (?, ?, ?) RETURNING id",
            (name, orjson.dumps(list(areas)).decode(), at),
        ).fetchone()
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a territory called {name!r} already; choose another name") from None
    return int(row[0])


def drop_territory(conn: sqlite3.Connection, territory_id: int) -> None:
    """Forget a territory; sweeps that used it keep their areas. Raises NotFound."""
    if conn.execute("DELETE FROM territory WHERE id = ?", (territory_id,)).rowcount == 0:
        raise NotFound(f"there is no territory {territory_id}")
