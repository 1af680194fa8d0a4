"""The only way out for a browser: a small proxy that asks the guarded resolver, so that no page can reach a private address.

A browser resolves names by itself and follows whatever a page says. Behind this proxy every connection it opens is checked
on the resolved address, exactly as the HTTP client's are.
"""

import asyncio
import contextlib
from types import TracebackType
from typing import Self

from openacorn.net.errors import FetchError
from openacorn.net.resolver import GuardedResolver, NameError_

HEAD_LIMIT = 64_000
CONNECT_SECONDS = 8.0
CHUNK = 65_536
REFUSED = b"HTTP/1.1 403 Forbidden\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"
OPENED = b"HTTP/1.1 200 Connection established\r\n\r\n"


class GuardedProxy:
    """An HTTP proxy on loopback for one browser. Use as `async with GuardedProxy(resolver) as proxy`."""

    def __init__(self, resolver: GuardedResolver) -> None:
        self._resolver = resolver
        self.refused: list[str] = []
        """Hosts that the browser asked for and was not let through to."""

    async def __aenter__(self) -> Self:
        self._server = await asyncio.start_server(self._serve, "127.0.0.1", 0, limit=HEAD_LIMIT)
        return self

    async def __aexit__(
        self, kind: type[BaseException] | None, value: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._server.close()

    @property
    def port(self) -> int:
        """Where the browser finds it."""
        return int(self._server.sockets[0].getsockname()[1])

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            head = await reader.readuntil(b"\r\n\r\n")
            method, target, rest = head.split(b" ", 2)
            host, port, sent = _destination(method, target, rest)
            there = await self._connect(host, port)
        except (FetchError, OSError, ValueError, TimeoutError, asyncio.IncompleteReadError, asyncio.LimitOverrunError):
            with contextlib.suppress(OSError):
                writer.write(REFUSED)
                await writer.drain()
            writer.close()
            return
        far_reader, far_writer = there
        if method == b"CONNECT":
            writer.write(OPENED)
        else:
            far_writer.write(sent)
        await asyncio.gather(_pump(reader, far_writer), _pump(far_reader, writer), return_exceptions=True)

    async def _connect(self, host: str, port: int) -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
        try:
            (found, *_) = await self._resolver.resolve(host, port)
        except (FetchError, NameError_):
            self.refused.append(host)
            raise
        return await asyncio.wait_for(asyncio.open_connection(found["host"], found["port"]), CONNECT_SECONDS)


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
