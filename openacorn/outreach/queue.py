"""The queue as people see it: what goes when, by which mailbox, and why the rest waits."""

import sqlite3
import threading
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from openacorn.core.outreach.send_plan import Planned
from openacorn.outreach.sending import planned, send_rules, sending_boxes
from openacorn.outreach.store import mailboxes, messages
from openacorn.outreach.store.messages import MessageLine
from openacorn.settings import Settings

HORIZON = timedelta(days=45)
"""How far ahead the plan is drawn."""

FRESH_S = 5.0
"""A plan so old is shown again while nothing in the queue has changed: its times move by no more than that."""

LEFT = ("sending", "sent", "perhaps sent", "failed", "bounced", "cancelled")


@dataclass(frozen=True, slots=True)
class Shown:
    """A message as the queue shows it. at: ISO 8601, "" if it is not planned."""

    line: MessageLine
    at: str
    box: int
    why: str


class PlanCache:
    """The plan of the whole queue, drawn anew when the queue has changed or time has passed."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._key: tuple[object, ...] = ()
        self._at = datetime.min
        self._plan: list[Planned] = []

    def of(self, conn: sqlite3.Connection, settings: Settings, now: datetime) -> list[Planned]:
        """What goes within HORIZON, in order of time."""
        key = (
            messages.queue_stamp(conn),
            mailboxes.list_mailboxes(conn),
            send_rules(conn, settings),
            mailboxes.get_rules(conn).paused,
        )
        with self._lock:
            plain = now.replace(tzinfo=None)
            if key != self._key or not self._at <= plain <= self._at + timedelta(seconds=FRESH_S):
                self._plan = planned(conn, settings, now, now + HORIZON)
                self._key, self._at = key, plain
            return self._plan


def _waits(conn: sqlite3.Connection, now: datetime) -> str:
    """Why nothing at all goes, "" if something can."""
    if mailboxes.get_rules(conn).paused:
        return "sending is paused"
    boxes = mailboxes.list_mailboxes(conn)
    if not boxes:
        return "there is no mailbox yet"
    return "" if sending_boxes(boxes, now.isoformat(timespec="seconds")) else "no mailbox can send now"


def waiting_lines(
    conn: sqlite3.Connection, settings: Settings, cache: PlanCache, now: datetime, first: int, most: int
) -> tuple[list[Shown], int]:
    """(the messages that wait, in the order in which they go, those that are not planned last; how many there are)."""
    plan = {item.message: item for item in cache.of(conn, settings, now)}
    ids = [*plan, *(number for number in messages.waiting_ids(conn) if number not in plan)]
    page = ids[first : first + most]
    found = {item.message.id: item for item in messages.list_messages(conn, ["waiting"], page, most)}
    why = _waits(conn, now) or f"it goes after {(now + HORIZON):%Y-%m-%d}, or is on hold"
    shown = []
    for number in page:
        if number in found:
            item = plan.get(number)
            reason = found[number].message.problem if item else why
            shown.append(
                Shown(
                    found[number],
                    item.at.isoformat(timespec="seconds") if item else "",
                    item.box if item else 0,
                    reason,
                )
            )
    return shown, len(ids)


def lines_of(conn: sqlite3.Connection, states: Sequence[str], first: int, most: int) -> tuple[list[Shown], int]:
    """(messages in other states, what is due first or went last first; how many there are)."""
    counts = messages.count_by_state(conn)
    found = messages.list_messages(conn, states, None, most, first)
    shown = [
        Shown(
            item,
            item.message.sent_at or item.message.tried_at or item.message.due_at,
            item.message.mailbox_id,
            item.message.problem,
        )
        for item in found
    ]
    return shown, sum(counts.get(state, 0) for state in states)
