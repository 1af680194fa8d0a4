"""What a call list holds, and which results were read back already."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import orjson

from openacorn.core.outreach.dialler import COLUMNS, USUAL

ADDRESSES = """
SELECT lower(value), business_id FROM contact WHERE kind = 'email'
UNION SELECT lower(email), id FROM business WHERE email != '' AND rejected = ''
UNION SELECT lower(address), business_id FROM message WHERE kind = 'email'
"""


@dataclass(frozen=True, slots=True)
class ReadBefore:
    """How a file of results was read. fields: what is read → its heading, "" for none; meanings: word → result; channel: by what
    the businesses were contacted."""

    fields: Mapping[str, str]
    meanings: Mapping[str, str]
    channel: str


def chosen_columns(conn: sqlite3.Connection) -> list[str]:
    """Columns of a call list, as chosen last."""
    row = conn.execute("SELECT columns FROM call_list").fetchone()
    return [name for name in orjson.loads(row[0]) if name in COLUMNS] if row else list(USUAL)


def choose_columns(conn: sqlite3.Connection, columns: list[str]) -> None:
    """Remember the columns of call lists."""
    conn.execute("INSERT OR REPLACE INTO call_list (id, columns) VALUES (1, ?)", (orjson.dumps(columns).decode(),))


def note_read(conn: sqlite3.Connection, business_id: int, at: str, result: str) -> bool:
    """Note that a result was read; False if it was before."""
    row = "INSERT OR IGNORE INTO call_result_read (business_id, at, result) VALUES (?, ?, ?)"
    return conn.execute(row, (business_id, at, result)).rowcount > 0


def find_by_numbers(conn: sqlite3.Connection) -> dict[str, int]:
    """Number (E.164) → its business; numbers of several businesses tell none."""
    found: dict[str, int] = {}
    for number, business in conn.execute("SELECT phone, id FROM business WHERE phone != '' AND rejected = ''"):
        found[number] = 0 if number in found else int(business)
    return {number: business for number, business in found.items() if business}


def find_by_emails(conn: sqlite3.Connection) -> dict[str, int]:
    """E-mail address → its business; addresses of several businesses tell none."""
    found: dict[str, int] = {}
    for address, business in conn.execute(ADDRESSES):
        found[address] = int(business) if found.get(address, int(business)) == int(business) else 0
    return {address: business for address, business in found.items() if business}


def remembered(conn: sqlite3.Connection, headings: Sequence[str]) -> ReadBefore | None:
    """How a file with these headings was read last, None for the first."""
    row = conn.execute(
        "SELECT fields, meanings, channel FROM result_file WHERE headings = ?", (_key(headings),)
    ).fetchone()
    return ReadBefore(orjson.loads(row["fields"]), orjson.loads(row["meanings"]), row["channel"]) if row else None


def remember(conn: sqlite3.Connection, headings: Sequence[str], read: ReadBefore, at: str) -> None:
    """Read files with these headings so from now on."""
    values = (
        _key(headings),
        orjson.dumps(read.fields).decode(),
        orjson.dumps(read.meanings).decode(),
        read.channel,
        at,
    )
    conn.execute(
        "INSERT OR REPLACE INTO result_file (headings, fields, meanings, channel, at) VALUES (?, ?, ?, ?, ?)", values
    )


def _key(headings: Sequence[str]) -> str:
    return orjson.dumps(sorted(headings)).decode()
