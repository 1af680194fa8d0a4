"""An audit worker: a process of its own that fetches and parses in one loop. `python -m openacorn.jobs.worker`.

The settings come as the first line on standard input, then tasks, a line each (a serial, a space, JSON); results go the same way
to standard output. When standard input ends, so does the worker: a killed parent leaves none behind.
"""

import asyncio
import base64
import sys
from dataclasses import asdict
from typing import Any

import orjson
import uvloop

from openacorn.jobs.judging import Auditor, AuditTask
from openacorn.net.client import Client
from openacorn.settings import Settings
from openacorn.store.audits import StoredAudit

LINE_LIMIT = 64 * 1024 * 1024
FAILED = b"!"
"""What an answer begins with that is the reason of a failure and no result."""


def encode(result: StoredAudit) -> bytes:
    """A result as one line."""

    def default(value: Any) -> Any:
        if isinstance(value, bytes):
            return base64.b64encode(value).decode()
        raise TypeError(type(value).__name__)

    return orjson.dumps(asdict(result), default=default) + b"\n"


async def _lines() -> asyncio.StreamReader:
    reader = asyncio.StreamReader(limit=LINE_LIMIT)
    await asyncio.get_running_loop().connect_read_pipe(lambda: asyncio.StreamReaderProtocol(reader), sys.stdin)
    return reader


async def _work() -> None:
    reader = await _lines()
    settings = Settings.model_validate_json(await reader.readline())
    out = sys.stdout.buffer
    allow = settings.world is not None
    async with Client(settings) as client, Client(settings, allow_private=allow) as sources:
        auditor = Auditor(client, settings, sources)

        async def one(line: bytes) -> None:
            serial, _, body = line.partition(b" ")
            try:
                said = encode(await auditor.audit(AuditTask(**orjson.loads(body))))
            except Exception as error:  # every task is answered: who waits for it must learn at once that it failed
                said = FAILED + f"{type(error).__name__}: {error}".replace("\n", " ").encode("utf-8", "replace") + b"\n"
            out.write(serial + b" " + said)
            out.flush()

        running: set[asyncio.Task[None]] = set()
        while line := await reader.readline():
            task = asyncio.create_task(one(line))
            running.add(task)
            task.add_done_callback(running.discard)
        for task in running:
            task.cancel()


if __name__ == "__main__":
    uvloop.install()
    asyncio.run(_work())
