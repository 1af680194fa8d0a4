"""An audit worker: a process of its own that fetches and parses in one loop; `spawner.py` forks it.

The settings come as the first line of its socket, then tasks, a line each (a serial, a space, JSON); results go back the same way,
with a sign of life (serial 0) now and then. When what comes in ends, so does the worker: a killed parent leaves none behind.
"""

import asyncio
import base64
import os
import socket
import traceback
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import asdict
from functools import cache
from typing import Any, NoReturn

import orjson
import uvloop
from pydantic import TypeAdapter

from openacorn.audit.auditor import Auditor, AuditTask
from openacorn.business.store.audits import StoredAudit
from openacorn.collecting import collect_seldom, keep_for_good
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

BEAT_S = 2.0
"""Rest between two signs of life."""

TASK_S = 300.0
"""An audit that takes longer is given up; each of its parts has a much lower limit."""


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


@cache
def get_ready() -> None:
    """Load what every audit needs, once: forks have it. It stays for good, so the collector of garbage passes it over."""
    warm_up()
    collect_seldom()
    keep_for_good()


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


async def _work(end: socket.socket) -> None:
    asyncio.get_running_loop().set_exception_handler(pass_over_lost)
    reader, out = await asyncio.open_unix_connection(sock=end, limit=LINE_LIMIT)
    settings = Settings.model_validate_json(await reader.readline())
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


def work(end: socket.socket) -> NoReturn:
    """Be a worker, in a process that was forked for it, until nothing more comes."""
    os.setsid()
    os.nice(NICENESS)
    status = 1
    try:
        uvloop.install()
        asyncio.run(_work(end))
        status = 0
    except BaseException:  # a fork must not go on with what its parent had begun
        traceback.print_exc()
    finally:
        os._exit(status)
