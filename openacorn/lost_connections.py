"""What an event loop says of connections that the other side has given up: nothing."""

import asyncio
import ssl
from typing import Any

CLOSED = "the handler is closed"
"""How uvloop's error ends where it was asked to write to a connection that is closed."""


def pass_over_lost(loop: asyncio.AbstractEventLoop, context: dict[str, Any]) -> None:
    """Handle what a loop reports, as `loop.set_exception_handler` asks for it.

    A secured connection that is closed while an answer is being written ends in an error that nobody can do anything about; who
    waits for it learns of its end by its protocol. The same holds for a handshake that fails once nobody waits for it any more. All
    other reports are logged as usual.
    """
    if not _is_gone(context):
        loop.default_exception_handler(context)


def _is_gone(context: dict[str, Any]) -> bool:
    """Is the report about a connection that is closed? uvloop says so in its error alone where the other side closed it."""
    is_closing = getattr(context.get("transport"), "is_closing", None)
    error = context.get("exception")
    if isinstance(error, ssl.SSLError) and isinstance(context.get("future"), asyncio.Future):
        return True  # a handshake whose asker had given up before it failed
    closed = isinstance(error, RuntimeError) and CLOSED in str(error)
    return closed or (is_closing is not None and is_closing())
