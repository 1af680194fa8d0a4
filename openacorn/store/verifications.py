"""What is known of e-mail addresses."""

import sqlite3
from collections.abc import Iterable

import orjson

from openacorn.core.audit.verification import Result, Stage, Verified

KEEP = """
INSERT INTO verification (address, result, stage, detail, at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (address) DO UPDATE SET result = excluded.result, stage = excluded.stage, detail = excluded.detail, at = excluded.at
WHERE excluded.result != 'unknown' OR verification.result = 'unknown'
"""
OF = "SELECT address, result, stage, detail, at FROM verification WHERE address IN (SELECT value FROM json_each(?))"
OPEN = """
SELECT DISTINCT contact.value FROM contact JOIN business ON business.id = business_id
LEFT JOIN verification ON address = contact.value
WHERE kind = 'email' AND rejected = '' AND (result IS NULL OR result = 'unknown') ORDER BY contact.value
"""


def keep(conn: sqlite3.Connection, verdicts: Iterable[Verified]) -> None:
    """Keep results; an "unknown" never replaces what was known."""
    conn.executemany(KEEP, ((v.address, v.result, v.stage, v.detail, v.at) for v in verdicts))


def known(conn: sqlite3.Connection, addresses: Iterable[str]) -> dict[str, Verified]:
    """Address → what is known of it, for those of which anything is."""
    rows = conn.execute(OF, (orjson.dumps(list(addresses)).decode(),))
    return {
        row["address"]: Verified(row["address"], Result(row["result"]), Stage(row["stage"]), row["detail"], row["at"])
        for row in rows
    }


def open_addresses(conn: sqlite3.Connection) -> list[str]:
    """Addresses of businesses in view of which it is not known whether they reach anybody."""
    return [str(row[0]) for row in conn.execute(OPEN)]


WITH = """
SELECT DISTINCT business_id FROM contact WHERE kind = 'email' AND value IN (SELECT value FROM json_each(?)) ORDER BY business_id
"""


def businesses_with(conn: sqlite3.Connection, addresses: Iterable[str]) -> list[int]:
    """Businesses on whose pages any of these addresses stands."""
    return [int(row[0]) for row in conn.execute(WITH, (orjson.dumps(list(addresses)).decode(),))]
