"""Pace by host: nothing bypasses it."""

import asyncio
import time
from collections import defaultdict
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager


class Pace:
    """Lets one request at a time through to a host, at least `gap_s` after the last began; a host may be given a rest."""

    def __init__(self) -> None:
        self._locks: dict[str, asyncio.Lock] = defaultdict(asyncio.Lock)
        self._free_at: dict[str, float] = {}

    @asynccontextmanager
    async def turn(self, host: str, gap_s: float) -> AsyncIterator[None]:
        """Wait for this host's turn. Only the start is paced: slow answers may overlap."""
        async with self._locks[host]:
            wait = self._free_at.get(host, 0.0) - time.monotonic()
            if wait > 0:
                await asyncio.sleep(wait)
            self._free_at[host] = time.monotonic() + gap_s
        yield

    def rest(self, host: str, seconds: float) -> None:
        """Nobody asks `host` for the next `seconds` (429, 503 with Retry-After)."""
        self._free_at[host] = max(self._free_at.get(host, 0.0), time.monotonic() + seconds)
