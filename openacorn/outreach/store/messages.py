"""What is written to businesses: drafts, the queue, what was sent and its results."""

import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, fields
from datetime import date, datetime
from typing import Any, Literal, get_args
from zoneinfo import ZoneInfo

import orjson

from openacorn.core.outreach.message_template import Sentence
from openacorn.core.outreach.send_plan import SentSoFar, Waiting
from openacorn.errors import Conflict, NotFound

MessageState = Literal["to approve", "waiting", "sending", "sent", "perhaps sent", "failed", "bounced", "cancelled"]
STATES: tuple[str, ...] = get_args(MessageState)
AN_ANSWER = -1
"""Step of a message that answers somebody: it leaves at any hour, as people expect an answer."""

WAITING = """
SELECT message.id, lower(substr(message.address, instr(message.address, '@') + 1)), due_at, zone, country, message.mailbox_id
FROM message
LEFT JOIN enrolment ON enrolment.id = enrolment_id LEFT JOIN sequence ON sequence.id = sequence_id
WHERE message.state = 'waiting' AND kind = 'email'
  AND coalesce(enrolment.state, 'active') != 'paused' AND coalesce(sequence.paused, 0) = 0
"""
GROUPS = "SELECT DISTINCT zone, country, mailbox_id FROM message WHERE state = 'waiting' AND kind = 'email'"
COUNTED = """
SELECT id, mailbox_id, address, tried_at FROM message
WHERE state IN ('sending', 'sent', 'perhaps sent', 'bounced') AND tried_at >= ? AND mailbox_id != 0 ORDER BY tried_at, id
"""
LAST = """
SELECT mailbox_id, max(tried_at) AS at, max(id) AS id FROM message
WHERE state IN ('sending', 'sent', 'perhaps sent', 'bounced', 'failed') AND tried_at != '' AND mailbox_id != 0 GROUP BY mailbox_id
"""
OF_THREAD = """
SELECT message_id, mailbox_id, subject FROM message
WHERE enrolment_id = ? AND message_id != '' AND state IN ('sent', 'perhaps sent') ORDER BY id
"""
BY_MESSAGE_ID = "SELECT * FROM message WHERE message_id = ?"
LATEST_TO = """
SELECT * FROM message WHERE address = ? AND kind = 'email' AND state IN ('sent', 'perhaps sent', 'bounced') ORDER BY id DESC LIMIT 1
"""
LATEST_TO_DOMAIN = """
SELECT * FROM message WHERE address LIKE '%@' || ? AND kind = 'email' AND state IN ('sent', 'perhaps sent') ORDER BY id DESC LIMIT 1
"""
TO_APPROVE = "SELECT id FROM message WHERE state = 'to approve' ORDER BY due_at, id"
LEFT_BEHIND = """
UPDATE message SET state = 'perhaps sent', problem = 'the application ended while it was being sent; it is not sent again by itself'
WHERE state = 'sending' RETURNING id
"""
CANCEL = """
UPDATE message SET state = 'cancelled', problem = ? WHERE enrolment_id = ? AND state IN ('to approve', 'waiting') RETURNING id
"""
STAMP = """
SELECT (SELECT count(*) FROM message WHERE state = 'waiting'), (SELECT max(id) FROM message),
  (SELECT max(tried_at) FROM message WHERE tried_at != ''), (SELECT count(*) FROM enrolment WHERE state = 'paused'),
  (SELECT sum(paused) FROM sequence), (SELECT max(due_at) FROM message WHERE state = 'waiting')
"""
COUNT = "SELECT state, count(*) AS number FROM message GROUP BY state"
LIST = """
SELECT message.*, business.name AS business, sequence.name AS sequence FROM message
JOIN business ON business.id = message.business_id
LEFT JOIN enrolment ON enrolment.id = enrolment_id LEFT JOIN sequence ON sequence.id = sequence_id
"""


@dataclass(frozen=True, slots=True)
class Message:
    """One message, as the table has it. because: its sentences with what allows them; tried_at: when the server heard of it."""

    id: int
    business_id: int
    enrolment_id: int
    step: int
    kind: str
    template: str
    template_version: int
    variant: str
    service: str
    address: str
    person: str
    subject: str
    text: str
    because: tuple[Sentence, ...]
    state: MessageState
    mailbox_id: int
    message_id: str
    in_reply_to: str
    zone: str
    country: str
    due_at: str
    made_at: str
    tried_at: str
    sent_at: str
    problem: str
    by: str
    language: str = "en"


NAMES = tuple(field.name for field in fields(Message))
NEW = tuple(name for name in NAMES if name not in {"id", "message_id", "tried_at", "sent_at"})
ADD = f"INSERT INTO message ({', '.join(NEW)}) VALUES ({', '.join(f':{name}' for name in NEW)}) RETURNING id"


@dataclass(frozen=True, slots=True)
class MessageLine:
    """A message in a list, with its business and sequence."""

    message: Message
    business: str
    sequence: str


def _message(row: Mapping[str, Any]) -> Message:
    values = {name: row[name] for name in NAMES}
    values["because"] = tuple(Sentence(item["text"], tuple(item["because"])) for item in orjson.loads(row["because"]))
    return Message(**values)


def insert_message(conn: sqlite3.Connection, values: Mapping[str, Any]) -> int:
    """Keep a new message; return its id."""
    usual = {"enrolment_id": 0, "step": 0, "template": "", "template_version": 0, "variant": "", "service": "", "person": "",
             "mailbox_id": 0, "in_reply_to": "", "zone": "", "country": "", "problem": "", "by": "", "subject": "",
             "language": "en"}  # fmt: skip
    because = orjson.dumps(list(values["because"])).decode()
    return int(conn.execute(ADD, {**usual, **values, "because": because}).fetchone()[0])


def get_message(conn: sqlite3.Connection, number: int) -> Message:
    """One message. Raises NotFound."""
    row = conn.execute("SELECT * FROM message WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no message {number}")
    return _message(dict(row))


def change_message(conn: sqlite3.Connection, number: int, **values: str | int) -> None:
    """Set columns of a message."""
    query = f"UPDATE message SET {', '.join(f'{name} = :{name}' for name in values)} WHERE id = :number"
    conn.execute(query, {**values, "number": number})


def list_messages(
    conn: sqlite3.Connection, states: Iterable[str], ids: Iterable[int] | None, most: int, first: int = 0
) -> list[MessageLine]:
    """Messages in some states, of `ids` or all, what is due first and what went out last first."""
    query, values = (
        LIST + " WHERE message.state IN (SELECT value FROM json_each(?))",
        [orjson.dumps(list(states)).decode()],
    )
    if ids is not None:
        query, values = (
            query + " AND message.id IN (SELECT value FROM json_each(?))",
            [*values, orjson.dumps(list(ids)).decode()],
        )
    order = " ORDER BY message.tried_at DESC, message.due_at, message.id LIMIT ? OFFSET ?"
    rows = conn.execute(query + order, (*values, most, first))
    return [MessageLine(_message(dict(row)), row["business"], row["sequence"] or "") for row in rows]


def messages_of(conn: sqlite3.Connection, business_id: int) -> list[Message]:
    """Everything written to a business, the first first."""
    return [
        _message(dict(row))
        for row in conn.execute("SELECT * FROM message WHERE business_id = ? ORDER BY id", (business_id,))
    ]


def count_by_state(conn: sqlite3.Connection) -> dict[str, int]:
    """State → messages in it."""
    return {row["state"]: row["number"] for row in conn.execute(COUNT)}


def queue_stamp(conn: sqlite3.Connection) -> tuple[object, ...]:
    """Changes with whatever changes the plan: what waits, what went out, who is on hold."""
    return tuple(conn.execute(STAMP).fetchone())


def waiting_ids(conn: sqlite3.Connection) -> list[int]:
    """Everything that waits to leave, what is due first."""
    return [int(row[0]) for row in conn.execute("SELECT id FROM message WHERE state = 'waiting' ORDER BY due_at, id")]


def waiting_of(conn: sqlite3.Connection, enrolment_id: int) -> str:
    """State of the message of an enrolment that has not left, "" if there is none."""
    row = conn.execute(
        "SELECT state FROM message WHERE enrolment_id = ? AND state IN ('to approve', 'waiting')", (enrolment_id,)
    ).fetchone()
    return str(row[0]) if row else ""


def ids_to_approve(conn: sqlite3.Connection) -> list[int]:
    """Messages that wait for somebody to approve them, what is due first."""
    return [int(row[0]) for row in conn.execute(TO_APPROVE)]


def _when(moment: str) -> datetime:
    return datetime.fromisoformat(moment)


def waiting_groups(conn: sqlite3.Connection) -> list[tuple[str, str, int]]:
    """(zone, country, mailbox) of all that waits."""
    return [tuple(row) for row in conn.execute(GROUPS)]


def list_waiting(conn: sqlite3.Connection, most: int = 0) -> list[Waiting]:
    """The queue as the plan takes it, what is due first; 0 for all of it."""
    due: dict[str, datetime] = {}
    found = []
    for number, domain, at, zone, country, box in conn.execute(
        f"{WAITING} ORDER BY due_at, message.id LIMIT {most or -1}"
    ):
        moment = due.get(at) or due.setdefault(at, _when(at))  # many are due at one moment
        found.append(Waiting(number, domain, moment, zone, country, box))
    return found


def sent_so_far(conn: sqlite3.Connection, since: str, zone: ZoneInfo) -> SentSoFar:
    """What went out since a moment (ISO 8601), by the days of a zone; and when each mailbox was last used."""
    days: dict[tuple[int, date], int] = {}
    domains: dict[tuple[str, date], int] = {}
    for row in conn.execute(COUNTED, (since,)):
        day = _when(row["tried_at"]).astimezone(zone).date()
        domain = row["address"].partition("@")[2].lower()
        days[row["mailbox_id"], day] = days.get((row["mailbox_id"], day), 0) + 1
        domains[domain, day] = domains.get((domain, day), 0) + 1
    last = {row["mailbox_id"]: (_when(row["at"]), int(row["id"])) for row in conn.execute(LAST)}
    return SentSoFar(days, domains, last)


def thread_of(conn: sqlite3.Connection, enrolment_id: int) -> list[tuple[str, int, str]]:
    """(Message-ID, mailbox, subject) of what went out in an enrolment, the first first."""
    return [tuple(row) for row in conn.execute(OF_THREAD, (enrolment_id,))] if enrolment_id else []


def find_by_message_id(conn: sqlite3.Connection, message_ids: Iterable[str]) -> Message | None:
    """The message that one of these Message-IDs names, the first that is known."""
    for name in message_ids:
        row = conn.execute(BY_MESSAGE_ID, (name,)).fetchone()
        if row is not None:
            return _message(dict(row))
    return None


def latest_to(conn: sqlite3.Connection, address: str) -> Message | None:
    """The last message that went to an address."""
    row = conn.execute(LATEST_TO, (address,)).fetchone()
    return None if row is None else _message(dict(row))


def latest_to_domain(conn: sqlite3.Connection, domain: str) -> Message | None:
    """The last message that went to an address of a domain."""
    row = conn.execute(LATEST_TO_DOMAIN, (domain,)).fetchone()
    return None if row is None else _message(dict(row))


def change_text(conn: sqlite3.Connection, number: int, subject: str, text: str, because: Iterable[Sentence]) -> None:
    """Replace what a message says."""
    change_message(conn, number, subject=subject, text=text, because=orjson.dumps(list(because)).decode())


def approve(conn: sqlite3.Connection, ids: Iterable[int]) -> int:
    """Let messages go; return how many were waiting for it."""
    query = "UPDATE message SET state = 'waiting' WHERE id = ? AND state = 'to approve'"
    return sum(conn.execute(query, (number,)).rowcount for number in ids)


def cancel_of(conn: sqlite3.Connection, enrolment_id: int, why: str) -> list[int]:
    """Cancel what an enrolment had not sent yet; return what that was."""
    return [int(row[0]) for row in conn.execute(CANCEL, (why, enrolment_id))]


def cancel(conn: sqlite3.Connection, number: int, why: str) -> Message:
    """Cancel a message that has not left. Raises NotFound, Conflict."""
    message = get_message(conn, number)
    if message.state not in {"to approve", "waiting"}:
        raise Conflict(f"this message is {message.state}: it cannot be cancelled any more")
    change_message(conn, number, state="cancelled", problem=why)
    return message


def note_left_behind(conn: sqlite3.Connection) -> list[int]:
    """After a start: messages that were being sent when the application ended are perhaps sent. Returns them."""
    return [int(row[0]) for row in conn.execute(LEFT_BEHIND)]
