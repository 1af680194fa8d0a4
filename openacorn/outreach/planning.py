"""What goes when, out of the store as it is: the queue, the mailboxes and what went out before, handed to the plan."""

import sqlite3
from contextlib import suppress
from datetime import date, datetime, timedelta

from openacorn.core.outreach.send_plan import Planned, SendingBox, SendRules, TooFewRead, plan
from openacorn.core.outreach.working_hours import zone_of
from openacorn.outreach.store import mailboxes, messages
from openacorn.outreach.store.mailboxes import Mailbox
from openacorn.settings import Settings

READ_FIRST = 2000
"""Messages read for the beginning of a plan: it is the plan of all as long as none that was left unread could come into it."""

COUNTED_DAYS = timedelta(days=2)
"""Messages of this period count against the limits of a day, wherever that day begins."""


def send_rules(conn: sqlite3.Connection, settings: Settings) -> SendRules:
    """What the plan goes by."""
    rules = mailboxes.get_rules(conn)
    return SendRules(rules.hours, rules.domain_cap, settings.time_zone or "UTC")


def as_planned(box: Mailbox) -> SendingBox:
    """A mailbox as the plan sees it."""
    warm_up = date.fromisoformat(box.warm_up_from) if box.warm_up_from else None
    return SendingBox(box.id, box.daily_limit, max(1, box.gap_s), box.jitter_s, warm_up)


def sending_boxes(boxes: list[Mailbox], at: str) -> list[SendingBox]:
    """The mailboxes that can send at a moment."""
    return [
        as_planned(box)
        for box in boxes
        if not box.paused and (not box.problem or (box.retry_at and box.retry_at <= at))
    ]


def planned(
    conn: sqlite3.Connection, settings: Settings, now: datetime, until: datetime, most: int = 0
) -> list[Planned]:
    """What goes from now until a moment, by the store as it is; the first `most` of it, 0 for all."""
    agreed = mailboxes.get_rules(conn)
    if agreed.paused or not agreed.post_address.strip():
        return []  # every message must say from where it comes
    rules = send_rules(conn, settings)
    since = (now - COUNTED_DAYS).isoformat(timespec="seconds")
    before = messages.sent_so_far(conn, since, zone_of(rules.zone))
    boxes = sending_boxes(mailboxes.list_mailboxes(conn), now.isoformat(timespec="seconds"))
    if most:
        first = messages.list_waiting(conn, READ_FIRST)
        unread = messages.waiting_groups(conn) if len(first) == READ_FIRST else ()
        with suppress(TooFewRead):
            return plan(first, boxes, rules, before, now, until, most, unread)
    return plan(messages.list_waiting(conn), boxes, rules, before, now, until, most)
