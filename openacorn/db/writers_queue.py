"""The queue before the one writer: people first, then the program's own work, each in the order of arrival."""

import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager

MOST_AHEAD = 12
"""So many may go ahead of one who waits: a crowd of people does not keep a sweep from ever writing."""

_thread = threading.local()


@contextmanager
def for_somebody() -> Iterator[None]:
    """What this thread writes in the block, somebody waits for. Of the thread alone: tasks that it starts do not inherit it."""
    before = getattr(_thread, "somebody", False)
    _thread.somebody = True
    try:
        yield
    finally:
        _thread.somebody = before


class Queue:
    """A lock that is handed on: to people in the order of arrival, and to the others while none of them waits, or when they have
    waited for long enough. A frequent writer never overtakes one that waits in the same row."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._taken = False
        self._people: deque[threading.Lock] = deque()
        self._others: deque[threading.Lock] = deque()
        self._ahead = 0
        """People who went ahead since one of the others had their turn."""

    def __enter__(self) -> None:
        with self._lock:
            if not self._taken:
                self._taken = True
                return
            turn = threading.Lock()
            turn.acquire()
            (self._people if getattr(_thread, "somebody", False) else self._others).append(turn)
        turn.acquire()  # until the one before hands on

    def __exit__(self, *_: object) -> None:
        with self._lock:
            if self._people and (not self._others or self._ahead < MOST_AHEAD):
                self._ahead += bool(self._others)
                self._people.popleft().release()
            elif self._others:
                self._ahead = 0
                self._others.popleft().release()
            else:
                self._taken = False
