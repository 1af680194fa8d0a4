"""Mailboxes that messages leave by and arrive in. Their passwords are sealed elsewhere (db.secrets)."""

import sqlite3
from dataclasses import dataclass, fields

import orjson
from pydantic import TypeAdapter

from openacorn.core.outreach.sending import SendingRules
from openacorn.errors import Conflict, NameTaken, NotFound

RULES = TypeAdapter(SendingRules)
ALL = "SELECT * FROM mailbox ORDER BY id"
PROBLEM = "UPDATE mailbox SET problem = ?, retry_at = ? WHERE id = ?"
READ_TO = "UPDATE mailbox SET uid_validity = ?, last_uid = ?, read_at = ?, reading_problem = '' WHERE id = ?"
USED = "SELECT 1 FROM message WHERE mailbox_id = ? AND state IN ('waiting', 'sending') LIMIT 1"


@dataclass(frozen=True, slots=True)
class Mailbox:
    """id 0: not stored yet. *_security: "tls" from the first byte, "starttls", or "none"; sign_in: by "password", by an
    OAuth 2 "token", or "none"; user: "" for the address; warm_up_from: a day (ISO 8601), "" if it is warm; problem: what keeps it
    from sending, "" if nothing does; retry_at: when it is tried again; reading_problem: what keeps it from being read;
    uid_validity, last_uid: how far its inbox was read."""

    id: int
    address: str
    name: str
    smtp_host: str
    smtp_port: int
    smtp_security: str = "tls"
    imap_host: str = ""
    imap_port: int = 993
    imap_security: str = "tls"
    user: str = ""
    sign_in: str = "password"
    daily_limit: int = 40
    gap_s: int = 180
    jitter_s: int = 120
    warm_up_from: str = ""
    paused: bool = False
    problem: str = ""
    retry_at: str = ""
    reading_problem: str = ""
    uid_validity: int = 0
    last_uid: int = 0
    read_at: str = ""
    added_at: str = ""

    @property
    def login(self) -> str:
        """The name to sign in with."""
        return self.user or self.address

    @property
    def secret(self) -> str:
        """The name that its password is kept under."""
        return f"mailbox {self.id}"


NAMES = tuple(field.name for field in fields(Mailbox))
STATE = frozenset({"id", "added_at", "problem", "retry_at", "reading_problem", "uid_validity", "last_uid", "read_at"})
SET = tuple(name for name in NAMES if name not in STATE)
ADD = f"""
INSERT INTO mailbox ({", ".join(SET)}, added_at) VALUES ({", ".join(f":{name}" for name in SET)}, :added_at) RETURNING id
"""
CHANGE = f"""
UPDATE mailbox SET {", ".join(f"{name} = :{name}" for name in SET)}, problem = '', retry_at = '', reading_problem = ''
WHERE id = :id
"""


def _mailbox(row: sqlite3.Row) -> Mailbox:
    return Mailbox(**{**dict(row), "paused": bool(row["paused"])})


def list_mailboxes(conn: sqlite3.Connection) -> list[Mailbox]:
    """All mailboxes."""
    return [_mailbox(row) for row in conn.execute(ALL)]


def get_mailbox(conn: sqlite3.Connection, number: int) -> Mailbox:
    """One mailbox. Raises NotFound."""
    row = conn.execute("SELECT * FROM mailbox WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no mailbox {number}")
    return _mailbox(row)


def save_mailbox(conn: sqlite3.Connection, box: Mailbox, at: str) -> int:
    """Insert a mailbox or change it; return its id. Raises NameTaken, NotFound."""
    values = {name: getattr(box, name) for name in NAMES} | {"added_at": at}
    try:
        if box.id == 0:
            return int(conn.execute(ADD, values).fetchone()[0])
        get_mailbox(conn, box.id)
        conn.execute(CHANGE, values)
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a mailbox of {box.address} already") from None
    return box.id


def delete_mailbox(conn: sqlite3.Connection, number: int) -> None:
    """Take a mailbox away; what it sent stays. Raises NotFound; Conflict while messages wait for it."""
    box = get_mailbox(conn, number)
    if conn.execute(USED, (number,)).fetchone():
        raise Conflict(f"messages wait to leave by {box.address}: let them go or cancel them first")
    conn.execute("DELETE FROM mailbox WHERE id = ?", (number,))


def set_problem(conn: sqlite3.Connection, number: int, problem: str, retry_at: str) -> None:
    """Note what keeps a mailbox from working, "" if nothing does any more."""
    conn.execute(PROBLEM, (problem, retry_at, number))


def set_reading_problem(conn: sqlite3.Connection, number: int, problem: str) -> None:
    """Note what keeps a mailbox from being read."""
    conn.execute("UPDATE mailbox SET reading_problem = ? WHERE id = ?", (problem, number))


def set_read_to(conn: sqlite3.Connection, number: int, uid_validity: int, last_uid: int, at: str) -> None:
    """Note how far an inbox was read."""
    conn.execute(READ_TO, (uid_validity, last_uid, at, number))


def get_rules(conn: sqlite3.Connection) -> SendingRules:
    """How the agency sends; the usual way before it was set."""
    row = conn.execute("SELECT rules FROM sending").fetchone()
    return SendingRules() if row is None else RULES.validate_json(row["rules"])


def put_rules(conn: sqlite3.Connection, rules: SendingRules) -> None:
    """Change how the agency sends."""
    body = orjson.dumps(rules).decode()
    conn.execute(
        "INSERT INTO sending (id, rules) VALUES (1, ?) ON CONFLICT (id) DO UPDATE SET rules = excluded.rules", (body,)
    )
