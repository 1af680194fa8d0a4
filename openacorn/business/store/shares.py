"""Who sees lists and territories that are not for everybody: their makers, and those they are shared with."""

import sqlite3
from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

from openacorn.acting import reading_as

Kind = Literal["shortlist", "territory"]
SEEN = """
(:reader = 0 OR {table}.private = 0 OR {table}.made_by = :reader
  OR EXISTS (SELECT 1 FROM share WHERE share.kind = '{table}' AND thing = {table}.id AND account_id = :reader))
"""
"""Condition of a query on `table` that keeps what the reader (`:reader`) may see."""


@dataclass(frozen=True, slots=True)
class Sharing:
    """private: not for everybody; people: accounts it is shared with; made_by: an account, None where nobody was signed in."""

    private: bool
    people: tuple[int, ...]
    made_by: int | None


def seen(kind: Kind) -> str:
    """The condition for one table."""
    return SEEN.format(table=kind)


def reader() -> dict[str, int]:
    """What `seen` asks for: who reads."""
    return {"reader": reading_as()}


def may_see(conn: sqlite3.Connection, kind: Kind, thing: int) -> bool:
    """Is there one of this number that the reader may see?"""
    query = f"SELECT 1 FROM {kind} WHERE id = :thing AND {seen(kind)}"
    return conn.execute(query, {"thing": thing, **reader()}).fetchone() is not None


def get_sharing(conn: sqlite3.Connection, kind: Kind, thing: int) -> Sharing:
    """Who it is shared with."""
    row = conn.execute(f"SELECT private, made_by FROM {kind} WHERE id = ?", (thing,)).fetchone()
    people = conn.execute("SELECT account_id FROM share WHERE kind = ? AND thing = ? ORDER BY 1", (kind, thing))
    return Sharing(bool(row["private"]), tuple(int(one[0]) for one in people), row["made_by"])


def set_sharing(
    conn: sqlite3.Connection, kind: Kind, thing: int, people: Collection[int], made_by: int, *, private: bool
) -> None:
    """Say who sees it. made_by: whose it is if it was nobody's."""
    query = f"UPDATE {kind} SET private = ?, made_by = coalesce(made_by, ?) WHERE id = ?"
    conn.execute(query, (int(private), made_by or None, thing))
    conn.execute("DELETE FROM share WHERE kind = ? AND thing = ?", (kind, thing))
    add = "INSERT INTO share (kind, thing, account_id) SELECT ?, ?, id FROM account WHERE id = ?"
    conn.executemany(add, ((kind, thing, account) for account in people if private))


def drop_sharing(conn: sqlite3.Connection, kind: Kind, thing: int) -> None:
    """Forget it, with what it was about."""
    conn.execute("DELETE FROM share WHERE kind = ? AND thing = ?", (kind, thing))
