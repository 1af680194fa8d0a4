"""Standing lists: clients, people in conversation, people who refused."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from openacorn.core.match.relationship import Identifier
from openacorn.db.changes import next_change

ADD = """
INSERT INTO standing (kind, known_by, value, shown, at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (known_by, value) DO UPDATE SET kind = excluded.kind, shown = excluded.shown, at = excluded.at
"""
LIST = "SELECT id, kind, known_by, value, shown, at FROM standing ORDER BY at DESC, id DESC LIMIT ?"
KNOWN = "SELECT known_by, value, kind FROM standing"
COUNT = "SELECT kind, count(*) FROM standing GROUP BY kind"
SET = "UPDATE business SET standing = ?, changed = ? WHERE id = ? AND standing != ?"


@dataclass(frozen=True, slots=True)
class Relationship:
    """One entry. `shown`: as the user wrote it."""

    id: int
    kind: str
    known_by: str
    value: str
    shown: str
    at: str


def insert_relationships(conn: sqlite3.Connection, kind: str, marks: Iterable[tuple[Identifier, str]], at: str) -> int:
    """Keep marks (with how they were written) under a standing; return how many."""
    rows = [(kind, mark.known_by, mark.value, shown, at) for mark, shown in marks]
    conn.executemany(ADD, rows)
    return len(rows)


def delete_relationship(conn: sqlite3.Connection, standing_id: int) -> bool:
    """Forget an entry; False if there is none of that id."""
    return conn.execute("DELETE FROM standing WHERE id = ?", (standing_id,)).rowcount > 0


def list_relationships(conn: sqlite3.Connection, limit: int) -> tuple[list[Relationship], dict[str, int]]:
    """(the newest entries, how many there are of each kind)."""
    found = [Relationship(**dict(row)) for row in conn.execute(LIST, (limit,))]
    return found, {str(kind): int(count) for kind, count in conn.execute(COUNT)}


def known_relationships(conn: sqlite3.Connection) -> dict[tuple[str, str], str]:
    """(known_by, value) → kind."""
    return {(str(by), str(value)): str(kind) for by, value, kind in conn.execute(KNOWN)}


def set_relationship(conn: sqlite3.Connection, business_id: int, standing: str) -> bool:
    """Write a business's standing; True if it changed."""
    return conn.execute(SET, (standing, next_change(conn), business_id, standing)).rowcount > 0


def restore_relationships(conn: sqlite3.Connection, before: Iterable[tuple[str, str, str, str]], at: str) -> None:
    """Set entries back to the kind they had: (known_by, value, kind or "" for none, as written)."""
    for known_by, value, kind, shown in before:
        if kind:
            conn.execute(ADD, (kind, known_by, value, shown, at))
        else:
            conn.execute("DELETE FROM standing WHERE known_by = ? AND value = ?", (known_by, value))
