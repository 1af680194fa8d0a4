"""Watching a run: one reader a run, however many watch it."""

import asyncio
from collections.abc import AsyncIterator, Callable

EVERY_S = 0.5
Look = Callable[[], tuple[str, bool]]
"""Returns (the run as text, has it ended?); called in a thread."""


class _Watch:
    def __init__(self) -> None:
        self.text, self.number, self.over = "", 0, False
        self.watchers = 0
        self.moved = asyncio.Condition()
        self.fault: Exception | None = None


class Watching:
    """The runs that somebody watches now."""

    def __init__(self) -> None:
        self._watched: dict[int, _Watch] = {}
        self._reading: set[asyncio.Task[None]] = set()

    async def follow(self, run_id: int, look: Look) -> AsyncIterator[str]:
        """The run as text whenever it has changed, until it has ended. The first watcher's `look` serves for all."""
        watch = self._watched.get(run_id)
        if watch is None:
            watch = self._watched[run_id] = _Watch()
            reading = asyncio.create_task(self._read_on(run_id, watch, look))
            self._reading.add(reading)
            reading.add_done_callback(self._reading.discard)
        watch.watchers += 1
        seen = 0
        try:
            while True:
                async with watch.moved:
                    while not (watch.number > seen or watch.over):
                        await watch.moved.wait()
                if watch.fault is not None:
                    raise watch.fault
                if watch.number > seen:
                    seen = watch.number
                    yield watch.text
                elif watch.over:
                    return
        finally:
            watch.watchers -= 1

    async def _read_on(self, run_id: int, watch: _Watch, look: Look) -> None:
        """Read the run now and then as long as somebody watches it."""
        over = False
        while not over and (watch.watchers or not watch.number):
            text = watch.text
            try:
                text, over = await asyncio.to_thread(look)
            except Exception as error:  # who watches gets the error
                watch.fault, over = error, True
            if over:
                self._watched.pop(run_id, None)  # who comes now begins again: the run may have been resumed
            async with watch.moved:
                watch.number += text != watch.text
                watch.text, watch.over = text, over
                watch.moved.notify_all()
            if not over:
                await asyncio.sleep(EVERY_S)
        if self._watched.get(run_id) is watch:
            del self._watched[run_id]
        async with watch.moved:  # somebody may have come at the last moment
            watch.over = True
            watch.moved.notify_all()

    async def close(self) -> None:
        """Stop reading."""
        for reading in list(self._reading):
            reading.cancel()
        await asyncio.gather(*self._reading, return_exceptions=True)
