"""Appointments, days to come back, and the addresses at which calendar programs read both."""

import sqlite3
from dataclasses import dataclass, fields

from openacorn.business.store import shares
from openacorn.errors import NotFound

LIST = """
SELECT appointment.*, business.name AS business, business.phone FROM appointment JOIN business ON business.id = business_id
WHERE (:business = 0 OR business_id = :business) AND (:by = '' OR appointment.by = :by) AND at >= :since ORDER BY at, appointment.id
"""
FOLLOW_UPS = f"""
SELECT business.id AS business_id, business.name AS business, business.phone, follow_up AS day, max(stage) AS stage,
  coalesce(max(step.at), max(added_at)) AS changed
FROM member JOIN business ON business.id = member.business_id JOIN shortlist ON shortlist.id = shortlist_id
LEFT JOIN step ON step.business_id = business.id
WHERE follow_up != '' AND stage NOT IN ('won', 'lost', 'parked') AND relationship NOT IN ('refused', 'client')
  AND (:business = 0 OR business.id = :business) AND (:by = '' OR owner = :by) AND {shares.seen("shortlist")}
GROUP BY business.id, follow_up ORDER BY follow_up, business.id
"""


@dataclass(frozen=True, slots=True)
class Appointment:
    """at: when it begins (ISO 8601, UTC); remind_minutes: before it, 0 for no reminder."""

    id: int
    business_id: int
    at: str
    minutes: int
    place: str
    note: str
    remind_minutes: int
    by: str
    made_at: str
    business: str = ""
    phone: str = ""


@dataclass(frozen=True, slots=True)
class FollowUp:
    """A day on which somebody is to be called again. changed: when something was last noted about them (ISO 8601)."""

    business_id: int
    business: str
    phone: str
    day: str
    stage: str
    changed: str


NEW = tuple(field.name for field in fields(Appointment) if field.name not in {"id", "business", "phone"})
ADD = f"INSERT INTO appointment ({', '.join(NEW)}) VALUES ({', '.join('?' * len(NEW))}) RETURNING id"


def list_appointments(conn: sqlite3.Connection, business_id: int, by: str = "", since: str = "") -> list[Appointment]:
    """Appointments from a moment on. business_id 0: of all; by: of one person, "" for everybody's."""
    return [Appointment(**dict(row)) for row in conn.execute(LIST, {"business": business_id, "by": by, "since": since})]


def list_follow_ups(conn: sqlite3.Connection, business_id: int, by: str = "") -> list[FollowUp]:
    """Days to come back to somebody, each once. business_id 0: to all; by: of one person's businesses, "" for everybody's."""
    asked = {"business": business_id, "by": by, **shares.reader()}
    return [FollowUp(**dict(row)) for row in conn.execute(FOLLOW_UPS, asked)]


def insert_appointment(conn: sqlite3.Connection, made: Appointment) -> int:
    """Keep an appointment; return its id."""
    return int(conn.execute(ADD, [getattr(made, name) for name in NEW]).fetchone()[0])


def delete_appointment(conn: sqlite3.Connection, number: int) -> Appointment:
    """Take an appointment out; return what it was. Raises NotFound."""
    row = conn.execute("DELETE FROM appointment WHERE id = ? RETURNING *", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no appointment {number}")
    return Appointment(**dict(row))


def get_feed(conn: sqlite3.Connection, by: str) -> str:
    """The token of a person's feed ("" for everybody's), "" if there is none."""
    row = conn.execute("SELECT token FROM calendar_feed WHERE by = ?", (by,)).fetchone()
    return str(row[0]) if row else ""


def feed_owner(conn: sqlite3.Connection, token: str) -> str | None:
    """Whose feed a token opens, None for an unknown one."""
    row = conn.execute("SELECT by FROM calendar_feed WHERE token = ?", (token,)).fetchone()
    return None if row is None else str(row[0])


def set_feed(conn: sqlite3.Connection, by: str, token: str, at: str) -> None:
    """Give a person's feed a new token; "" closes it. The old one opens nothing any more."""
    conn.execute("DELETE FROM calendar_feed WHERE by = ?", (by,))
    if token:
        conn.execute("INSERT INTO calendar_feed (token, by, made_at) VALUES (?, ?, ?)", (token, by, at))
