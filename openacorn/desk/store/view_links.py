"""Links to a view of the table."""

import sqlite3
from dataclasses import dataclass

import orjson

from openacorn.errors import NotFound

FIELDS = "id, name, filter, columns, sort, by, account_id, made_at, expires_at, opened, opened_at"
ADD = """
INSERT INTO view_link (hash, name, filter, columns, sort, by, account_id, made_at, expires_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
MAKER_IS_THERE = "SELECT 1 FROM account WHERE id = ? AND active = 1"


@dataclass(frozen=True, slots=True)
class ViewLink:
    """filter: as in the screens' address; account_id: of its maker, 0 without accounts; opened: how often."""

    id: int
    name: str
    filter: dict[str, str]
    columns: tuple[str, ...]
    sort: str
    by: str
    account_id: int
    made_at: str
    expires_at: str
    opened: int = 0
    opened_at: str = ""


def _link(row: sqlite3.Row) -> ViewLink:
    parsed = {"filter": orjson.loads(row["filter"]), "columns": tuple(orjson.loads(row["columns"]))}
    return ViewLink(**{**dict(row), **parsed})


def insert_view_link(conn: sqlite3.Connection, hashed: str, link: ViewLink) -> None:
    """Keep a link under the hash of what it shows."""
    stored = (orjson.dumps(link.filter).decode(), orjson.dumps(link.columns).decode())
    conn.execute(ADD, (hashed, link.name, *stored, link.sort, link.by, link.account_id, link.made_at, link.expires_at))


def list_view_links(conn: sqlite3.Connection, at: str) -> list[ViewLink]:
    """The links that are good still, the newest first."""
    query = f"SELECT {FIELDS} FROM view_link WHERE expires_at > ? ORDER BY id DESC"
    return [_link(row) for row in conn.execute(query, (at,))]


def find_view_link(conn: sqlite3.Connection, hashed: str, at: str) -> ViewLink | None:
    """The link behind a key, if it is good still and its maker may still sign in."""
    row = conn.execute(f"SELECT {FIELDS} FROM view_link WHERE hash = ? AND expires_at > ?", (hashed, at)).fetchone()
    if row is None or (row["account_id"] and conn.execute(MAKER_IS_THERE, (row["account_id"],)).fetchone() is None):
        return None
    return _link(row)


def note_opened(conn: sqlite3.Connection, number: int, at: str) -> None:
    """Count that a link was opened."""
    conn.execute("UPDATE view_link SET opened = opened + 1, opened_at = ? WHERE id = ?", (at, number))


def delete_view_link(conn: sqlite3.Connection, number: int) -> None:
    """End a link. Raises NotFound."""
    if conn.execute("DELETE FROM view_link WHERE id = ?", (number,)).rowcount == 0:
        raise NotFound(f"there is no link {number}")
