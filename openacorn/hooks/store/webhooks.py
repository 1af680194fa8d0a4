"""Webhooks, what happened, and what is on its way."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.errors import NameTaken, NotFound

SAVE = """
INSERT INTO webhook (id, name, url, events, paused, made_at) VALUES (nullif(:id, 0), :name, :url, :events, :paused, :made_at)
ON CONFLICT (id) DO UPDATE SET name = excluded.name, url = excluded.url, events = excluded.events, paused = excluded.paused,
problem = '' RETURNING id
"""
SPREAD = """
INSERT OR IGNORE INTO webhook_delivery (webhook_id, event_id, next_at)
SELECT webhook.id, ?1, ?3 FROM webhook WHERE paused = 0 AND EXISTS (SELECT 1 FROM json_each(webhook.events) WHERE value = ?2)
"""
DUE = """
SELECT webhook_delivery.id, webhook_id, event_id, url, attempts, payload FROM webhook_delivery
JOIN webhook ON webhook.id = webhook_id JOIN event ON event.id = event_id
WHERE next_at != '' AND next_at <= ? AND paused = 0 ORDER BY event_id LIMIT ?
"""
LATEST = """
SELECT webhook_delivery.id, webhook.name AS webhook, event_id, event.type AS event, event.at, business_id, attempts, next_at,
  sent_at, webhook_delivery.problem FROM webhook_delivery
JOIN webhook ON webhook.id = webhook_id JOIN event ON event.id = event_id ORDER BY webhook_delivery.id DESC LIMIT ?
"""
NOTED = "UPDATE webhook_delivery SET attempts = attempts + 1, next_at = ?, sent_at = ?, problem = ? WHERE id = ?"
AGAIN = "UPDATE webhook_delivery SET next_at = ?, sent_at = '', problem = '', attempts = 0 WHERE id = ?"


@dataclass(frozen=True, slots=True)
class Webhook:
    """id 0: not stored yet. events: types that it receives; problem: of its last delivery, "" if that arrived."""

    id: int
    name: str
    url: str
    events: tuple[str, ...]
    paused: bool = False
    problem: str = ""
    made_at: str = ""

    @property
    def secret(self) -> str:
        """The name that its key is kept under."""
        return f"webhook {self.id}"


@dataclass(frozen=True, slots=True)
class NotedEvent:
    """Something that happened. detail: what was known when it did."""

    id: int
    type: str
    business_id: int | None
    detail: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class DueDelivery:
    """A delivery whose time has come. payload: JSON."""

    id: int
    webhook_id: int
    event_id: int
    url: str
    attempts: int
    payload: str


@dataclass(frozen=True, slots=True)
class DeliveryState:
    """A delivery as it stands. next_at: when it is tried, "" once it is over; sent_at: when it arrived."""

    id: int
    webhook: str
    event_id: int
    event: str
    at: str
    business_id: int | None
    attempts: int
    next_at: str
    sent_at: str
    problem: str


def list_webhooks(conn: sqlite3.Connection) -> list[Webhook]:
    """All webhooks by name."""
    rows = conn.execute("SELECT * FROM webhook ORDER BY name")
    return [
        Webhook(**{**dict(row), "events": tuple(orjson.loads(row["events"])), "paused": bool(row["paused"])})
        for row in rows
    ]


def get_webhook(conn: sqlite3.Connection, number: int) -> Webhook:
    """One webhook. Raises NotFound."""
    found = next((hook for hook in list_webhooks(conn) if hook.id == number), None)
    if found is None:
        raise NotFound(f"there is no webhook {number}")
    return found


def save_webhook(conn: sqlite3.Connection, hook: Webhook, at: str) -> int:
    """Insert a webhook or change it; return its id. Raises NameTaken, NotFound."""
    if hook.id:
        get_webhook(conn, hook.id)
    values = {
        "id": hook.id, "name": hook.name, "url": hook.url, "events": orjson.dumps(hook.events).decode(), "paused": int(hook.paused),
        "made_at": at,
    }  # fmt: skip
    try:
        return int(conn.execute(SAVE, values).fetchone()[0])
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a webhook named {hook.name} already") from None


def delete_webhook(conn: sqlite3.Connection, number: int) -> None:
    """Take a webhook away, with what is on its way to it; the last one takes all events along. Raises NotFound."""
    get_webhook(conn, number)
    conn.execute("DELETE FROM webhook WHERE id = ?", (number,))
    conn.execute("DELETE FROM event WHERE NOT EXISTS (SELECT 1 FROM webhook)")


def set_problem(conn: sqlite3.Connection, number: int, problem: str, *, paused: bool) -> None:
    """Note how its last delivery went; paused: nothing more is sent until the user says so."""
    conn.execute("UPDATE webhook SET problem = ?, paused = max(paused, ?) WHERE id = ?", (problem, paused, number))


def add_event(conn: sqlite3.Connection, type_: str, detail: Mapping[str, Any]) -> int:
    """Add an event; return its id."""
    text = orjson.dumps(detail).decode()
    return int(conn.execute("INSERT INTO event (type, detail) VALUES (?, ?) RETURNING id", (type_, text)).fetchone()[0])


def unseen_events(conn: sqlite3.Connection, most: int) -> list[NotedEvent]:
    """Events that were not looked at, the oldest first."""
    rows = conn.execute(
        "SELECT id, type, business_id, detail FROM event WHERE payload = '' ORDER BY id LIMIT ?", (most,)
    )
    return [NotedEvent(row["id"], row["type"], row["business_id"], orjson.loads(row["detail"])) for row in rows]


def set_payload(conn: sqlite3.Connection, event: NotedEvent, payload: bytes, at: str) -> None:
    """Keep what is sent of an event, and put it on its way to the webhooks that want it."""
    conn.execute("UPDATE event SET payload = ?, at = ? WHERE id = ?", (payload.decode(), at, event.id))
    conn.execute(SPREAD, (event.id, event.type, at))


def add_delivery(conn: sqlite3.Connection, webhook: int, event: int, at: str) -> None:
    """Put an event on its way to one webhook."""
    conn.execute("INSERT INTO webhook_delivery (webhook_id, event_id, next_at) VALUES (?, ?, ?)", (webhook, event, at))


def due_deliveries(conn: sqlite3.Connection, at: str, most: int) -> list[DueDelivery]:
    """Deliveries whose time has come, the oldest event first."""
    return [DueDelivery(**dict(row)) for row in conn.execute(DUE, (at, most))]


def note_delivery(conn: sqlite3.Connection, number: int, next_at: str, sent_at: str, problem: str) -> None:
    """Note how an attempt went."""
    conn.execute(NOTED, (next_at, sent_at, problem, number))


def send_again(conn: sqlite3.Connection, number: int, at: str) -> None:
    """Put a delivery on its way once more. Raises NotFound."""
    if conn.execute(AGAIN, (at, number)).rowcount == 0:
        raise NotFound(f"there is no delivery {number}")


def latest_deliveries(conn: sqlite3.Connection, most: int) -> list[DeliveryState]:
    """The newest deliveries."""
    return [DeliveryState(**dict(row)) for row in conn.execute(LATEST, (most,))]


def forget_events(conn: sqlite3.Connection, before: str) -> None:
    """Drop events that were looked at before a moment, with their deliveries, except those under way."""
    on_way = "SELECT event_id FROM webhook_delivery WHERE next_at != ''"
    conn.execute(f"DELETE FROM event WHERE payload != '' AND at < ? AND id NOT IN ({on_way})", (before,))
