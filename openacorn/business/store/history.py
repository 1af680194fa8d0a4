"""Earlier audits, and what changed from one to the next."""

import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass

import orjson

from openacorn.core.audit.changes import Event
from openacorn.core.audit.finding import Finding
from openacorn.db.compression import compress

KEEP = "INSERT OR REPLACE INTO past_audit (business_id, at, website, findings) VALUES (?, ?, ?, ?)"
ADD_EVENT = "INSERT INTO audit_event (business_id, at, check_id, before, after, text) VALUES (?, ?, ?, ?, ?, ?)"
AUDITS = """
SELECT at, website FROM audit WHERE business_id = :id
UNION ALL SELECT at, website FROM past_audit WHERE business_id = :id ORDER BY at DESC
"""
EVENTS = """
SELECT audit_event.id, business_id, name, town, at, check_id, before, after, text
FROM audit_event JOIN business ON business.id = business_id
WHERE (:business IS NULL OR business_id = :business) AND rejected = '' ORDER BY audit_event.id DESC LIMIT :most
"""

COUNT = "SELECT count(*) FROM audit_event JOIN business ON business.id = business_id WHERE rejected = ''"


@dataclass(frozen=True, slots=True)
class AuditEvent:
    """A change that an audit saw, of a business in view."""

    id: int
    business_id: int
    name: str
    town: str
    at: str
    check_id: str
    before: str
    after: str
    text: str


def keep_audit(
    conn: sqlite3.Connection, business_id: int, at: str, website: str, findings: Mapping[str, Finding]
) -> None:
    """Put an audit aside that is about to be replaced."""
    body = orjson.dumps({check: asdict(finding) for check, finding in findings.items()})
    conn.execute(KEEP, (business_id, at, website, compress(body)))


def add_events(conn: sqlite3.Connection, business_id: int, at: str, events: Iterable[Event]) -> None:
    """Note what changed."""
    rows = ((business_id, at, event.check, event.before, event.after, event.text) for event in events)
    conn.executemany(ADD_EVENT, rows)


def audits_made(conn: sqlite3.Connection, business_id: int) -> list[tuple[str, str]]:
    """(when, website) of every audit of a business, the latest first."""
    return [(str(row["at"]), str(row["website"])) for row in conn.execute(AUDITS, {"id": business_id})]


def events(conn: sqlite3.Connection, business_id: int | None, most: int) -> list[AuditEvent]:
    """What audits saw change, of one business or (None) of all, the latest first."""
    return [AuditEvent(**dict(row)) for row in conn.execute(EVENTS, {"business": business_id, "most": most})]


def count_events(conn: sqlite3.Connection) -> int:
    """How many changes audits saw, of all businesses in view."""
    return int(conn.execute(COUNT).fetchone()[0])
