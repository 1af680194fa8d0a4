"""Angles that the agency saved."""

import sqlite3

import orjson

from openacorn.core.desk.angle import Angle
from openacorn.errors import NameTaken, NotFound

LIST = "SELECT id, name, service, line, filter FROM angle ORDER BY name"
ADD = "INSERT INTO angle (name, service, line, filter, made_at) VALUES (?, ?, ?, ?, ?) RETURNING id"


def own_angles(conn: sqlite3.Connection) -> list[Angle]:
    """The agency's own, by name; ids "own:1" and so on."""
    return [
        Angle(f"own:{row['id']}", row["name"], row["service"], row["line"], orjson.loads(row["filter"]))
        for row in conn.execute(LIST)
    ]


def add_angle(conn: sqlite3.Connection, angle: Angle, at: str) -> int:
    """Keep an angle; return its number. Raises NameTaken."""
    try:
        values = (angle.name, angle.service, angle.line, orjson.dumps(dict(angle.filter)).decode(), at)
        return int(conn.execute(ADD, values).fetchone()[0])
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is an angle named {angle.name!r} already; choose another name") from None


def drop_angle(conn: sqlite3.Connection, number: int) -> None:
    """Forget an angle. Raises NotFound."""
    if conn.execute("DELETE FROM angle WHERE id = ?", (number,)).rowcount == 0:
        raise NotFound(f"there is no angle own:{number}")
