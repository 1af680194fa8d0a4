"""The browser's proxy on plain HTTP: one request a connection, whatever the server thinks of it."""

import asyncio

import pytest

from openacorn.net.probes.proxy import GuardedProxy
from openacorn.net.resolver import GuardedResolver
from tests.net.serving import serving

ANSWERS = {
    "kept open": b"HTTP/1.1 200 OK\r\nConnection: keep-alive\r\nKeep-Alive: timeout=60\r\nContent-Length: 5\r\n\r\nhello",
    "says nothing": b"HTTP/1.1 200 OK\r\nContent-Length: 5\r\n\r\nhello",
    "bare line ends": b"HTTP/1.1 200 OK\nContent-Length: 5\n\nhello",
    "early hints": b"HTTP/1.1 103 Early Hints\r\nLink: </a.css>\r\n\r\nHTTP/1.1 200 OK\r\nContent-Length: 5\r\n\r\nhello",
    "chunked": b"HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n5\r\nhello\r\n0\r\n\r\n",
}


@pytest.mark.parametrize("answer", ANSWERS.values(), ids=ANSWERS)
def test_a_server_that_keeps_the_connection_gets_no_second_request_on_it(answer: bytes) -> None:
    """Chromium asks for the next page on a connection that was not closed: it may be of another host, and in a proxy's form."""
    asked: list[bytes] = []

    async def server(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        while head := await reader.readuntil(b"\r\n\r\n"):  # for as long as anybody asks
            asked.append(head)
            writer.write(answer)
            await writer.drain()

    async def run() -> bytes:
        async with serving(server) as url, GuardedProxy(GuardedResolver(None, allow_private=True)) as proxy:
            reader, writer = await asyncio.open_connection("127.0.0.1", proxy.port)
            writer.write(
                f"POST {url}/one HTTP/1.1\r\nHost: x\r\nContent-Length: 3\r\nConnection: keep-alive\r\n\r\nabc".encode()
            )
            got = await asyncio.wait_for(reader.readuntil(b"hello"), 10)
            writer.write(f"GET {url}/two HTTP/1.1\r\nHost: x\r\n\r\n".encode())
            await writer.drain()
            await asyncio.sleep(0.2)
            writer.close()
            return got

    got = asyncio.run(run())
    assert b"\r\nconnection: close" in got.replace(b"\n", b"\r\n").lower()
    assert b"keep-alive" not in got.lower()
    assert len(asked) == 1
    assert asked[0].startswith(b"POST /one HTTP/1.1\r\n")
