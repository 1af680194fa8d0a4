"""What is known of e-mail addresses and of phone numbers (E.164)."""

import sqlite3
from collections.abc import Iterable

import orjson

from openacorn.core.audit.verification import Line, Stage, VerificationResult, Verified

KEEP = """
INSERT INTO verification (address, result, stage, detail, at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (address) DO UPDATE SET result = excluded.result, stage = excluded.stage, detail = excluded.detail, at = excluded.at
WHERE excluded.result != 'unknown' OR verification.result = 'unknown'
"""
KEEP_LINE = "UPDATE verification SET line = ? WHERE address = ?"
OF = "SELECT address, result, stage, detail, at, line FROM verification WHERE address IN (SELECT value FROM json_each(?))"
OPEN_ADDRESSES = """
SELECT DISTINCT contact.value FROM contact JOIN business ON business.id = business_id
LEFT JOIN verification ON address = contact.value
WHERE kind = 'email' AND rejected = '' AND (result IS NULL OR result = 'unknown') ORDER BY contact.value
"""
OPEN_NUMBERS = """
WITH number (value) AS (
  SELECT phone FROM business WHERE rejected = '' AND phone LIKE '+%'
  UNION SELECT contact.value FROM contact JOIN business ON business.id = business_id WHERE kind = 'phone' AND rejected = ''
)
SELECT value FROM number LEFT JOIN verification ON address = value
WHERE result IS NULL OR (result = 'unknown' AND line = '') ORDER BY value
"""


def upsert_verifications(conn: sqlite3.Connection, verdicts: Iterable[Verified]) -> None:
    """Keep results; an "unknown" never replaces what was known, nor an unsaid line one that was said."""
    found = list(verdicts)
    conn.executemany(KEEP, ((v.address, v.result, v.stage, v.detail, v.at) for v in found))
    conn.executemany(KEEP_LINE, ((v.line, v.address) for v in found if v.line))


def known(conn: sqlite3.Connection, addresses: Iterable[str]) -> dict[str, Verified]:
    """Address or number → what is known of it, for those of which anything is."""
    rows = conn.execute(OF, (orjson.dumps(list(addresses)).decode(),))
    return {
        address: Verified(address, VerificationResult(result), Stage(stage), detail, at, Line(line))
        for address, result, stage, detail, at, line in rows
    }


def open_addresses(conn: sqlite3.Connection) -> list[str]:
    """Addresses of businesses in view of which it is not known whether they reach anybody."""
    return [str(row[0]) for row in conn.execute(OPEN_ADDRESSES)]


def open_numbers(conn: sqlite3.Connection) -> list[str]:
    """Numbers of businesses in view that have no verdict yet."""
    return [str(row[0]) for row in conn.execute(OPEN_NUMBERS)]


WITH = """
SELECT business_id FROM contact WHERE kind IN ('email', 'phone') AND value IN (SELECT value FROM json_each(:these))
UNION SELECT id FROM business WHERE phone IN (SELECT value FROM json_each(:these)) ORDER BY 1
"""


def businesses_with(conn: sqlite3.Connection, addresses: Iterable[str]) -> list[int]:
    """Businesses that any of these addresses or numbers stands for, on their pages or in their listings."""
    return [int(row[0]) for row in conn.execute(WITH, {"these": orjson.dumps(list(addresses)).decode()})]
