"""What arrived in the mailboxes."""

import sqlite3
from dataclasses import dataclass

import orjson

from openacorn.core.outreach.incoming import Incoming
from openacorn.errors import NotFound

ADD = """
INSERT INTO incoming (mailbox_id, uid_validity, uid, kind, message_id, business_id, answers, address, name, subject, text,
  attachments, at, done)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING RETURNING id
"""
SEEN = "SELECT 1 FROM incoming WHERE mailbox_id = ? AND message_id = ? AND message_id != '' LIMIT 1"
LIST = """
SELECT incoming.*, coalesce(business.name, '') AS business FROM incoming LEFT JOIN business ON business.id = business_id
WHERE incoming.kind IN (SELECT value FROM json_each(?)) ORDER BY done, incoming.id DESC LIMIT ?
"""
LEFT = "SELECT count(*) FROM incoming WHERE done = 0 AND kind IN ('reply', 'refusal')"
OF_BUSINESS = "SELECT incoming.*, '' AS business FROM incoming WHERE business_id = ? ORDER BY id"


@dataclass(frozen=True, slots=True)
class Arrived:
    """Something that arrived. business_id None: nobody is known by its sender; answers: the message it answers, 0 for none."""

    id: int
    mailbox_id: int
    kind: str
    message_id: str
    business_id: int | None
    business: str
    answers: int
    address: str
    name: str
    subject: str
    text: str
    attachments: tuple[str, ...]
    at: str
    done: bool


def _arrived(row: sqlite3.Row) -> Arrived:
    values = {name: row[name] for name in Arrived.__slots__ if name not in {"attachments", "done"}}
    return Arrived(**values, attachments=tuple(orjson.loads(row["attachments"])), done=bool(row["done"]))


def was_seen(conn: sqlite3.Connection, mailbox_id: int, message_id: str) -> bool:
    """Has a message of this Message-ID been taken in from the mailbox before?"""
    return conn.execute(SEEN, (mailbox_id, message_id)).fetchone() is not None


def insert_incoming(
    conn: sqlite3.Connection,
    mailbox_id: int,
    uid: tuple[int, int],
    what: Incoming,
    business_id: int | None,
    answers: int,
    at: str,
) -> int | None:
    """Keep what arrived; return its id, None if it is there already. uid: (UIDVALIDITY, UID)."""
    done = what.kind not in {"reply", "refusal"}
    row = conn.execute(
        ADD,
        (mailbox_id, *uid, what.kind, what.message_id, business_id, answers, what.address, what.name, what.subject, what.text,
         orjson.dumps(what.attachments).decode(), at, done),
    ).fetchone()  # fmt: skip
    return None if row is None else int(row[0])


def list_incoming(conn: sqlite3.Connection, kinds: tuple[str, ...], most: int) -> tuple[list[Arrived], int]:
    """(what arrived of some kinds, what is to be answered first and the newest first; how many wait for an answer)."""
    rows = conn.execute(LIST, (orjson.dumps(kinds).decode(), most))
    return [_arrived(row) for row in rows], int(conn.execute(LEFT).fetchone()[0])


def incoming_of(conn: sqlite3.Connection, business_id: int) -> list[Arrived]:
    """What arrived from a business, the first first."""
    return [_arrived(row) for row in conn.execute(OF_BUSINESS, (business_id,))]


def get_incoming(conn: sqlite3.Connection, number: int) -> Arrived:
    """One of them. Raises NotFound."""
    row = conn.execute("SELECT incoming.*, '' AS business FROM incoming WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no message {number} that arrived")
    return _arrived(row)


def mark_done(conn: sqlite3.Connection, number: int, *, done: bool) -> None:
    """Note that nothing is left to do about it, or that something is. Raises NotFound."""
    get_incoming(conn, number)
    conn.execute("UPDATE incoming SET done = ? WHERE id = ?", (done, number))
