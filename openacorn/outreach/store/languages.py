"""Languages set by hand: for one business, or for everybody on a list."""

import sqlite3

SET = """
INSERT INTO owner_language (business_id, language) VALUES (?, ?) 
ON CONFLICT (business_id) DO UPDATE SET language = excluded.language
"""
OF_LISTS = """
SELECT language FROM member JOIN shortlist ON shortlist.id = shortlist_id
WHERE business_id = ? AND language != '' ORDER BY added_at DESC, shortlist_id DESC LIMIT 1
"""


def get_language(conn: sqlite3.Connection, business_id: int) -> str:
    """The language set for a business (ISO 639-1), "" if none is."""
    row = conn.execute("SELECT language FROM owner_language WHERE business_id = ?", (business_id,)).fetchone()
    return str(row[0]) if row else ""


def set_language(conn: sqlite3.Connection, business_id: int, language: str) -> None:
    """Set a business's language; "" goes back to what is known of it."""
    if language:
        conn.execute(SET, (business_id, language))
    else:
        conn.execute("DELETE FROM owner_language WHERE business_id = ?", (business_id,))


def language_of_lists(conn: sqlite3.Connection, business_id: int) -> str:
    """The language of the list that a business was put on last, of those that have one; "" for none."""
    row = conn.execute(OF_LISTS, (business_id,)).fetchone()
    return str(row[0]) if row else ""
