"""The gateway of text messages, and registers of numbers that must not be called."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from pydantic import TypeAdapter

from openacorn.core.outreach.text_gateway import TextGateway

RECIPE = TypeAdapter(TextGateway)
SAVE = """
INSERT INTO text_gateway (id, recipe, secret, token) VALUES (1, ?, ?, ?)
ON CONFLICT (id) DO UPDATE SET recipe = excluded.recipe, secret = excluded.secret, problem = ''
"""
DUE = """
SELECT message.id FROM message LEFT JOIN enrolment ON enrolment.id = enrolment_id LEFT JOIN sequence ON sequence.id = sequence_id
WHERE message.state = 'waiting' AND message.kind = 'text' AND due_at <= ?
  AND coalesce(enrolment.state, 'active') != 'paused' AND coalesce(sequence.paused, 0) = 0 ORDER BY due_at, message.id
"""
SENT = """
SELECT count(*) FROM message WHERE kind = 'text' AND state IN ('sending', 'sent', 'perhaps sent', 'bounced') AND tried_at >= ?
"""
LATEST_TO = """
SELECT id FROM message WHERE kind = 'text' AND address = ? AND state IN ('sent', 'perhaps sent', 'bounced') ORDER BY id DESC LIMIT 1
"""
FOR_ANOTHER = """
SELECT 1 FROM message WHERE kind = 'text' AND address = ? AND business_id != ? AND made_at >= ?
  AND state NOT IN ('cancelled', 'failed') LIMIT 1
"""
REGISTERS = "SELECT register, dated, count(*) AS numbers FROM do_not_call GROUP BY register, dated ORDER BY register"


@dataclass(frozen=True, slots=True)
class StoredGateway:
    """secret: the key, sealed; token: of the address for incoming texts; problem: why nothing goes, "" if it does."""

    gateway: TextGateway
    secret: str
    token: str
    read_to: str
    problem: str


@dataclass(frozen=True, slots=True)
class Register:
    """A register of numbers that must not be called. dated: the day of the register (ISO 8601)."""

    register: str
    dated: str
    numbers: int


def get_gateway(conn: sqlite3.Connection) -> StoredGateway | None:
    """The gateway, None before one is set up."""
    row = conn.execute("SELECT recipe, secret, token, read_to, problem FROM text_gateway").fetchone()
    return None if row is None else StoredGateway(RECIPE.validate_json(row["recipe"]), *list(row)[1:])


def save_gateway(conn: sqlite3.Connection, gateway: TextGateway, secret: str, token: str) -> None:
    """Save the gateway; the address for incoming texts stays once it is given."""
    conn.execute(SAVE, (RECIPE.dump_json(gateway).decode(), secret, token))


def delete_gateway(conn: sqlite3.Connection) -> None:
    """Take the gateway away; text steps are tasks for a person then."""
    conn.execute("DELETE FROM text_gateway")


def set_read_to(conn: sqlite3.Connection, number: str) -> None:
    """Note the last incoming text that was read."""
    conn.execute("UPDATE text_gateway SET read_to = ?", (number,))


def set_problem(conn: sqlite3.Connection, problem: str) -> None:
    """Note why nothing goes, "" if it does."""
    conn.execute("UPDATE text_gateway SET problem = ? WHERE problem != ?", (problem, problem))


def due_texts(conn: sqlite3.Connection, at: str) -> list[int]:
    """Texts that wait and are due by a moment, the earliest first."""
    return [int(row[0]) for row in conn.execute(DUE, (at,))]


def count_sent(conn: sqlite3.Connection, since: str) -> int:
    """Texts handed over since a moment."""
    return int(conn.execute(SENT, (since,)).fetchone()[0])


def latest_to(conn: sqlite3.Connection, number: str) -> int:
    """Id of the last text sent to a number, 0 for none."""
    row = conn.execute(LATEST_TO, (number,)).fetchone()
    return int(row[0]) if row else 0


def texted_for_another(conn: sqlite3.Connection, number: str, business_id: int, since: str) -> bool:
    """Did a text go, or is one to go, to a number for another business since a moment? One person may have several."""
    return conn.execute(FOR_ANOTHER, (number, business_id, since)).fetchone() is not None


def import_register(conn: sqlite3.Connection, register: str, dated: str, numbers: Iterable[str]) -> int:
    """Keep a register in place of what it held before; return how many numbers it has."""
    conn.execute("DELETE FROM do_not_call WHERE register = ?", (register,))
    rows = [(number, register, dated) for number in dict.fromkeys(numbers)]
    conn.executemany("INSERT INTO do_not_call (number, register, dated) VALUES (?, ?, ?)", rows)
    return len(rows)


def delete_register(conn: sqlite3.Connection, register: str) -> None:
    """Take a register out."""
    conn.execute("DELETE FROM do_not_call WHERE register = ?", (register,))


def list_registers(conn: sqlite3.Connection) -> list[Register]:
    """The registers that were imported."""
    return [Register(**dict(row)) for row in conn.execute(REGISTERS)]


def registers_of(conn: sqlite3.Connection, number: str) -> str:
    """On which register a number stands, with its day, "" for none."""
    row = conn.execute("SELECT register, dated FROM do_not_call WHERE number = ? LIMIT 1", (number,)).fetchone()
    return f"on {row[0]} of {row[1]}" if row else ""
