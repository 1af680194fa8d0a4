"""Who has which business open to call just now: two people should not ring the same owner at once."""

import threading
import time

HELD_S = 40.0
"""A screen tells every 15 s that it is still open; after this it is taken to be closed."""


class Presence:
    """Kept in memory: who is where is of no interest tomorrow."""

    def __init__(self) -> None:
        self._open: dict[int, dict[str, float]] = {}
        self._lock = threading.Lock()

    def note(self, business: int, name: str, *, leaves: bool = False) -> list[str]:
        """Note that somebody has a business open, or closes it; return who else has it open."""
        at = time.monotonic()
        with self._lock:
            here = {who: seen for who, seen in self._open.get(business, {}).items() if at - seen < HELD_S}
            if leaves:
                here.pop(name, None)
            elif name:
                here[name] = at
            if here:
                self._open[business] = here
            else:
                self._open.pop(business, None)
            return sorted(set(here) - {name})
