"""What a call list holds, and which results were read back already."""

import sqlite3

import orjson

from openacorn.core.outreach.dialler import COLUMNS, USUAL


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
