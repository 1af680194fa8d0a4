"""Businesses that were merged into another: copies in memory follow, and old addresses lead on."""

import sqlite3

from openacorn.db.changes import next_change
from openacorn.errors import NotFound

NOTE = "INSERT OR REPLACE INTO business_gone (id, changed, kept_as) VALUES (?, ?, ?)"
KEPT_AS = """
WITH RECURSIVE way (id, steps) AS (
  SELECT kept_as, 1 FROM business_gone WHERE id = ?
  UNION ALL SELECT kept_as, steps + 1 FROM way JOIN business_gone USING (id) WHERE steps < 100
)
SELECT business.id, business.name FROM way JOIN business USING (id) ORDER BY steps LIMIT 1
"""


def note_gone(conn: sqlite3.Connection, gone: int, keeper: int) -> None:
    """Note which business one goes on as."""
    conn.execute(NOTE, (gone, next_change(conn), keeper))


def gone_since(conn: sqlite3.Connection, number: int) -> list[int]:
    """Businesses taken away after a change."""
    return [int(row[0]) for row in conn.execute("SELECT id FROM business_gone WHERE changed > ?", (number,))]


def not_found(conn: sqlite3.Connection, business_id: int) -> NotFound:
    """Why there is no business of this number: it was merged into another, or never was."""
    kept = conn.execute(KEPT_AS, (business_id,)).fetchone()
    if kept is None:
        return NotFound(f"there is no business {business_id}")
    error = NotFound(f"business {business_id} was merged into another, {kept['name']}")
    error.remedy = f"open /businesses/{kept['id']} instead"
    return error
