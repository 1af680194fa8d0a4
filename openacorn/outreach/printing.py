"""PDFs, made in processes of their own, so that nobody waits for them who asks for anything else."""

import asyncio
import contextlib
import hashlib
import multiprocessing
import os
from collections import OrderedDict
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool

from openacorn.core.report.pdf import to_pdf, warm
from openacorn.errors import Busy

AT_ONCE = max(1, min(2, (os.cpu_count() or 2) - 1))
"""One processor is left to people who wait at the screen."""

KEPT = 40
"""Finished PDFs that are kept, the latest used; each holds some 60 kB."""

MOST_WAITING = 100
SECONDS = 60.0
NICENESS = 10
"""PDFs come after what somebody waits for at the screen."""

Files = Mapping[str, tuple[str, bytes]]


class PressBusy(Busy):
    """A PDF cannot be made now; the message says why."""

    where = "pdf"
    remedy = "try again in a minute"


def _begin() -> None:
    os.nice(NICENESS)


class Press:
    """Makes PDFs, AT_ONCE at a time; what was made before of the same page is given out again."""

    def __init__(self) -> None:
        self.drawing = asyncio.Semaphore(AT_ONCE)
        """To be held while a page is drawn for printing: sixty at once would take the interpreter from everybody else."""
        self._pool: ProcessPoolExecutor | None = None
        self._made: OrderedDict[str, bytes] = OrderedDict()
        self._making: dict[str, asyncio.Task[bytes]] = {}

    async def pdf(self, html: str, files: Files | None = None) -> bytes:
        """A page as PDF; files as for `to_pdf`. Raises NoPdf; PressBusy if too many wait, or it takes too long."""
        key = _key(html, files or {})
        if key in self._made:
            self._made.move_to_end(key)
            return self._made[key]
        if key not in self._making:
            if len(self._making) >= MOST_WAITING:
                raise PressBusy("too many PDFs are being made")
            self._making[key] = asyncio.create_task(self._make(key, html, dict(files or {})))
        return await asyncio.shield(self._making[key])  # others may wait for it too

    async def _make(self, key: str, html: str, files: Files) -> bytes:
        try:
            async with asyncio.timeout(SECONDS * max(1, len(self._making) / AT_ONCE)):
                body = await asyncio.get_running_loop().run_in_executor(self._workers(), to_pdf, html, files)
        except TimeoutError:
            raise PressBusy(f"the PDF was not made within {SECONDS:g} s") from None
        except BrokenProcessPool:
            self._pool = None
            raise PressBusy("the program that makes PDFs ended") from None
        finally:
            del self._making[key]
        self._made[key] = body
        while len(self._made) > KEPT:
            self._made.popitem(last=False)
        return body

    def _workers(self) -> ProcessPoolExecutor:
        if self._pool is None:
            self._pool = ProcessPoolExecutor(AT_ONCE, multiprocessing.get_context("spawn"), _begin)
        return self._pool

    async def warm(self) -> None:
        """Have a worker load what the first PDF would otherwise wait for."""
        with contextlib.suppress(BrokenProcessPool):
            await asyncio.get_running_loop().run_in_executor(self._workers(), warm)

    def close(self) -> None:
        """End the workers."""
        if self._pool is not None:
            for process in list(
                (self._pool._processes or {}).values()
            ):  # the library has no public way to end one that is busy
                process.kill()
            self._pool.shutdown(wait=True, cancel_futures=True)
            self._pool = None


def _key(html: str, files: Files) -> str:
    whole = hashlib.sha256(html.encode())
    for path in sorted(files):
        whole.update(path.encode() + b"\0" + hashlib.sha256(files[path][1]).digest())
    return whole.hexdigest()
