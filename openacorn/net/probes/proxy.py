"""The only way out for a browser: a small proxy that asks the guarded resolver, so that no page can reach a private address.

A browser resolves names by itself and follows whatever a page says. Behind this proxy every connection it opens is checked
on the resolved address, exactly as the HTTP client's are.
"""

import asyncio
import contextlib
from types import TracebackType
from typing import Self

from openacorn.net.errors import FetchError
from openacorn.net.resolver import GuardedResolver, UnknownNameError

HEAD_LIMIT = 64_000
CONNECT_SECONDS = 8.0
CHUNK = 65_536
REFUSED = b"HTTP/1.1 403 Forbidden\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"
OPENED = b"HTTP/1.1 200 Connection established\r\n\r\n"


class GuardedProxy:
    """An HTTP proxy on loopback for one browser. Use as `async with GuardedProxy(resolver) as proxy`."""

    def __init__(self, resolver: GuardedResolver) -> None:
        self._resolver = resolver
        self._open: set[asyncio.Task[None]] = set()
        self.refused: list[str] = []
        """Hosts that the browser asked for and was not let through to."""

    async def __aenter__(self) -> Self:
        self._server = await asyncio.start_server(self._serve, "127.0.0.1", 0, limit=HEAD_LIMIT)
        return self

    async def __aexit__(
        self, kind: type[BaseException] | None, value: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._server.close()
        for task in self._open:
            task.cancel()
        await asyncio.gather(*self._open, return_exceptions=True)

    @property
    def port(self) -> int:
        """Where the browser finds it."""
        return int(self._server.sockets[0].getsockname()[1])

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Serve one connection of the browser; whatever becomes of it, both its ends are closed."""
        task = asyncio.current_task()
        assert task is not None
        self._open.add(task)
        try:
            await self._pass_on(reader, writer)
        except (FetchError, OSError, ValueError, asyncio.IncompleteReadError, asyncio.LimitOverrunError):
            with contextlib.suppress(OSError):
                writer.write(REFUSED)
                await writer.drain()
        except asyncio.CancelledError:
            pass  # the proxy ends, and with it its connections: nobody waits for this task
        finally:
            writer.close()
            self._open.discard(task)

    async def _pass_on(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        head = await reader.readuntil(b"\r\n\r\n")
        method, target, rest = head.split(b" ", 2)
        host, port, sent = _destination(method, target, rest)
        far_reader, far_writer = await self._connect(host, port)
        try:
            if method == b"CONNECT":
                writer.write(OPENED)
            else:
                far_writer.write(sent)
            await asyncio.gather(_pump(reader, far_writer), _pump(far_reader, writer))
        finally:
            far_writer.close()

    async def _connect(self, host: str, port: int) -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
        try:
            (found, *_) = await self._resolver.resolve(host, port)
        except (FetchError, UnknownNameError):
            self.refused.append(host)
            raise
        async with asyncio.timeout(CONNECT_SECONDS):
            return await asyncio.open_connection(found["host"], found["port"])


def _destination(method: bytes, target: bytes, rest: bytes) -> tuple[str, int, bytes]:
    """(host, port, what to send there) of a proxy request (RFC 9112, 3.2.2 and 3.2.3). Raises ValueError."""
    if method == b"CONNECT":
        host, _, port = target.decode("latin-1").rpartition(":")
        return host.strip("[]"), int(port), b""
    whole = target.decode("latin-1")
    if not whole.startswith("http://"):
        raise ValueError(whole)
    authority, _, path = whole.removeprefix("http://").partition("/")
    host, _, port = authority.partition(":")
    # one request a connection: the next may be for another host
    lines = [line for line in rest.split(b"\r\n") if not line.lower().startswith((b"proxy-", b"connection:"))]
    head = b"\r\n".join([*lines[:-2], b"Connection: close", b"", b""])
    return host, int(port or 80), method + b" /" + path.encode("latin-1") + b" " + head


async def _pump(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    try:
        while data := await reader.read(CHUNK):
            writer.write(data)
            await writer.drain()
    except OSError:
        pass
    finally:
        with contextlib.suppress(OSError):
            writer.close()
