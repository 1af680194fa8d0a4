"""Shortlists and who is on them."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from openacorn.acting import acting_account, reading_as
from openacorn.business.store import shares
from openacorn.db.changes import touch
from openacorn.errors import NameTaken, NotFound


@dataclass(frozen=True, slots=True)
class Shortlist:
    """A hand-picked list. language: that its owners are written to in (ISO 639-1), "" goes by each of them.

    private: not for everybody.
    """

    id: int
    name: str
    created_at: str
    members: int
    language: str = ""
    private: bool = False


LIST = f"""
SELECT id, name, created_at, (SELECT count(*) FROM member WHERE shortlist_id = shortlist.id) AS members, language, private
FROM shortlist WHERE {shares.seen("shortlist")} ORDER BY id DESC
"""
MEMBER_IDS = """
SELECT business.id FROM member JOIN business ON business.id = business_id WHERE shortlist_id = ? ORDER BY value DESC, business.id
"""
ADD_MEMBER = """
INSERT INTO member (shortlist_id, business_id, added_at)
SELECT ?, id, ? FROM business WHERE id = ? ON CONFLICT DO NOTHING
"""


def list_shortlists(conn: sqlite3.Connection) -> list[Shortlist]:
    """All shortlists that the current user may see, newest first."""
    return [Shortlist(**{**dict(row), "private": bool(row["private"])}) for row in conn.execute(LIST, shares.reader())]


def list_named(conn: sqlite3.Connection, name: str) -> int | None:
    """The list of a name, whether or not the current user may see it."""
    row = conn.execute("SELECT id FROM shortlist WHERE name = ?", (name,)).fetchone()
    return int(row[0]) if row else None


def hidden_lists(conn: sqlite3.Connection) -> frozenset[str]:
    """Numbers of the lists that the current user may not see, as the grid has them."""
    if not reading_as():
        return frozenset()
    rows = conn.execute(f"SELECT id FROM shortlist WHERE NOT {shares.seen('shortlist')}", shares.reader())
    return frozenset(str(row[0]) for row in rows)


def add_shortlist(conn: sqlite3.Connection, name: str, at: str) -> int:
    """Make a shortlist; raises NameTaken."""
    try:
        insert = "INSERT INTO shortlist (name, created_at, made_by) VALUES (?, ?, ?) RETURNING id"
        row = conn.execute(insert, (name, at, acting_account() or None)).fetchone()
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
    shares.drop_sharing(conn, "shortlist", shortlist_id)
    touch(conn, members)


def must_exist(conn: sqlite3.Connection, shortlist_id: int) -> None:
    """Raise NotFound for a list that does not exist or that the current user may not see."""
    if not shares.may_see(conn, "shortlist", shortlist_id):
        raise NotFound(f"there is no shortlist {shortlist_id}")


def member_ids(conn: sqlite3.Connection, shortlist_id: int) -> list[int]:
    """Everybody on a list, the most valuable first. Raises NotFound for one that the current user may not see."""
    if reading_as():
        must_exist(conn, shortlist_id)
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
