"""Webhooks: save, try, send again, make another secret."""

import asyncio
import secrets as random
import sqlite3

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.hooks.event import EVENTS
from openacorn.core.hooks.signature import KEY_BYTES, secret_of
from openacorn.db import secrets
from openacorn.errors import InvalidInput
from openacorn.hooks.schemas.webhooks import EventType, WebhookRequest, WebhooksResponse
from openacorn.hooks.store import webhooks
from openacorn.hooks.store.webhooks import Webhook

router = APIRouter(route_class=DeskRoute, tags=["webhooks"])
SHOWN = 100


class WebhookError(InvalidInput):
    """A webhook that cannot be kept as it is; the message says why."""

    where = "events"
    remedy = "choose among the events that there are"


def _response(conn: sqlite3.Connection, secret: str = "") -> WebhooksResponse:
    return WebhooksResponse(
        webhooks=webhooks.list_webhooks(conn), events=[EventType(id=id_, title=title) for id_, title in EVENTS.items()],
        deliveries=webhooks.latest_deliveries(conn, SHOWN), secret=secret,
    )  # fmt: skip


@router.get("/webhooks")
def show(state: AppDep) -> WebhooksResponse:
    """All webhooks, and the newest deliveries."""
    with state.database.read() as conn:
        return _response(conn)


@router.put("/webhooks")
def save(state: AppDep, asked: WebhookRequest) -> WebhooksResponse:
    """Save a webhook. The secret of a new one is shown in this answer and never again."""
    if strange := set(asked.events) - EVENTS.keys():
        raise WebhookError(f"there is no event {min(strange)!r}")
    hook = Webhook(asked.id, asked.name.strip(), asked.url, tuple(dict.fromkeys(asked.events)), asked.paused)
    with state.database.write() as conn:
        number = webhooks.save_webhook(conn, hook, utc_now())
        secret = "" if asked.id else secret_of(random.token_bytes(KEY_BYTES))
        if secret:
            secrets.keep(conn, state.folder, webhooks.get_webhook(conn, number).secret, secret, utc_now())
        found = _response(conn, secret)
    state.webhooks.wake()
    return found


@router.post("/webhooks/{number}/secret")
def renew_secret(state: AppDep, number: int) -> WebhooksResponse:
    """Make another secret, shown in this answer alone; the old one signs nothing more."""
    secret = secret_of(random.token_bytes(KEY_BYTES))
    with state.database.write() as conn:
        secrets.keep(conn, state.folder, webhooks.get_webhook(conn, number).secret, secret, utc_now())
        return _response(conn, secret)


@router.post("/webhooks/{number}/test")
async def send_test(state: AppDep, number: int) -> WebhooksResponse:
    """Send it a test at once."""
    await state.webhooks.try_now(number)
    return await asyncio.to_thread(show, state)


@router.post("/webhook-deliveries/{number}/again")
def send_again(state: AppDep, number: int) -> WebhooksResponse:
    """Send what was sent before once more, the same to the letter."""
    with state.database.write() as conn:
        webhooks.send_again(conn, number, utc_now())
        found = _response(conn)
    state.webhooks.wake()
    return found


@router.delete("/webhooks/{number}")
def delete(state: AppDep, number: int) -> WebhooksResponse:
    """Take a webhook away, with what is on its way to it."""
    with state.database.write() as conn:
        secrets.keep(conn, state.folder, webhooks.get_webhook(conn, number).secret, "", "")
        webhooks.delete_webhook(conn, number)
        return _response(conn)
