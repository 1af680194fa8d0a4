"""Clients & do-not-contact: clients, people in conversation, people who refused."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from openacorn.core.match.relationship import Identifier
from openacorn.db.changes import next_change

ADD = """
INSERT INTO relationship (kind, identifier_type, value, shown, at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (identifier_type, value) DO UPDATE SET kind = excluded.kind, shown = excluded.shown, at = excluded.at
"""
LIST = "SELECT id, kind, identifier_type, value, shown, at FROM relationship ORDER BY at DESC, id DESC LIMIT ?"
KNOWN = "SELECT identifier_type, value, kind FROM relationship"
COUNT = "SELECT kind, count(*) FROM relationship GROUP BY kind"
SET = "UPDATE business SET relationship = ?, changed = ? WHERE id = ? AND relationship != ?"


@dataclass(frozen=True, slots=True)
class Relationship:
    """One entry. `shown`: as the user wrote it."""

    id: int
    kind: str
    identifier_type: str
    value: str
    shown: str
    at: str


def insert_relationships(
    conn: sqlite3.Connection, kind: str, identifiers: Iterable[tuple[Identifier, str]], at: str
) -> int:
    """Keep identifiers (with how they were written) under a relationship; return how many."""
    rows = [(kind, identifier.identifier_type, identifier.value, shown, at) for identifier, shown in identifiers]
    conn.executemany(ADD, rows)
    return len(rows)


def delete_relationship(conn: sqlite3.Connection, relationship_id: int) -> bool:
    """Forget an entry; False if there is none of that id."""
    return conn.execute("DELETE FROM relationship WHERE id = ?", (relationship_id,)).rowcount > 0


def list_relationships(conn: sqlite3.Connection, limit: int) -> tuple[list[Relationship], dict[str, int]]:
    """(the newest entries, how many there are of each kind)."""
    found = [Relationship(**dict(row)) for row in conn.execute(LIST, (limit,))]
    return found, {str(kind): int(count) for kind, count in conn.execute(COUNT)}


def known_relationships(conn: sqlite3.Connection) -> dict[tuple[str, str], str]:
    """(identifier_type, value) → kind."""
    return {(str(by), str(value)): str(kind) for by, value, kind in conn.execute(KNOWN)}


def set_relationship(conn: sqlite3.Connection, business_id: int, relationship: str) -> bool:
    """Write a business's relationship; True if it changed."""
    return conn.execute(SET, (relationship, next_change(conn), business_id, relationship)).rowcount > 0


def restore_relationships(conn: sqlite3.Connection, before: Iterable[tuple[str, str, str, str]], at: str) -> None:
    """Set entries back to the kind they had: (identifier_type, value, kind or "" for none, as written)."""
    for identifier_type, value, kind, shown in before:
        if kind:
            conn.execute(ADD, (kind, identifier_type, value, shown, at))
        else:
            conn.execute("DELETE FROM relationship WHERE identifier_type = ? AND value = ?", (identifier_type, value))
