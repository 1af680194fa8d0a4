"""Threads for routes: those who write or come from outside have their own few, so that those who read never wait for them."""

import inspect
from collections.abc import Callable
from functools import partial, wraps
from typing import Any

import anyio
from fastapi.routing import APIRoute

from openacorn.db.writers_queue import for_somebody

WRITERS = anyio.CapacityLimiter(8)
"""Of the application's own routes that change something: they wait for the one writer."""

OUTSIDERS = anyio.CapacityLimiter(6)
"""Of owners' pages: however many open them at once, the agency's desk has its threads."""


def _soon(endpoint: Callable[..., Any], args: tuple[Any, ...], named: dict[str, Any]) -> Any:
    with for_somebody():
        return endpoint(*args, **named)


def _within(limiter: anyio.CapacityLimiter, endpoint: Callable[..., Any]) -> Callable[..., Any]:
    @wraps(endpoint)
    async def limited(*args: Any, **named: Any) -> Any:
        return await anyio.to_thread.run_sync(partial(_soon, endpoint, args, named), limiter=limiter)

    return limited


class OwnersRoute(APIRoute):
    """A route of owners' pages."""

    limiter = OUTSIDERS
    limited = frozenset({"GET", "HEAD", "POST"})
    """Methods whose routes, if they block, run in the limiter's threads."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **how: Any) -> None:
        if self.limited & set(how.get("methods") or {"GET"}) and not inspect.iscoroutinefunction(endpoint):
            endpoint = _within(self.limiter, endpoint)
        super().__init__(path, endpoint, **how)


class DeskRoute(OwnersRoute):
    """A route of the application."""

    limiter = WRITERS
    limited = frozenset({"POST", "PUT", "PATCH", "DELETE"})
