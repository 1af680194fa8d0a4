"""Something that is done again and again for as long as the application runs, one time after the other."""

import asyncio
import logging
import sqlite3
from contextlib import suppress

log = logging.getLogger(__name__)


class Recurring:
    """Subclasses say what a round is; whatever must not overlap with one holds `_turn`. trouble: what a failed round is logged as;
    rest_s: seconds after one."""

    def __init__(self, trouble: str, rest_s: float) -> None:
        self._trouble, self._rest_s = trouble, rest_s
        self._turn, self._woken = asyncio.Lock(), asyncio.Event()
        self._task: asyncio.Task[None] | None = None
        self._loop = asyncio.get_running_loop()

    def begin(self) -> None:
        """Go round from now on."""
        self._task = asyncio.create_task(self._go_on())

    async def close(self) -> None:
        """Stop; what is in hand is finished first."""
        if self._task is not None:
            async with self._turn:
                self._task.cancel()
            with suppress(asyncio.CancelledError):
                await self._task

    def wake(self) -> None:
        """Begin the next round at once: something has changed. From any thread."""
        self._loop.call_soon_threadsafe(self._woken.set)

    async def _first(self) -> None:
        """What is done once, before the first round."""

    async def _round(self) -> float:
        """Do it once; return the seconds to rest."""
        raise NotImplementedError

    async def _go_on(self) -> None:
        await self._first()
        while True:
            rest = self._rest_s
            try:
                rest = await self._round()
            except sqlite3.OperationalError as error:  # the disk is full: it is tried again
                log.warning("%s: %s", self._trouble, error)
            except Exception:  # a fault of ours is seen and tried again; it must not end this for good
                log.exception(self._trouble)
            with suppress(TimeoutError):
                await asyncio.wait_for(self._woken.wait(), rest)
            self._woken.clear()
