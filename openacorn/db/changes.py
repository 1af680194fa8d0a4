"""The change number: grows with every write to businesses, so that copies in memory can ask for what is new."""

import sqlite3

NEXT = "UPDATE change_counter SET number = number + 1 RETURNING number"
NOW = "SELECT number FROM change_counter"
TOUCH = "UPDATE business SET changed = ? WHERE id IN (SELECT value FROM json_each(?))"


def next_change(conn: sqlite3.Connection) -> int:
    """Return a number larger than any before."""
    return int(conn.execute(NEXT).fetchone()[0])


def current_change(conn: sqlite3.Connection) -> int:
    """Return the largest number given so far."""
    return int(conn.execute(NOW).fetchone()[0])


def touch(conn: sqlite3.Connection, businesses: list[int]) -> None:
    """Mark businesses as changed although their own row is not (shortlists, runs)."""
    conn.execute(TOUCH, (next_change(conn), str(businesses)))


def copy_mark(conn: sqlite3.Connection) -> str:
    """The mark of the file that holds a copy of the table's columns; "" for none."""
    return str(conn.execute("SELECT copy FROM change_counter").fetchone()[0])


def set_copy_mark(conn: sqlite3.Connection, mark: str) -> None:
    """Have another file, or none, be the copy."""
    conn.execute("UPDATE change_counter SET copy = ?", (mark,))
