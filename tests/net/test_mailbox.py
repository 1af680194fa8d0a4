"""Mailboxes asked about at the coast's mail server: there, not there, taken by anybody, greylisted; and nothing is sent."""

import asyncio
from typing import Any

import pytest

from openacorn.core.audit.evidence import Failure
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.net.probes.mailbox import MailboxProbe
from openacorn.sim.mail_server import OUTBOX
from tests.conftest import Coast

pytestmark = pytest.mark.world


def verify(coast: Coast, *addresses: str) -> list[tuple[str, str]]:
    async def run() -> Any:
        async with Client(coast.settings) as client:
            return await MailboxProbe(client, "hello@wrenfold.example").verify(addresses)

    found = asyncio.run(run())
    assert [item.address for item in found] == list(addresses)
    assert all(item.detail and item.at for item in found)
    return [(str(item.result), str(item.stage)) for item in found]


def domain(coast: Coast, mode: str) -> tuple[str, str]:
    """(a domain that answers so, a mailbox that is there)."""
    records = coast.read("records.json")
    boxes = coast.read("mailboxes.json").items()
    return next(
        (name, kept["boxes"][0]) for name, kept in boxes if kept["mode"] == mode and kept["boxes"] and name in records
    )


def test_each_result_with_the_stage_that_decided_it(coast: Coast) -> None:
    plain, box = domain(coast, "plain")
    anybody, local = domain(coast, "all")
    slow, waiting = domain(coast, "grey")
    outbox = coast.folder / OUTBOX
    before = outbox.read_text() if outbox.exists() else ""  # other tests send notices
    silent = next(name for name, kinds in coast.read("records.json").items() if kinds.get("MX") == [])
    assert verify(coast, f"{box}@{plain}", f"no.such.person@{plain}", f"{local}@{anybody}", f"{waiting}@{slow}") == [
        ("valid", "mailbox"),
        ("dead", "mailbox"),
        ("risky", "mailbox"),
        ("valid", "mailbox"),
    ]
    assert verify(coast, "not an address", "jo@nowhere-at-all.example") == [("dead", "syntax"), ("dead", "domain")]
    assert verify(coast, f"info@{silent}")[0][0] in {"unknown", "dead"}  # its own address takes no mail either
    assert (outbox.read_text() if outbox.exists() else "") == before  # the talk ends before anything is sent


def test_a_private_mail_server_is_not_asked(coast: Coast) -> None:
    async def run() -> None:
        async with Client(coast.settings.model_copy(update={"world": None})) as client:
            await client.address("localhost", 25)

    with pytest.raises(FetchError) as caught:
        asyncio.run(run())
    assert caught.value.failure is Failure.PRIVATE
