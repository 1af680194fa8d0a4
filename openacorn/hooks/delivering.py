"""Tells other programs what happened: makes each event's payload once, signs it, sends it, tries again."""

import asyncio
import logging
import sqlite3
import time
from collections import defaultdict
from collections.abc import Iterator, Mapping
from datetime import timedelta
from pathlib import Path
from typing import Any

import orjson

from openacorn.business.store import businesses
from openacorn.clock import now, utc_now
from openacorn.core.hooks.event import AT_ONCE, EVENTS, TEST, rest_after
from openacorn.core.hooks.signature import headers_of
from openacorn.db import secrets
from openacorn.db.database import Database
from openacorn.gather.coverage import compare, earlier_run
from openacorn.hooks.store import webhooks
from openacorn.hooks.store.webhooks import DueDelivery, NotedEvent
from openacorn.net.webhook import send
from openacorn.runs.recurring import Recurring
from openacorn.runs.store import sweeps
from openacorn.settings import Settings

log = logging.getLogger(__name__)
EVERY_S = 5.0
EVENTS_AT_ONCE, DELIVERIES_AT_ONCE = 200, 200
KEPT = timedelta(days=30)
GONE = 410
COLUMNS = (
    "id", "name", "trade", "street", "town", "postcode", "phone", "website", "offer", "score", "value", "relationship",
)  # fmt: skip
"""Columns of a business that an event holds."""


def _of_run(conn: sqlite3.Connection, run_id: int) -> tuple[dict[str, Any], Iterator[tuple[str, dict[str, Any]]]]:
    """(what the payload of a run says, the events of what it found)."""
    run = sweeps.get_run(conn, run_id)
    data = {
        "run": {"id": run.id, "sweep_id": run.sweep_id, "sweep": run.sweep, "state": run.state, "why": run.why,
                "started_at": run.started_at, "ended_at": run.ended_at}
    }  # fmt: skip
    earlier = earlier_run(conn, run_id) if run.state == "done" else None
    changes = compare(conn, earlier, run_id) if earlier is not None else []
    by_kind: dict[str, dict[int, dict[str, Any]]] = defaultdict(dict)
    for change in changes:
        fields = by_kind[change.kind].setdefault(change.business, {})
        if change.field:
            fields[change.field] = {"before": change.before, "after": change.after}

    def more() -> Iterator[tuple[str, dict[str, Any]]]:
        for kind, found in by_kind.items():
            changed = [[number, fields] for number, fields in found.items()]
            for start in range(0, len(changed), AT_ONCE):
                yield f"businesses.{kind}", {"run": run_id, "changes": changed[start : start + AT_ONCE]}

    return data, more()


def _data(conn: sqlite3.Connection, event: NotedEvent) -> dict[str, Any]:
    """What the payload of an event says."""
    if event.type == "run.finished":
        data, more = _of_run(conn, int(event.detail["run"]))
        for type_, detail in more:
            webhooks.add_event(conn, type_, detail)
        return data
    if event.type.startswith("businesses."):
        fields: Mapping[int, Any] = {int(number): changed for number, changed in event.detail["changes"]}
        found = businesses.table_rows(conn, sorted(fields), COLUMNS)
        return {
            "run": event.detail["run"],
            "businesses": [row | ({"changed": fields[row["id"]]} if fields[row["id"]] else {}) for row in found],
        }
    if event.business_id is None:
        return dict(event.detail)
    known = businesses.table_rows(conn, [event.business_id], COLUMNS)
    return {"business": known[0] if known else {"id": event.business_id}, **event.detail}


def _send_off(conn: sqlite3.Connection, event: NotedEvent) -> None:
    """Make the payload of an event, and put it on its way."""
    at = utc_now()
    payload = {"type": event.type, "timestamp": at, "data": _data(conn, event)}
    webhooks.set_payload(conn, event, orjson.dumps(payload), at)


def spread(conn: sqlite3.Connection) -> None:
    """Put on its way what happened, also what comes to light by that: the businesses that a finished run found."""
    while events := webhooks.unseen_events(conn, EVENTS_AT_ONCE):
        for event in events:
            _send_off(conn, event)


class Delivering(Recurring):
    """The webhooks of one running application."""

    def __init__(self, folder: Path, database: Database, settings: Settings) -> None:
        self._folder, self._database, self._settings = folder, database, settings
        super().__init__("webhooks could not be sent", EVERY_S)

    async def _round(self) -> float:
        async with self._turn:
            due = await asyncio.to_thread(self._look)
            by_hook: dict[int, list[DueDelivery]] = defaultdict(list)
            for delivery in due:
                by_hook[delivery.webhook_id].append(delivery)
            await asyncio.gather(*(self._send_all(some) for some in by_hook.values()))
        return EVERY_S

    def _look(self) -> list[DueDelivery]:
        """What is due. A round in which nothing happened keeps no writer waiting."""
        with self._database.read() as conn:
            happened = webhooks.unseen_events(conn, 1)
        if happened:
            with self._database.write() as conn:
                spread(conn)
                webhooks.forget_events(conn, (now() - KEPT).isoformat(timespec="seconds"))
        with self._database.read() as conn:
            return webhooks.due_deliveries(conn, utc_now(), DELIVERIES_AT_ONCE)

    async def _send_all(self, due: list[DueDelivery]) -> None:
        """To one webhook, in the order in which things happened; after a failure the others of this round wait."""
        for delivery in due:
            if not await self._send(delivery):
                return

    def _secret(self, number: int) -> str:
        with self._database.read() as conn:
            return secrets.reveal(conn, self._folder, webhooks.get_webhook(conn, number).secret)

    async def _send(self, delivery: DueDelivery) -> bool:
        """Send one; return whether it arrived."""
        body = delivery.payload.encode()
        try:
            secret = await asyncio.to_thread(self._secret, delivery.webhook_id)
            headers = headers_of(secret, f"msg_{delivery.event_id}", int(time.time()), body)
            status, problem = await send(self._settings, delivery.url, body, "application/json", headers)
        except (secrets.SealBroken, ValueError) as error:
            status, problem = 0, str(error)
        await asyncio.to_thread(self._note, delivery, status, problem)
        return not problem

    def _note(self, delivery: DueDelivery, status: int, problem: str) -> None:
        rest = rest_after(delivery.attempts + 1) if problem and status != GONE else None
        again = (now() + timedelta(seconds=rest)).isoformat(timespec="seconds") if rest is not None else ""
        with self._database.write() as conn:
            webhooks.note_delivery(conn, delivery.id, again, "" if problem else utc_now(), problem)
            # an address that is gone says so for good; one that failed for days is not asked on and on
            webhooks.set_problem(conn, delivery.webhook_id, problem, paused=bool(problem) and rest is None)

    async def try_now(self, number: int) -> None:
        """Send a test to one webhook at once. Raises NotFound."""
        await asyncio.to_thread(self._add_test, number)
        await self._round()

    def _add_test(self, number: int) -> None:
        with self._database.write() as conn:
            detail = {"webhook": webhooks.get_webhook(conn, number).name, "events": list(EVENTS)}
            event = NotedEvent(webhooks.add_event(conn, TEST, detail), TEST, None, detail)
            _send_off(conn, event)
            webhooks.add_delivery(conn, number, event.id, utc_now())
