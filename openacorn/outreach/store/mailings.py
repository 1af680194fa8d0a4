"""Mailings that went out, row by row."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.errors import NotFound

ADD = "INSERT INTO mailing (at, by, shortlist_id, sent, left_out, rows) VALUES (?, ?, ?, ?, ?, ?) RETURNING id"
ADDRESSES = """
SELECT DISTINCT lower(json_extract(value, '$.email')) FROM mailing, json_each(rows)
WHERE at >= ? AND json_extract(value, '$.reason') = ''
"""
OF = "SELECT id, at, by, sent, left_out FROM mailing WHERE shortlist_id = ? ORDER BY id DESC"


@dataclass(frozen=True, slots=True)
class MailingLine:
    """A mailing: when, who sent it, to how many, how many of the list were left out."""

    id: int
    at: str
    by: str
    sent: int
    left_out: int


def insert_mailing(
    conn: sqlite3.Connection, at: str, by: str, shortlist_id: int, rows: Sequence[Mapping[str, Any]], sent: int
) -> int:
    """Remember a mailing; return its number."""
    body = orjson.dumps(list(rows)).decode()
    return int(conn.execute(ADD, (at, by, shortlist_id, sent, len(rows) - sent, body)).fetchone()[0])


def list_mailings(conn: sqlite3.Connection, shortlist_id: int) -> list[MailingLine]:
    """Mailings made of a shortlist, the latest first."""
    return [MailingLine(**dict(row)) for row in conn.execute(OF, (shortlist_id,))]


def get_rows(conn: sqlite3.Connection, number: int) -> list[dict[str, Any]]:
    """The rows of a mailing as they went out, those left out among them. Raises NotFound."""
    row = conn.execute("SELECT rows FROM mailing WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no mailing {number}")
    found: list[dict[str, Any]] = orjson.loads(row["rows"])
    return found


def addresses_since(conn: sqlite3.Connection, since: str) -> set[str]:
    """Addresses, in lower case, that a mailing went to since a moment (ISO 8601)."""
    return {str(row[0]) for row in conn.execute(ADDRESSES, (since,))}


def delete_mailing(conn: sqlite3.Connection, number: int) -> None:
    """Forget a mailing that never went out."""
    conn.execute("DELETE FROM mailing WHERE id = ?", (number,))
