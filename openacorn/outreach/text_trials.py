"""A text to oneself, by the gateway as it is set up."""

import asyncio
from pathlib import Path

from openacorn.core.outreach.text_gateway import number_of, refusal_of, request_of
from openacorn.db import secrets
from openacorn.db.database import Database
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.outreach.store import texts
from openacorn.outreach.store.texts import StoredGateway
from openacorn.settings import Settings

WORDS = "A test from Open Acorn: your gateway works."


async def send_test(database: Database, folder: Path, settings: Settings, number: str) -> tuple[str, str]:
    """(why a text to a number could not be sent, "" if it was; the gateway's own number of it)."""

    def read() -> tuple[StoredGateway | None, str]:
        with database.read() as conn:
            stored = texts.get_gateway(conn)
            return stored, secrets.reveal(conn, folder, stored.secret) if stored and stored.secret else ""

    stored, key = await asyncio.to_thread(read)
    if stored is None:
        return "there is no gateway yet", ""
    request = request_of(stored.gateway, key, number, WORDS, "acorn-test")
    async with Client(settings, allow_private=settings.world is not None) as client:
        try:
            answer = await client.fetch(request.url, headers=request.headers, form=request.body)
        except FetchError as error:
            return f"the gateway cannot be reached: {error}", ""
    return refusal_of(stored.gateway, answer.status, answer.body), number_of(stored.gateway, answer.body)
