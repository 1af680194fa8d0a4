"""Shortlists and who is on them."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from openacorn.db.changes import touch
from openacorn.errors import NameTaken, NotFound


@dataclass(frozen=True, slots=True)
class Shortlist:
    """A hand-picked list. language: that its owners are written to in (ISO 639-1), "" goes by each of them."""

    id: int
    name: str
    created_at: str
    members: int
    language: str = ""


LIST = """
SELECT id, name, created_at, (SELECT count(*) FROM member WHERE shortlist_id = shortlist.id) AS members, language
FROM shortlist ORDER BY id DESC
"""
MEMBER_IDS = """
SELECT business.id FROM member JOIN business ON business.id = business_id WHERE shortlist_id = ? ORDER BY value DESC, business.id
"""
ADD_MEMBER = """
INSERT INTO member (shortlist_id, business_id, added_at)
SELECT ?, id, ? FROM business WHERE id = ? ON CONFLICT DO NOTHING
"""


def list_shortlists(conn: sqlite3.Connection) -> list[Shortlist]:
    """All shortlists, newest first."""
    return [Shortlist(**dict(row)) for row in conn.execute(LIST)]


def add_shortlist(conn: sqlite3.Connection, name: str, at: str) -> int:
    """Make a shortlist; raises NameTaken."""
    try:
        row = conn.execute("INSERT INTO shortlist (name, created_at) VALUES (?, ?) RETURNING id", (name, at)).fetchone()
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a shortlist named {name!r} already; choose another name") from None
    return int(row[0])


def rename_shortlist(conn: sqlite3.Connection, shortlist_id: int, name: str) -> None:
    """Give a list another name; raises NameTaken, NotFound."""
    must_exist(conn, shortlist_id)
    try:
        conn.execute("UPDATE shortlist SET name = ? WHERE id = ?", (name, shortlist_id))
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a shortlist named {name!r} already; choose another name") from None


def set_language(conn: sqlite3.Connection, shortlist_id: int, language: str) -> None:
    """Set the language that a list's owners are written to in; "" goes by each of them."""
    conn.execute("UPDATE shortlist SET language = ? WHERE id = ?", (language, shortlist_id))


def drop_shortlist(conn: sqlite3.Connection, shortlist_id: int) -> None:
    """Forget a list; what was done about its businesses stays. Raises NotFound."""
    must_exist(conn, shortlist_id)
    members = [
        int(row[0]) for row in conn.execute("SELECT business_id FROM member WHERE shortlist_id = ?", (shortlist_id,))
    ]
    conn.execute("DELETE FROM shortlist WHERE id = ?", (shortlist_id,))
    touch(conn, members)


def must_exist(conn: sqlite3.Connection, shortlist_id: int) -> None:
    """Raise NotFound for a list that there is not."""
    if conn.execute("SELECT 1 FROM shortlist WHERE id = ?", (shortlist_id,)).fetchone() is None:
        raise NotFound(f"there is no shortlist {shortlist_id}")


def member_ids(conn: sqlite3.Connection, shortlist_id: int) -> list[int]:
    """Everybody on a list, the most valuable first."""
    return [int(row[0]) for row in conn.execute(MEMBER_IDS, (shortlist_id,))]


def add_members(conn: sqlite3.Connection, shortlist_id: int, businesses: Iterable[int], at: str) -> int:
    """Put businesses on a list; return how many were new to it."""
    must_exist(conn, shortlist_id)
    wanted = list(businesses)
    added = sum(conn.execute(ADD_MEMBER, (shortlist_id, at, business)).rowcount for business in wanted)
    touch(conn, wanted)
    return added


def drop_members(conn: sqlite3.Connection, shortlist_id: int, businesses: Iterable[int]) -> None:
    """Take businesses off a list."""
    must_exist(conn, shortlist_id)
    wanted = list(businesses)
    conn.executemany(
        "DELETE FROM member WHERE shortlist_id = ? AND business_id = ?", ((shortlist_id, b) for b in wanted)
    )
    touch(conn, wanted)
