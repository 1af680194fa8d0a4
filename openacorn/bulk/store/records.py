"""Reading and writing whole businesses, many at a time."""

import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import Any

import orjson

from openacorn.bulk.schemas.lines import BusinessLine, HistoryLine, MembershipLine
from openacorn.db.changes import touch

OF_ONE = {
    "listings": """
        SELECT source, source_id, trade, seen_at, json(body) AS listing FROM listing
        WHERE business_id = ? ORDER BY source, source_id""",
    "findings": """
        SELECT check_id AS "check", outcome, json(value) AS value, reason, json(evidence) AS evidence, crashed FROM finding
        WHERE business_id = ? ORDER BY check_id""",
    "contacts": "SELECT kind, value, how, url, snippet FROM contact WHERE business_id = ? ORDER BY kind, value",
    "tags": "SELECT tag FROM tag WHERE business_id = ? ORDER BY tag",
    "lists": """
        SELECT shortlist.name AS list, stage, owner, follow_up, added_at FROM member JOIN shortlist ON shortlist.id = shortlist_id
        WHERE business_id = ? ORDER BY shortlist.name""",
    "history": "SELECT at, by, text, kind FROM step WHERE business_id = ? ORDER BY at, id",
    "results": """
        SELECT service, score, contacted_at, stage, amount, reason, channel FROM outcome WHERE business_id = ?
        ORDER BY contacted_at, service""",
    "corrections": "SELECT field, json(value) AS value FROM correction WHERE business_id = ? ORDER BY field",
    "verdict": "SELECT verdict, reason FROM verdict WHERE business_id = ?",
    "audit": "SELECT website, at, found, json(around) AS beyond FROM audit WHERE business_id = ?",
}
"""Part of a line → what it is read by."""

JSON = {"listings": ("listing",), "findings": ("value", "evidence"), "corrections": ("value",), "audit": ("beyond",)}
IDS = "SELECT id FROM business ORDER BY id"
OWNER = "SELECT business_id FROM listing WHERE source = ? AND source_id = ?"
SEEN = "SELECT seen_at FROM listing WHERE source = ? AND source_id = ?"
HELD = "SELECT count(*) FROM business"
LIST = "SELECT id FROM shortlist WHERE name = ?"
ADD_LIST = "INSERT INTO shortlist (name, created_at) VALUES (?, ?) RETURNING id"
JOIN = """
INSERT INTO member (shortlist_id, business_id, stage, owner, follow_up, added_at) VALUES (?, ?, ?, ?, ?, ?)
ON CONFLICT DO NOTHING
"""
ADD_STEP = """
INSERT INTO step (business_id, at, by, text, kind) SELECT ?1, ?2, ?3, ?4, ?5
WHERE NOT EXISTS (SELECT 1 FROM step WHERE business_id = ?1 AND at = ?2 AND by = ?3 AND text = ?4 AND kind = ?5)
"""


@contextmanager
def all_or_nothing(conn: sqlite3.Connection) -> Iterator[None]:
    """Within a transaction: what the block wrote is kept, or none of it if it raises."""
    conn.execute("SAVEPOINT line")
    try:
        yield
    except BaseException:
        conn.execute("ROLLBACK TO line")
        raise
    finally:
        conn.execute("RELEASE line")


def business_ids(conn: sqlite3.Connection) -> list[int]:
    """Every business, rejected ones too."""
    return [int(row[0]) for row in conn.execute(IDS)]


def count_businesses(conn: sqlite3.Connection) -> int:
    """How many businesses there are."""
    return int(conn.execute(HELD).fetchone()[0])


def _rows(conn: sqlite3.Connection, part: str, business: int) -> Iterator[dict[str, Any]]:
    for row in conn.execute(OF_ONE[part], (business,)):
        found = dict(row)
        for name in JSON.get(part, ()):
            found[name] = orjson.loads(found[name])
        yield found


def parts_of(conn: sqlite3.Connection, business: int) -> dict[str, Any]:
    """All parts of a business's line that are rows of tables."""
    found: dict[str, Any] = {part: list(_rows(conn, part, business)) for part in OF_ONE}
    found["tags"] = [row["tag"] for row in found["tags"]]
    found["corrections"] = {row["field"]: row["value"] for row in found["corrections"]}
    for finding in found["findings"]:
        finding["crashed"] = bool(finding["crashed"])
    for one in ("verdict", "audit"):
        found[one] = found[one][0] if found[one] else None
    return found


def seen_at(conn: sqlite3.Connection, source: str, source_id: str) -> str:
    """When a listing was seen last; "" if it is not held."""
    row = conn.execute(SEEN, (source, source_id)).fetchone()
    return "" if row is None else str(row[0])


def businesses_of(conn: sqlite3.Connection, line: BusinessLine) -> list[int]:
    """The businesses that the listings of a line belong to, each once."""
    found = (conn.execute(OWNER, (item.source, item.source_id)).fetchone() for item in line.listings)
    return list(dict.fromkeys(int(row[0]) for row in found if row is not None and row[0] is not None))


def _shortlist(conn: sqlite3.Connection, item: MembershipLine) -> int:
    row = conn.execute(LIST, (item.list,)).fetchone() or conn.execute(ADD_LIST, (item.list, item.added_at)).fetchone()
    return int(row[0])


def add_memberships(conn: sqlite3.Connection, business: int, items: Sequence[MembershipLine]) -> None:
    """Put a business on lists, which are made if there are none of the name; where it is already it stays as it is."""
    for item in items:
        conn.execute(JOIN, (_shortlist(conn, item), business, item.stage, item.owner, item.follow_up, item.added_at))
    touch(conn, [business])


def add_history(conn: sqlite3.Connection, business: int, items: Sequence[HistoryLine]) -> None:
    """Add what was done about a business, except for what is known."""
    conn.executemany(ADD_STEP, ((business, item.at, item.by, item.text, item.kind) for item in items))
