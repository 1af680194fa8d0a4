"""Territories kept for later sweeps."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.acting import acting_account
from openacorn.business.store import shares
from openacorn.errors import NameTaken, NotFound


@dataclass(frozen=True, slots=True)
class SavedTerritory:
    """Areas under a name."""

    id: int
    name: str
    areas: tuple[dict[str, Any], ...]
    private: bool = False


def list_territories(conn: sqlite3.Connection) -> list[SavedTerritory]:
    """All kept territories that the current user may see, by name."""
    query = (
        f"SELECT id, name, areas, private FROM territory WHERE {shares.seen('territory')} ORDER BY name COLLATE NOCASE"
    )
    return [
        SavedTerritory(row["id"], row["name"], tuple(orjson.loads(row["areas"])), bool(row["private"]))
        for row in conn.execute(query, shares.reader())
    ]


def add_territory(conn: sqlite3.Connection, name: str, areas: Sequence[dict[str, Any]], at: str) -> int:
    """Keep areas under a name; return the id. Raises NameTaken."""
    try:
        row = conn.execute(
            "INSERT INTO territory (name, areas, made_at, made_by) VALUES (?, ?, ?, ?) RETURNING id",
            (name, orjson.dumps(list(areas)).decode(), at, acting_account() or None),
        ).fetchone()
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a territory called {name!r} already; choose another name") from None
    return int(row[0])


def drop_territory(conn: sqlite3.Connection, territory_id: int) -> None:
    """Forget a territory; sweeps that used it keep their areas. Raises NotFound."""
    must_exist(conn, territory_id)
    conn.execute("DELETE FROM territory WHERE id = ?", (territory_id,))
    shares.drop_sharing(conn, "territory", territory_id)


def must_exist(conn: sqlite3.Connection, territory_id: int) -> None:
    """Raise NotFound for a territory that does not exist or that the current user may not see."""
    if not shares.may_see(conn, "territory", territory_id):
        raise NotFound(f"there is no territory {territory_id}")
