"""What was done at the desk, with what it takes to undo it."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.acting import acting
from openacorn.errors import NotFound

ADD = "INSERT INTO deed (at, text, undo, by) VALUES (?, ?, ?, ?) RETURNING id"
GET = "SELECT id, at, by, text, undo, undone FROM deed WHERE id = ?"
LATEST = "SELECT id, at, by, text, undo, undone FROM deed ORDER BY id DESC LIMIT ?"


@dataclass(frozen=True, slots=True)
class Action:
    """Something that was done. by: "" without accounts; undo: what it takes to take it back."""

    id: int
    at: str
    by: str
    text: str
    undo: Mapping[str, Any]
    undone: bool


def _action(row: sqlite3.Row) -> Action:
    return Action(row["id"], row["at"], row["by"], row["text"], orjson.loads(row["undo"]), bool(row["undone"]))


def insert_action(conn: sqlite3.Connection, at: str, text: str, undo: Mapping[str, Any]) -> int:
    """Note what was done and who did it; return its number."""
    return int(conn.execute(ADD, (at, text, orjson.dumps(dict(undo)).decode(), acting())).fetchone()[0])


def get_action(conn: sqlite3.Connection, number: int) -> Action:
    """One action. Raises NotFound."""
    row = conn.execute(GET, (number,)).fetchone()
    if row is None:
        raise NotFound(f"nothing was done under number {number}")
    return _action(row)


def list_actions(conn: sqlite3.Connection, limit: int) -> list[Action]:
    """The latest actions, the last first."""
    return [_action(row) for row in conn.execute(LATEST, (limit,))]


def mark_undone(conn: sqlite3.Connection, number: int) -> None:
    """Note that an action was taken back."""
    conn.execute("UPDATE deed SET undone = 1 WHERE id = ?", (number,))
