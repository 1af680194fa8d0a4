"""What an event loop says of connections that the other side has given up: nothing."""

import asyncio
from typing import Any


def pass_over_lost(loop: asyncio.AbstractEventLoop, context: dict[str, Any]) -> None:
    """Handle what a loop reports, as `loop.set_exception_handler` asks for it.

    A secured connection that is closed while an answer is being written ends in an error that nobody can do anything about; whoever
    waits for it learns of its end by its protocol. All other reports are logged as usual.
    """
    is_closing = getattr(context.get("transport"), "is_closing", None)
    if is_closing is not None and is_closing():
        return
    loop.default_exception_handler(context)
