"""A pool of audit workers: whole processes, each fetching and parsing."""

import asyncio
import base64
import contextlib
import os
import signal
import socket
import time
from dataclasses import asdict
from typing import Any, Protocol

import orjson
from pydantic import TypeAdapter

from openacorn.audit.auditor import AuditTask
from openacorn.audit.spawner import Spawner, SpawnerLost, get_spawner
from openacorn.audit.worker import BEAT, FAILED, LINE_LIMIT
from openacorn.business.store.audits import StoredAudit
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.verification import Verified
from openacorn.settings import Settings

_VERIFIED = TypeAdapter(list[Verified])
_FINDINGS = TypeAdapter(dict[str, Finding])


class AuditFailed(Exception):
    """An audit was not made; the message says why. It can be tried again."""


class WorkerLost(AuditFailed):
    """A worker process ended while it had work."""


def decode(line: bytes) -> StoredAudit:
    """A worker's line back to a result."""
    raw: dict[str, Any] = orjson.loads(line)
    return StoredAudit(
        business_id=raw["business_id"],
        website=raw["website"],
        at=raw["at"],
        seconds=raw["seconds"],
        crawl=base64.b64decode(raw["crawl"]) if raw["crawl"] is not None else None,
        pages=[(url, at, kind, base64.b64decode(body)) for url, at, kind, body in raw["pages"]],
        findings=_FINDINGS.validate_python(raw["findings"]),
        contacts=[tuple(contact) for contact in raw["contacts"]],
        site_name=raw["site_name"],
        found=raw["found"],
        around=raw["around"],
        text=raw["text"],
        verified=_VERIFIED.validate_python(raw["verified"]),
        pictures=[(kind, base64.b64decode(body)) for kind, body in raw["pictures"]],
    )


STANDSTILL_S = 60.0
"""A worker that has work and gives no sign of life for this long hangs."""


class _Worker:
    """A worker as the pool sees it. served: the streams of its socket, which end when the process does."""

    def __init__(
        self, pid: int, served: tuple[asyncio.StreamReader, asyncio.StreamWriter], spawner: Spawner, standstill_s: float
    ) -> None:
        self.pid = pid
        self._answers, self._asked = served
        self._spawner, self._standstill_s = spawner, standstill_s
        self._moved = time.monotonic()
        self._waiting: dict[int, asyncio.Future[StoredAudit]] = {}
        self._retiring = False
        self.reading = asyncio.create_task(self._read())

    @property
    def busy(self) -> int:
        """How many audits it has in hand."""
        return len(self._waiting)

    def _wait_for(self, serial: int) -> asyncio.Future[StoredAudit]:
        """What will hold the result of a task about to be given."""
        if not self._waiting:
            self._moved = time.monotonic()
        future: asyncio.Future[StoredAudit] = asyncio.get_running_loop().create_future()
        self._waiting[serial] = future
        return future

    async def _line(self) -> bytes:
        """The next line, b"" at the end; a worker that stands still is ended."""
        while True:
            try:
                return await asyncio.wait_for(self._answers.readline(), self._standstill_s / 4)
            except TimeoutError:
                if self._waiting and time.monotonic() - self._moved > self._standstill_s:
                    self.kill()

    async def _read(self) -> None:
        why = "an audit worker ended"
        try:
            # the last line of a worker that was killed may be half a line
            while (line := await self._line()).endswith(b"\n"):
                self._moved = time.monotonic()
                await self._take(*line.rstrip().split(b" ", 1))
                if self._retiring and not self._waiting:
                    self.end_input()
        except (ValueError, KeyError, TypeError) as error:  # too long, or none of ours: nothing after it can be trusted
            why = f"an audit worker said what cannot be read ({str(error)[:80]})"
            self.kill()
        except ConnectionError:  # how the end of one that was killed may show
            pass
        self._asked.close()
        with contextlib.suppress(SpawnerLost):
            why += f" (exit {await asyncio.to_thread(self._spawner.exit_status, self.pid)})"
        for future in self._waiting.values():
            if not future.done():
                future.set_exception(WorkerLost(why))
        self._waiting.clear()

    async def _take(self, serial: bytes, body: bytes = b"") -> None:
        """Hand an answer to who waits for it. Raises ValueError, KeyError, TypeError if it is none."""
        if serial == BEAT:
            return
        failed = body.startswith(FAILED)
        result = None if failed else await asyncio.to_thread(decode, body)  # some megabytes of pages
        future = self._waiting.pop(int(serial), None)
        if future is None or future.done():
            return
        if result is None:
            future.set_exception(AuditFailed(body.removeprefix(FAILED).decode().strip()))
        else:
            future.set_result(result)

    async def do(self, serial: int, task: AuditTask) -> StoredAudit:
        """Have it make an audit. Raises AuditFailed, WorkerLost."""
        future = self._wait_for(serial)
        try:
            if not self.alive:
                raise WorkerLost("an audit worker ended before it took its task")
            self._asked.write(b"%d %s\n" % (serial, orjson.dumps(asdict(task))))
        except (OSError, RuntimeError) as error:
            raise WorkerLost(f"an audit worker could not be given its task: {error}") from error
        return await future

    @property
    def alive(self) -> bool:
        return not self.reading.done()

    def retire(self) -> None:
        """End once what is in hand is done."""
        self._retiring = True
        if not self._waiting:
            self.end_input()

    def kill(self) -> None:
        """End the process, unless it has ended meanwhile."""
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)

    def end_input(self) -> None:
        """Tell the process that nothing more comes, which ends it."""
        with contextlib.suppress(OSError, RuntimeError):  # it may have ended meanwhile
            self._asked.write_eof()


class AuditPool(Protocol):
    """Makes audits elsewhere than in the application's own process. capacity: tasks worth having in flight."""

    capacity: int

    async def audit(self, task: AuditTask) -> StoredAudit:
        """Have one business audited. Raises AuditFailed, WorkerLost; it can be given again."""

    def renew(self) -> None:
        """Have later audits made by the settings as they are now."""

    async def close(self) -> None:
        """End what was begun for it."""


class Pool:
    """Starts its workers with the first task and replaces one that dies. `capacity`: tasks worth having in flight.

    What a worker had in hand when it died is tried once more, one at a time in a worker of its own: whichever of them it was
    that ended the first one takes no other with it again.
    """

    def __init__(self, settings: Settings, standstill_s: float = STANDSTILL_S) -> None:
        self._settings, self._standstill_s = settings, standstill_s
        self._workers: list[_Worker] = []
        self._retired: list[_Worker] = []
        self._lone: _Worker | None = None
        self._spawner: Spawner | None = None
        self._second_chances = 0
        self._alone = asyncio.Lock()
        self._starting = asyncio.Lock()
        self._serial = 0
        self.capacity = settings.workers * settings.sites_in_flight

    async def audit(self, task: AuditTask) -> StoredAudit:
        """Have one business audited. Raises AuditFailed, WorkerLost if two workers in turn die of it; it can be given again."""
        try:
            return await (await self._ready()).do(self._next_serial(), task)
        except WorkerLost:
            self._second_chances += 1
        try:
            async with self._alone:
                if self._lone is None or not self._lone.alive:
                    self._lone = await self._start()
                return await self._lone.do(self._next_serial(), task)
        finally:
            self._second_chances -= 1
            if not self._second_chances and self._lone is not None:
                self._retired = [*(worker for worker in self._retired if worker.alive), self._lone]
                self._lone.retire()
                self._lone = None

    def _next_serial(self) -> int:
        self._serial += 1  # not the business's id: two runs may audit the same one at once
        return self._serial

    async def _ready(self) -> _Worker:
        async with self._starting:
            self._workers = [worker for worker in self._workers if worker.alive]
            while len(self._workers) < self._settings.workers:
                self._workers.append(await self._start())
        return min(self._workers, key=lambda worker: worker.busy)

    async def _start(self) -> _Worker:
        """A new worker. Raises AuditFailed."""
        try:
            pid, end = await self._spawn()
            served = await asyncio.open_unix_connection(sock=end, limit=LINE_LIMIT)
            # not among the arguments of a process: these can be read by every user of the machine, and settings hold keys
            served[1].write(self._settings.model_dump_json().encode() + b"\n")
        except OSError as error:
            raise AuditFailed(f"no audit worker could be started: {error.strerror or error}") from error
        assert self._spawner is not None
        return _Worker(pid, served, self._spawner, self._standstill_s)

    async def _spawn(self) -> tuple[int, socket.socket]:
        """Have a worker forked; if what forks them has ended, start another. Raises AuditFailed, OSError."""
        if self._spawner is None:
            self._spawner = await asyncio.to_thread(get_spawner)
        try:
            return await asyncio.to_thread(self._spawner.spawn)
        except SpawnerLost:
            await asyncio.to_thread(self._spawner.close)
            self._spawner = await asyncio.to_thread(Spawner.start)
        try:
            return await asyncio.to_thread(self._spawner.spawn)
        except SpawnerLost as lost:
            raise AuditFailed(str(lost)) from lost

    def renew(self) -> None:
        """Have later audits made by new workers, which know the settings as they are now."""
        for worker in self._workers:
            worker.retire()
        self._retired = [worker for worker in (*self._retired, *self._workers) if worker.alive]
        self._workers = []

    async def close(self) -> None:
        """End the workers."""
        workers = [*self._workers, *self._retired, *([self._lone] if self._lone else [])]
        for worker in workers:
            worker.end_input()
        for worker in workers:
            try:
                await asyncio.wait_for(asyncio.shield(worker.reading), 3)
            except TimeoutError:
                worker.kill()
                await worker.reading
        self._workers, self._retired = [], []
        if self._spawner is not None:
            await asyncio.to_thread(self._spawner.close)
            self._spawner = None
