"""An audit worker: a process of its own that fetches and parses in one loop. `python -m openacorn.audit.worker`.

The settings and the user's own trades come as the first lines on standard input, then tasks, a line each (a serial, a space,
JSON); results go the same way to standard output, with a sign of life (serial 0) now and then. When standard input ends, so
does the worker: a killed parent leaves none behind.
"""

import asyncio
import base64
import gc
import os
import sys
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import asdict
from typing import Any

import orjson
import uvloop
from pydantic import TypeAdapter

from openacorn.audit.auditor import Auditor, AuditTask
from openacorn.business.store.audits import StoredAudit
from openacorn.core.audit.warm_up import warm_up
from openacorn.lost_connections import pass_over_lost
from openacorn.net.client import Client
from openacorn.net.probes.browser import SITE_SECONDS
from openacorn.net.probes.site import SECONDS_A_PAGE
from openacorn.settings import Settings

TASK = TypeAdapter(AuditTask)
LINE_LIMIT = 64 * 1024 * 1024
FAILED = b"!"
"""What an answer begins with that is the reason of a failure and no result."""


BEAT = b"0"
"""The serial of a sign of life: no task has it."""

NICENESS = 10
"""Audits come after what somebody waits for at the screen."""

COLLECT_AFTER = 20_000
"""Objects made and not yet given back before the collector looks at them: a page has thousands."""

BEAT_S = 2.0
"""Rest between two signs of life."""

TASK_S = 300.0
"""An audit that is not done after so long is given up; each of its parts is bounded by much less."""


def seconds_for(task: AuditTask, settings: Settings) -> float:
    """How long an audit may take: longer with every page of a site, or with the browser, for which all in flight queue up."""
    pages = SECONDS_A_PAGE * settings.site_pages if task.whole else 0.0
    return TASK_S + pages + (SITE_SECONDS * settings.sites_in_flight if task.rendered or task.look else 0.0)


def encode(result: StoredAudit) -> bytes:
    """A result as one line."""

    def default(value: Any) -> Any:
        if isinstance(value, bytes):
            return base64.b64encode(value).decode()
        raise TypeError(type(value).__name__)

    return orjson.dumps(asdict(result), default=default) + b"\n"


def get_ready() -> None:
    """Load what every audit needs. It stays for good, so the collector of garbage passes it over."""
    warm_up()
    gc.set_threshold(COLLECT_AFTER, *gc.get_threshold()[1:])
    gc.collect()
    gc.freeze()


async def _lines() -> asyncio.StreamReader:
    reader = asyncio.StreamReader(limit=LINE_LIMIT)
    await asyncio.get_running_loop().connect_read_pipe(lambda: asyncio.StreamReaderProtocol(reader), sys.stdin)
    return reader


async def _answers() -> asyncio.StreamWriter:
    """Standard output, written without ever holding up the loop: audits go on while the parent is busy."""
    loop = asyncio.get_running_loop()
    transport, protocol = await loop.connect_write_pipe(asyncio.streams.FlowControlMixin, sys.stdout)
    return asyncio.StreamWriter(transport, protocol, None, loop)


@asynccontextmanager
async def open_auditor(settings: Settings) -> AsyncIterator[Auditor]:
    """An auditor with its clients, ready for its first audit."""
    get_ready()
    allow = settings.world is not None
    async with Client(settings) as client, Client(settings, allow_private=allow) as sources:
        yield Auditor(client, settings, sources)


async def answer(auditor: Auditor, settings: Settings, body: bytes) -> bytes:
    """Make the audit that a line asks for; the result as one line. Raises TimeoutError where it takes too long."""
    task = TASK.validate_json(body)
    seconds = seconds_for(task, settings)
    try:
        async with asyncio.timeout(seconds):
            return encode(await auditor.audit(task))
    except TimeoutError:
        raise TimeoutError(f"it was not done after {seconds:g} s") from None


async def _work() -> None:
    asyncio.get_running_loop().set_exception_handler(pass_over_lost)
    reader = await _lines()
    settings = Settings.model_validate_json(await reader.readline())
    out = await _answers()
    async with open_auditor(settings) as auditor:

        async def one(line: bytes) -> None:
            serial, _, body = line.partition(b" ")
            try:
                reply = await answer(auditor, settings, body)
            except TimeoutError as late:
                reply = FAILED + f"{late}\n".encode()
            except Exception as error:  # every task is answered: who waits for it must learn at once that it failed
                reply = (
                    FAILED + f"{type(error).__name__}: {error}".replace("\n", " ").encode("utf-8", "replace") + b"\n"
                )
            out.write(serial + b" " + reply)
            await out.drain()

        async def beat() -> None:
            while True:
                out.write(BEAT + b"\n")
                await asyncio.sleep(BEAT_S)

        beating = asyncio.create_task(beat())
        running: set[asyncio.Task[None]] = set()
        while line := await reader.readline():
            task = asyncio.create_task(one(line))
            running.add(task)
            task.add_done_callback(running.discard)
        for left in (beating, *running):
            left.cancel()


if __name__ == "__main__":
    os.nice(NICENESS)
    uvloop.install()
    asyncio.run(_work())
