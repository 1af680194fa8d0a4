"""Did this process's own event loop stand still? Then what timed out meanwhile says nothing about who was asked."""

import asyncio
import time
from collections import deque
from collections.abc import Callable

BEAT_S = 0.1
KEPT = 200
"""Standstills remembered: the longest request is over long before so many are forgotten."""

STANDSTILL_S = 1.0
"""A busy loop is some tenths of a second late; one that is later than this stood still."""


OUR_SHARE = 0.3
"""From this share of the time on, what failed says nothing about who was asked."""


class Pulse:
    """Beats on the loop and remembers by how much each beat was late. `clock`: seconds, never set back."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._last = clock()
        self._late: deque[tuple[float, float]] = deque(maxlen=KEPT)

    async def beat_on(self) -> None:
        """Beat until cancelled."""
        self._last = self._clock()
        while True:
            await asyncio.sleep(BEAT_S)
            self.beat()

    def beat(self) -> None:
        """One beat: remember it if it was late."""
        moment = self._clock()
        late = moment - self._last - BEAT_S
        if late > BEAT_S:
            self._late.append((moment, late))
        self._last = moment

    def stood_still(self, since: float, least: float = STANDSTILL_S) -> float:
        """Seconds since `since` (of the clock) that the loop lost in standstills of at least `least` seconds."""
        moment = self._clock()
        spans = [*self._late, (moment, moment - self._last - BEAT_S)]  # the last beat may be late just now
        inside = ((min(late, end - since), late) for end, late in spans if end > since)
        return sum(part for part, late in inside if late >= least)

    def is_ours(self, since: float) -> float:
        """Seconds lost in standstills since `since`, if what failed meanwhile may be our own doing; else 0.

        A second of ten leaves a server nine to answer in: that it did not is not our fault.
        """
        lost = self.stood_still(since)
        return lost if lost >= OUR_SHARE * (self._clock() - since) else 0.0
