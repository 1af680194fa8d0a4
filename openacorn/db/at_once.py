"""Many rows by one step of SQLite.

Python lets go of its lock at every step and gets it back only after the thread beside it: while a run goes on, a hundred
rows read one by one take a hundred turns, and read at once they take one.
"""

import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

import orjson


def rows_at_once(
    conn: sqlite3.Connection, columns: str, source: str, params: Sequence[Any] | Mapping[str, Any]
) -> list[list[Any]]:
    """The columns of every row of a table with its WHERE, or of a query in brackets.

    No BLOBs; real numbers to 15 digits (SQLite's JSON functions).
    """
    found = conn.execute(f"SELECT json_group_array(json_array({columns})) FROM {source}", params)
    rows: list[list[Any]] = orjson.loads(found.fetchone()[0])
    return rows
