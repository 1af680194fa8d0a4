"""Small servers that a test writes for itself: asyncio on loopback, ended whole when the test leaves them."""

import asyncio
import contextlib
from collections.abc import AsyncIterator, Awaitable, Callable

Serve = Callable[[asyncio.StreamReader, asyncio.StreamWriter], Awaitable[None]]


@contextlib.asynccontextmanager
async def serving(serve: Serve) -> AsyncIterator[str]:
    """Answer each connection with `serve`; yield the server's address without a final slash.

    A browser opens connections that it never uses: whatever becomes of one, its writer is closed.
    """
    open_now: set[asyncio.Task[None]] = set()

    async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        task = asyncio.current_task()
        assert task is not None
        open_now.add(task)
        try:
            with contextlib.suppress(ConnectionError, asyncio.IncompleteReadError, asyncio.CancelledError):
                await serve(reader, writer)
        finally:
            writer.close()
            open_now.discard(task)

    server = await asyncio.start_server(answer, "127.0.0.1", 0)
    try:
        yield f"http://127.0.0.1:{server.sockets[0].getsockname()[1]}"
    finally:
        server.close()
        for task in open_now:
            task.cancel()
        await asyncio.gather(*open_now, return_exceptions=True)
