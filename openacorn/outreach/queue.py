"""The queue as people see it: what goes when, by which mailbox, and why the rest waits."""

import sqlite3
import threading
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from openacorn.core.outreach.send_plan import Planned
from openacorn.outreach.planning import planned, send_rules, sending_boxes
from openacorn.outreach.store import mailboxes, messages
from openacorn.outreach.store.messages import MessageLine
from openacorn.settings import Settings

HORIZON = timedelta(days=45)
"""How far ahead the plan is drawn."""

BEGINNING = 500
"""Messages planned for the first pages: nobody waits for the plan of all to see what goes next."""

FRESH_S = 5.0
"""A plan so old is shown again while nothing in the queue has changed: its times move by no more than that."""


@dataclass(frozen=True, slots=True)
class Shown:
    """A message as the queue shows it. at: ISO 8601, "" if it is not planned."""

    line: MessageLine
    at: str
    box: int
    why: str


class PlanCache:
    """The plan of the queue, drawn again when the queue has changed or time has passed: of its beginning, or of all of it."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._plans: dict[int, tuple[tuple[object, ...], datetime, list[Planned]]] = {}

    def of(self, conn: sqlite3.Connection, settings: Settings, now: datetime, most: int) -> list[Planned]:
        """What goes within HORIZON, in order of time; at least the first `most`."""
        wanted = BEGINNING if most <= BEGINNING else 0
        boxes = sending_boxes(mailboxes.list_mailboxes(conn), now.isoformat(timespec="seconds"))
        key = (messages.queue_stamp(conn), boxes, send_rules(conn, settings), mailboxes.get_rules(conn))
        with self._lock:
            known, at, plan = self._plans.get(wanted, ((), now, []))
            if key != known or not at <= now <= at + timedelta(seconds=FRESH_S):
                plan = planned(conn, settings, now, now + HORIZON, wanted)
                self._plans[wanted] = (key, now, plan)
            return plan


def _waits(conn: sqlite3.Connection, now: datetime) -> str:
    """Why nothing at all goes, "" if something can."""
    if mailboxes.get_rules(conn).paused:
        return "sending is paused"
    if not mailboxes.get_rules(conn).post_address.strip():
        return "your postal address is missing: enter it under Mailboxes"
    boxes = mailboxes.list_mailboxes(conn)
    if not boxes:
        return "there is no mailbox yet"
    return "" if sending_boxes(boxes, now.isoformat(timespec="seconds")) else "no mailbox can send now"


def waiting_lines(
    conn: sqlite3.Connection, settings: Settings, cache: PlanCache, now: datetime, first: int, most: int
) -> tuple[list[Shown], int]:
    """(the messages that wait, in the order in which they go, those that are not planned last; how many there are)."""
    plan = {item.message: item for item in cache.of(conn, settings, now, first + most)}
    ids = [*plan, *(number for number in messages.waiting_ids(conn) if number not in plan)]
    page = ids[first : first + most]
    found = {item.message.id: item for item in messages.list_messages(conn, ["waiting"], page, most)}
    why = _waits(conn, now) or f"it goes after {(now + HORIZON):%Y-%m-%d}, or is on hold"
    shown = []
    for number in page:
        if number in found:
            item = plan.get(number)
            message = found[number].message
            reason = (
                message.problem
                if item
                else (message.problem or "a text: it goes when it is due")
                if message.kind == "text"
                else why
            )
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
