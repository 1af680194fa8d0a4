"""Sequences, and the businesses on their way through them."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass, fields
from typing import Literal

import orjson
from pydantic import TypeAdapter

from openacorn.core.outreach.sequence import Sequence
from openacorn.errors import Conflict, NameTaken, NotFound

EnrolmentState = Literal["active", "paused", "stopped", "finished"]
STEPS = TypeAdapter(Sequence)
LIST = """
SELECT sequence.*, coalesce(sum(state = 'active'), 0) AS active, coalesce(sum(state = 'paused'), 0) AS held,
  coalesce(sum(state = 'stopped'), 0) AS stopped, coalesce(sum(state = 'finished'), 0) AS finished
FROM sequence LEFT JOIN enrolment ON sequence_id = sequence.id GROUP BY sequence.id ORDER BY sequence.name
"""
DUE = """
SELECT enrolment.* FROM enrolment JOIN sequence ON sequence.id = sequence_id
WHERE state = 'active' AND next_at != '' AND next_at <= ? AND sequence.paused = 0 ORDER BY next_at, enrolment.id LIMIT ?
"""
OVER = """
SELECT enrolment.* FROM enrolment JOIN business ON business.id = business_id
WHERE state IN ('active', 'paused') AND (business.relationship != '' OR EXISTS
  (SELECT 1 FROM member WHERE member.business_id = enrolment.business_id AND stage IN ('won', 'lost', 'parked')))
"""
OF_SEQUENCE = """
SELECT enrolment.*, business.name AS business, town, sequence.name AS sequence FROM enrolment
JOIN business ON business.id = business_id JOIN sequence ON sequence.id = sequence_id
WHERE sequence_id = ? ORDER BY state IN ('stopped', 'finished'), next_at = '', next_at, enrolment.id DESC LIMIT ?
"""
RUNNING_OF = "SELECT * FROM enrolment WHERE business_id = ? AND state IN ('active', 'paused')"
RUNNING_TO = "SELECT * FROM enrolment WHERE address = ? AND state IN ('active', 'paused')"
NEXT_DUE = "SELECT min(next_at) FROM enrolment WHERE state = 'active' AND next_at != ''"


@dataclass(frozen=True, slots=True)
class StoredSequence:
    """A sequence with how many are in it, by state."""

    id: int
    sequence: Sequence
    paused: bool
    active: int = 0
    held: int = 0
    stopped: int = 0
    finished: int = 0


@dataclass(frozen=True, slots=True)
class Enrolment:
    """A business on its way through a sequence, see the table."""

    id: int
    sequence_id: int
    business_id: int
    address: str
    person: str
    service: str
    state: str
    step: int
    next_at: str
    reason: str
    started_at: str
    ended_at: str
    by: str


@dataclass(frozen=True, slots=True)
class EnrolmentLine:
    """An enrolment in a list, with names."""

    enrolment: Enrolment
    business: str
    town: str


NAMES = tuple(field.name for field in fields(Enrolment))
ADD = """
INSERT INTO enrolment (sequence_id, business_id, address, person, service, next_at, started_at, by)
VALUES (?, ?, ?, ?, ?, ?, ?, ?) RETURNING id
"""


def _sequence(row: sqlite3.Row) -> StoredSequence:
    counts = {name: row[name] for name in ("active", "held", "stopped", "finished") if name in row.keys()}  # noqa: SIM118
    return StoredSequence(row["id"], STEPS.validate_json(row["steps"]), bool(row["paused"]), **counts)


def _enrolment(row: sqlite3.Row) -> Enrolment:
    return Enrolment(**{name: row[name] for name in NAMES})


def list_sequences(conn: sqlite3.Connection) -> list[StoredSequence]:
    """All sequences, by name."""
    return [_sequence(row) for row in conn.execute(LIST)]


def get_sequence(conn: sqlite3.Connection, number: int) -> StoredSequence:
    """One sequence. Raises NotFound."""
    row = conn.execute("SELECT * FROM sequence WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no sequence {number}")
    return _sequence(row)


def save_sequence(conn: sqlite3.Connection, number: int, sequence: Sequence, at: str, by: str) -> int:
    """Insert a sequence (number 0) or change it; return its id. Raises NameTaken, NotFound; Conflict where businesses are in the
    middle of it and it would have fewer steps."""
    body = orjson.dumps(sequence).decode()
    try:
        if number == 0:
            query = "INSERT INTO sequence (name, steps, created_at, by) VALUES (?, ?, ?, ?) RETURNING id"
            return int(conn.execute(query, (sequence.name, body, at, by)).fetchone()[0])
        before = get_sequence(conn, number)
        running = conn.execute(
            "SELECT 1 FROM enrolment WHERE sequence_id = ? AND state IN ('active', 'paused')", (number,)
        ).fetchone()
        if running and len(sequence.steps) < len(before.sequence.steps):
            raise Conflict("businesses are on their way through it: steps can be added or changed, not taken away")
        conn.execute("UPDATE sequence SET name = ?, steps = ? WHERE id = ?", (sequence.name, body, number))
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a sequence named {sequence.name!r} already") from None
    return number


def delete_sequence(conn: sqlite3.Connection, number: int) -> None:
    """Take a sequence away. Raises NotFound; Conflict if any business has been in it."""
    get_sequence(conn, number)
    try:
        conn.execute("DELETE FROM sequence WHERE id = ?", (number,))
    except sqlite3.IntegrityError:
        raise Conflict("businesses have been through it: pause it instead") from None


def pause_sequence(conn: sqlite3.Connection, number: int, *, paused: bool) -> None:
    """Pause a sequence for everybody in it, or let it go on. Raises NotFound."""
    get_sequence(conn, number)
    conn.execute("UPDATE sequence SET paused = ? WHERE id = ?", (paused, number))


def insert_enrolment(
    conn: sqlite3.Connection,
    sequence_id: int,
    business_id: int,
    address: str,
    person: str,
    service: str,
    at: str,
    by: str,
) -> int | None:
    """Put a business into a sequence from a moment on; None if it, or the person, is in one already."""
    try:
        return int(conn.execute(ADD, (sequence_id, business_id, address, person, service, at, at, by)).fetchone()[0])
    except sqlite3.IntegrityError:
        return None


def get_enrolment(conn: sqlite3.Connection, number: int) -> Enrolment:
    """One enrolment. Raises NotFound."""
    row = conn.execute("SELECT * FROM enrolment WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no enrolment {number}")
    return _enrolment(row)


def change_enrolment(conn: sqlite3.Connection, number: int, **values: str | int) -> None:
    """Set columns of an enrolment."""
    query = f"UPDATE enrolment SET {', '.join(f'{name} = :{name}' for name in values)} WHERE id = :number"
    conn.execute(query, {**values, "number": number})


def list_due(conn: sqlite3.Connection, at: str, most: int) -> list[Enrolment]:
    """Enrolments whose next step is due by a moment, what has been due longest first."""
    return [_enrolment(row) for row in conn.execute(DUE, (at, most))]


def list_over(conn: sqlite3.Connection) -> list[Enrolment]:
    """Enrolments of businesses that became clients, refused, or were won or lost since they were put in."""
    return [_enrolment(row) for row in conn.execute(OVER)]


def next_due(conn: sqlite3.Connection) -> str:
    """When the next step of any enrolment is due, "" if none is."""
    return str(conn.execute(NEXT_DUE).fetchone()[0] or "")


def list_enrolments(conn: sqlite3.Connection, sequence_id: int, most: int) -> list[EnrolmentLine]:
    """Who is in a sequence, who gets something next first."""
    rows = conn.execute(OF_SEQUENCE, (sequence_id, most))
    return [EnrolmentLine(_enrolment(row), row["business"], row["town"]) for row in rows]


def running_of(conn: sqlite3.Connection, business_id: int, addresses: Iterable[str] = ()) -> list[Enrolment]:
    """Enrolments under way of a business, or to any of these addresses."""
    found = {row["id"]: _enrolment(row) for row in conn.execute(RUNNING_OF, (business_id,))}
    for address in filter(None, addresses):
        found |= {row["id"]: _enrolment(row) for row in conn.execute(RUNNING_TO, (address,))}
    return list(found.values())
