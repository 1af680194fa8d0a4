"""The only way out for a browser: a small proxy that asks the guarded resolver, so that no page can reach a private address.

A browser resolves names on its own and follows what a page says. Behind this proxy every connection it opens is checked
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
MOST_LINES = 500
CHUNK = 65_536
REFUSED = b"HTTP/1.1 403 Forbidden\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"
OPENED = b"HTTP/1.1 200 Connection established\r\n\r\n"


class GuardedProxy:
    """An HTTP proxy on loopback for one browser. Use as `async with GuardedProxy(resolver) as proxy`; the resolver ends with it."""

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
        await self._resolver.close()

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
                await asyncio.gather(_pump(reader, far_writer), _pump(far_reader, writer))
            else:
                far_writer.write(sent)
                answered = asyncio.Event()
                await asyncio.gather(_pump(reader, far_writer, answered), _answer(far_reader, writer, answered))
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
    lines = [line for line in rest.split(b"\r\n") if not line.lower().startswith((b"proxy-", b"connection:"))]
    head = b"\r\n".join([*lines[:-2], b"Connection: close", b"", b""])
    return host, int(port or 80), method + b" /" + path.encode("latin-1") + b" " + head


async def _answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter, answered: asyncio.Event) -> None:
    """Pass an answer on, and tell the browser that the connection ends with it, whether or not the server will end it: the next
    request may be for another host, and is written as for a proxy."""
    while not answered.is_set():
        lines, end = await _head(reader)
        if not lines[0].split(b" ", 1)[-1].startswith(b"1"):  # else an interim answer (RFC 9110, 15.2)
            answered.set()
            kept = [line for line in lines[1:] if not line.lower().startswith((b"connection:", b"keep-alive:"))]
            lines = [lines[0], b"Connection: close\r\n", *kept]
        writer.write(b"".join(lines) + end)
    await _pump(reader, writer)


async def _head(reader: asyncio.StreamReader) -> tuple[list[bytes], bytes]:
    """(lines of an answer's head, the empty line after them). Raises ValueError for what is none."""
    lines: list[bytes] = []
    while (line := await reader.readline()) not in {b"\r\n", b"\n", b""} and len(lines) < MOST_LINES:
        lines.append(line)
    if not lines:
        raise ValueError("no answer")
    return lines, line


async def _pump(
    reader: asyncio.StreamReader, writer: asyncio.StreamWriter, unless: asyncio.Event | None = None
) -> None:
    """Pass on what comes until its end, which ends the other side too; what comes when `unless` is set is dropped."""
    try:
        while data := await reader.read(CHUNK):
            if unless is None or not unless.is_set():
                writer.write(data)
                await writer.drain()
    except OSError:
        pass
    finally:
        with contextlib.suppress(OSError):
            writer.close()
