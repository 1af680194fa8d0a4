"""What businesses belong to: runs, shortlists with their stages, tags; and whose pages say something."""

import re
import sqlite3
from collections.abc import Iterable

import orjson

from openacorn.db.at_once import rows_at_once
from openacorn.db.changes import touch

GROUPS_OF = """(
SELECT DISTINCT 'run' AS kind, listing.business_id AS business, CAST(seen.run_id AS TEXT) AS value
FROM seen JOIN listing ON listing.id = seen.listing_id
WHERE listing.business_id IN (SELECT value FROM json_each(?1))
UNION ALL
SELECT 'shortlist', business_id, CAST(shortlist_id AS TEXT) FROM member WHERE business_id IN (SELECT value FROM json_each(?1))
UNION ALL
SELECT DISTINCT 'stage', business_id, stage FROM member WHERE business_id IN (SELECT value FROM json_each(?1))
UNION ALL
SELECT 'tag', business_id, tag FROM (SELECT * FROM tag WHERE business_id IN (SELECT value FROM json_each(?1)) ORDER BY tag)
)"""
SAYING = "SELECT rowid FROM page_text WHERE page_text MATCH ?"


def groups_of(conn: sqlite3.Connection, ids: Iterable[int]) -> dict[int, dict[str, list[str]]]:
    """Business → what it belongs to: "run", "shortlist", "stage", "tag" → values."""
    wanted = orjson.dumps(list(ids)).decode()
    found: dict[int, dict[str, list[str]]] = {}
    for kind, business_id, value in rows_at_once(conn, "kind, business, value", GROUPS_OF, (wanted,)):
        found.setdefault(business_id, {}).setdefault(kind, []).append(value)
    return found


def pages_saying(conn: sqlite3.Connection, words: str) -> list[int]:
    """Businesses whose pages hold all the words; "words in quotes" stand next to each other; the last may be a beginning."""
    quoted = re.findall(r'"([^"]+)"', words)
    loose = re.findall(r"\w+", re.sub(r'"[^"]*"?', " ", words))
    phrases = [f'"{phrase}"' for phrase in quoted] + [f'"{word}"' for word in loose]
    if not phrases:
        return []
    if loose:
        phrases[-1] += "*"
    return [int(row[0]) for row in conn.execute(SAYING, (" AND ".join(phrases),))]


def add_tag(conn: sqlite3.Connection, ids: Iterable[int], tag: str) -> list[int]:
    """Put a tag on businesses; return those that did not have it."""
    query = "INSERT INTO tag (business_id, tag) SELECT id, ? FROM business WHERE id = ? ON CONFLICT DO NOTHING"
    new = [business for business in ids if conn.execute(query, (tag, business)).rowcount]
    touch(conn, new)
    return new


def drop_tag(conn: sqlite3.Connection, ids: Iterable[int], tag: str) -> list[int]:
    """Take a tag off businesses; return those that had it."""
    query = "DELETE FROM tag WHERE tag = ? AND business_id = ?"
    had = [business for business in ids if conn.execute(query, (tag, business)).rowcount]
    touch(conn, had)
    return had
