"""A small HTTP/1.1 server protocol: pages from memory, and the faults that an ordinary server cannot show."""

import asyncio
import gzip
import json
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from http import HTTPStatus
from typing import Any

MAX_HEAD = 64_000


@dataclass(frozen=True, slots=True)
class Asked:
    """One request as a server sees it."""

    method: str
    host: str
    target: str
    headers: Mapping[str, str]
    secure: bool
    body: bytes = b""


@dataclass(slots=True)
class Reply:
    """What to send. `delay_s` before the first byte; `hang`: never; `size`: pretend a body of that many zero bytes."""

    status: int = 200
    body: bytes = b""
    content_type: str = "text/html; charset=utf-8"
    headers: dict[str, str] = field(default_factory=dict)
    delay_s: float = 0.0
    hang: bool = False
    drop: bool = False
    size: int | None = None
    compress: bool = False


def json_reply(status: int, value: Any) -> Reply:
    """A reply whose body is `value` as JSON."""
    return Reply(status, json.dumps(value, ensure_ascii=False).encode(), "application/json")


@lru_cache(maxsize=20_000)
def _squeezed(body: bytes) -> bytes:
    return gzip.compress(body, 5, mtime=0)


class HttpProtocol(asyncio.Protocol):
    """Reads requests, answers with what `handle` returns, keeps the connection open."""

    def __init__(self, handle: Callable[[Asked], Reply]) -> None:
        self._handle = handle
        self._buffer = b""
        self._transport: asyncio.Transport | None = None
        self._secure = False
        self._waiting: set[asyncio.TimerHandle] = set()

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        """A client connected."""
        assert isinstance(transport, asyncio.Transport) or hasattr(transport, "write")
        self._transport = transport  # type: ignore[assignment]
        tls: Any = transport.get_extra_info("ssl_object")
        self._secure = tls is not None

    def connection_lost(self, exc: Exception | None) -> None:  # noqa: ARG002 - the interface's
        """The client left: nothing waiting is sent."""
        for timer in self._waiting:
            timer.cancel()
        self._transport = None

    def data_received(self, data: bytes) -> None:
        """A blank line ends the head; a body is as long as its Content-Length says."""
        self._buffer += data
        while (end := self._buffer.find(b"\r\n\r\n")) != -1:
            head = self._buffer[:end].decode("latin-1")
            result = re.search(r"(?mi)^content-length: *(\d+)", head)
            whole = end + 4 + (int(result.group(1)) if result else 0)
            if whole > MAX_HEAD or len(self._buffer) < whole:
                break
            body, self._buffer = self._buffer[end + 4 : whole], self._buffer[whole:]
            self._answer(head, body)
        if len(self._buffer) > MAX_HEAD and self._transport:
            self._transport.close()

    def _answer(self, head: str, body: bytes) -> None:
        lines = head.split("\r\n")
        method, _, rest = lines[0].partition(" ")
        headers = {name.lower(): value.strip() for name, _, value in (line.partition(":") for line in lines[1:])}
        asked = Asked(
            method,
            headers.get("host", "").partition(":")[0].lower(),
            rest.rpartition(" ")[0],
            headers,
            self._secure,
            body,
        )
        reply = self._handle(asked)
        if reply.hang:
            return
        if reply.drop and self._transport:
            self._transport.abort()
            return
        if reply.delay_s:
            loop = asyncio.get_running_loop()
            self._waiting.add(loop.call_later(reply.delay_s, self._send, asked, reply))
        else:
            self._send(asked, reply)

    def _send(self, asked: Asked, reply: Reply) -> None:
        if self._transport is None:
            return
        body, headers = reply.body, dict(reply.headers)
        if reply.compress and "gzip" in asked.headers.get("accept-encoding", "") and body:
            body = _squeezed(body)
            headers["Content-Encoding"] = "gzip"
        length = reply.size if reply.size is not None else len(body)
        try:
            phrase = HTTPStatus(reply.status).phrase
        except ValueError:
            phrase = "Unknown"
        head = [f"HTTP/1.1 {reply.status} {phrase}"]
        head += [
            f"{name}: {value}"
            for name, value in ({"Content-Type": reply.content_type, "Content-Length": str(length)} | headers).items()
        ]
        self._transport.write("\r\n".join([*head, "", ""]).encode("latin-1"))
        if asked.method != "HEAD":
            self._transport.write(body if reply.size is None else bytes(reply.size))
