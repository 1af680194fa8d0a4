"""A text to oneself, by the gateway as it is set up."""

import asyncio
from pathlib import Path

from openacorn.db.database import Database
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.outreach.texting import OpenGateway, hand_over, open_gateway
from openacorn.settings import Settings

WORDS = "A test from Open Acorn: your gateway works."


async def send_test(database: Database, folder: Path, settings: Settings, number: str) -> tuple[str, str]:
    """(why a text to a number could not be sent, "" if it was; the gateway's own number of it)."""

    def read() -> OpenGateway | None:
        with database.read() as conn:
            return open_gateway(conn, folder)

    opened = await asyncio.to_thread(read)
    if opened is None:
        return "there is no gateway yet", ""
    async with Client(settings, allow_private=settings.world is not None) as client:
        try:
            answer = await hand_over(client, opened, number, WORDS, "acorn-test")
        except FetchError as error:
            return f"the gateway cannot be reached: {error}", ""
    return answer.refused, answer.number
