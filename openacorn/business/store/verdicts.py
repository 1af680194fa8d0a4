"""The user's verdict on a business: it stands over what rules say, and both are kept."""

import sqlite3
from collections.abc import Iterable

import orjson

from openacorn.db.changes import next_change

PUT = """
INSERT INTO verdict (business_id, verdict, reason, ruled, at) SELECT ?1, ?2, ?3, rejected, ?4 FROM business WHERE id = ?1
ON CONFLICT (business_id) DO UPDATE SET verdict = excluded.verdict, reason = excluded.reason, at = excluded.at
"""
GET = "SELECT verdict, reason, ruled FROM verdict WHERE business_id = ?"
JUDGED = "SELECT business_id FROM verdict WHERE business_id IN (SELECT value FROM json_each(?))"
RULED = "UPDATE verdict SET ruled = ? WHERE business_id = ?"
SET = "UPDATE business SET rejected = ?, changed = ? WHERE id = ?"
HAND = "by hand: "


def verdict_over_rules(conn: sqlite3.Connection, business_id: int, ruled: str) -> str:
    """Why a business is rejected, "" if it is not: the user's verdict where there is one, else what the rules said."""
    row = conn.execute(GET, (business_id,)).fetchone()
    if row is None:
        return ruled
    conn.execute(RULED, (ruled, business_id))
    return HAND + row["reason"] if row["verdict"] == "rejected" else ""


def having_verdict(conn: sqlite3.Connection, ids: Iterable[int]) -> frozenset[int]:
    """Those of some businesses that the user has judged."""
    return frozenset(int(row[0]) for row in conn.execute(JUDGED, (orjson.dumps(list(ids)).decode(),)))


def ruled(conn: sqlite3.Connection) -> dict[int, str]:
    """Business → what the rules last said of it, of those that have a verdict."""
    return {int(row[0]): str(row[1]) for row in conn.execute("SELECT business_id, ruled FROM verdict")}


def upsert_verdict(conn: sqlite3.Connection, ids: Iterable[int], verdict: str, reason: str, at: str) -> None:
    """Reject businesses for a reason, or keep them whatever the rules say."""
    number = next_change(conn)
    for business_id in ids:
        conn.execute(PUT, (business_id, verdict, reason, at))
        conn.execute(SET, (HAND + reason if verdict == "rejected" else "", number, business_id))


def get_verdict(conn: sqlite3.Connection, ids: Iterable[int]) -> dict[int, tuple[str, str]]:
    """Business → (verdict, reason), of those that have one."""
    found = {}
    for business_id in ids:
        row = conn.execute(GET, (business_id,)).fetchone()
        if row is not None:
            found[business_id] = (str(row["verdict"]), str(row["reason"]))
    return found


def restore_verdict(conn: sqlite3.Connection, ids: Iterable[int]) -> None:
    """Forget verdicts: what the rules say holds again."""
    number = next_change(conn)
    for business_id in ids:
        row = conn.execute(GET, (business_id,)).fetchone()
        if row is not None:
            conn.execute(SET, (row["ruled"], number, business_id))
            conn.execute("DELETE FROM verdict WHERE business_id = ?", (business_id,))
