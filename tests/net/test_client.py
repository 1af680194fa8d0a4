"""The client against servers that misbehave, each a real one on loopback."""

import asyncio
import gzip
import time
import zlib

import pytest

from openacorn.core.audit.evidence import Failure
from openacorn.net.ask import retry_after
from openacorn.net.client import MAX_BODY, Client
from openacorn.net.errors import FetchError
from openacorn.net.pace import Pace
from openacorn.net.probes.robots import read_robots
from openacorn.net.probes.site import SiteProbe
from openacorn.net.resolver import refuse_private
from openacorn.settings import Settings
from tests.net.serving import Serve, serving


def head(length: int | None, extra: str = "", status: str = "200 OK") -> bytes:
    size = "" if length is None else f"Content-Length: {length}\r\n"
    return f"HTTP/1.1 {status}\r\nContent-Type: text/html\r\n{size}{extra}Connection: close\r\n\r\n".encode()


def answering(*parts: bytes) -> Serve:
    """A server that sends the same bytes to whoever asks; robots.txt is answered with 404."""

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        request = await reader.readuntil(b"\r\n\r\n")
        chosen = (head(0, status="404 Not Found"),) if b"GET /robots.txt" in request else parts
        for part in chosen:
            writer.write(part)
            await writer.drain()

    return serve


async def hanging(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    await reader.read()


async def dripping(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    await reader.readuntil(b"\r\n\r\n")
    writer.write(head(10_000_000))
    while True:
        writer.write(b"x")
        await writer.drain()
        await asyncio.sleep(0.05)


async def looping(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    request = (await reader.readuntil(b"\r\n\r\n")).decode()
    path = request.split()[1]
    writer.write(
        head(0, f"Location: {path}x\r\n", "302 Found") if path != "/robots.txt" else head(0, status="404 Not Found")
    )
    await writer.drain()


def fetched(serve: Serve, seconds: float = 2.0) -> bytes:
    async def run() -> bytes:
        async with serving(serve) as url, Client(Settings(), allow_private=True) as client:
            return (await client.fetch(f"{url}/", seconds=seconds)).body

    return asyncio.run(run())


def failure_of(serve: Serve, seconds: float = 0.4) -> Failure:
    for _ in range(5):  # on a machine that is busy with other things this very process may stand still: then once more
        with pytest.raises(FetchError) as caught:
            fetched(serve, seconds)
        if caught.value.failure is not Failure.BUSY:
            break
    return caught.value.failure


BOMB = gzip.compress(b"\0" * 300_000_000, 9)
BODY = b"<title>Harbour Vets</title>" + b"kind care " * 50


def test_bodies_are_cut_at_the_limit_as_sent_and_as_unpacked() -> None:
    assert len(fetched(answering(head(50_000_000), *[b"x" * 1_000_000] * 50), 10)) == MAX_BODY
    assert len(BOMB) < 400_000
    assert len(fetched(answering(head(len(BOMB), "Content-Encoding: gzip\r\n"), BOMB), 10)) == MAX_BODY


@pytest.mark.parametrize("coding", ["gzip", "deflate", "raw deflate"])
def test_content_codings(coding: str) -> None:
    packer = zlib.compressobj(wbits=-15)
    packed = {
        "gzip": gzip.compress(BODY),
        "deflate": zlib.compress(BODY),
        "raw deflate": packer.compress(BODY) + packer.flush(),
    }[coding]
    assert fetched(answering(head(len(packed), f"Content-Encoding: {coding.split()[-1]}\r\n"), packed)) == BODY


def test_what_servers_do_wrong_is_told_apart() -> None:
    assert failure_of(hanging) is Failure.TIMEOUT
    assert failure_of(dripping) is Failure.TIMEOUT
    assert failure_of(answering(b"SSH-2.0-nonsense\r\n\r\n"), 2) is Failure.PROTOCOL
    assert failure_of(answering(head(10, "Content-Encoding: gzip\r\n"), b"not gzip!!"), 2) is Failure.PROTOCOL
    assert failure_of(answering(head(1000), b"too short"), 2) is Failure.PROTOCOL


def test_nobody_listening_and_no_address_are_told_apart() -> None:
    async def run() -> list[Failure]:
        async with serving(hanging) as url:
            pass
        found = []
        async with Client(Settings(), allow_private=True) as client:
            for address in (url, "http://[bad/", "https://no-such-scheme"):
                try:
                    await client.fetch(address, seconds=2)
                except FetchError as error:
                    found.append(error.failure)
        return found

    refused, bad, *_ = asyncio.run(run())
    assert (refused, bad) == (Failure.REFUSED, Failure.BAD_ADDRESS)


PRIVATE = [
    "127.0.0.1",
    "10.1.2.3",
    "172.16.0.1",
    "192.168.1.1",
    "169.254.169.254",
    "0.0.0.0",
    "224.0.0.1",
    "::1",
    "fe80::1",
    "fc00::1",
    "::ffff:127.0.0.1",
    "100.64.0.1",
]


@pytest.mark.parametrize("address", PRIVATE)
def test_private_addresses_are_refused_unless_permitted(address: str) -> None:
    with pytest.raises(FetchError) as caught:
        refuse_private(address, allow_private=False)
    assert caught.value.failure is Failure.PRIVATE
    refuse_private(address, allow_private=True)


def test_public_addresses_pass() -> None:
    refuse_private("1.1.1.1", allow_private=False)
    refuse_private("2606:4700:4700::1111", allow_private=False)


def visited(serve: Serve, seconds: float) -> tuple[Failure | None, float, bool]:
    async def run() -> tuple[Failure | None, float, bool]:
        async with serving(serve) as url, Client(Settings(), allow_private=True) as client:
            started = time.perf_counter()
            crawl, _ = await SiteProbe(client, lambda _: "AU", seconds=seconds).visit(url)
            return crawl.visit.failure, time.perf_counter() - started, crawl.pages is not None

    return asyncio.run(run())


def test_a_redirect_into_a_private_network_is_refused_at_the_second_hop() -> None:
    async def run() -> str:
        async with serving(answering(head(0, "Location: http://10.0.0.1/\r\n", "302 Found"))) as url:
            # a public first hop cannot be had here, so the guard is switched on between the hops instead
            async with Client(Settings(), allow_private=True) as client:
                first = await client.fetch(url)
            async with Client(Settings()) as guarded:
                with pytest.raises(FetchError, match="not on the open internet"):
                    await guarded.fetch(first.headers["location"])
        return first.headers["location"]

    assert asyncio.run(run()) == "http://10.0.0.1/"


def test_one_visit_keeps_to_its_budget_and_never_raises() -> None:
    failure, seconds, _ = visited(hanging, 0.6)
    assert failure is Failure.TIMEOUT
    assert seconds < 60  # it ends at all: what it asks never does
    failure, seconds, read = visited(dripping, 0.6)
    assert not read
    assert seconds < 60  # it ends at all: what it asks never does
    assert visited(looping, 5)[0] is Failure.REDIRECT_LOOP


def test_broken_text_is_read_as_far_as_it_goes() -> None:
    body = b"<title>Harbour \xff\xfe Vets</title>" + b"kind care \xc3\x28 " * 20
    failure, _, read = visited(answering(head(len(body)), body), 5)
    assert (failure, read) == (None, True)


@pytest.mark.parametrize(
    ("value", "seconds"),
    [
        ("120", 120.0),
        ("Wed, 21 Oct 2026 07:28:00 GMT", 60.0),
        ("Wed, 21 Oct 2020 07:28:00 GMT", 0.0),
        ("soon", None),
        ("", None),
    ],
)
def test_retry_after_as_a_number_or_a_date(value: str, seconds: float | None) -> None:
    assert retry_after(value, now=1792567620.0) == seconds  # RFC 9110 §10.2.3's date, a minute before


def test_a_host_is_asked_no_faster_than_its_pace() -> None:
    async def run() -> float:
        pace = Pace()
        started = time.monotonic()
        for _ in range(4):
            async with pace.turn("a", 0.05):
                pass
        pace.rest("b", 0.1)
        async with pace.turn("b", 0.0):
            return time.monotonic() - started

    assert asyncio.run(run()) >= 0.25


def test_robots_follow_the_standard() -> None:
    from openacorn.net.client import Answer

    def rules(status: int, text: str) -> tuple[bool, bool, bool]:
        robots = read_robots(Answer("u", status, {}, text.encode(), 0, False, 0, 0, None))
        return robots.allows("https://h.example/"), robots.allows("https://h.example/private/x"), robots.home_only

    # RFC 9309 §2.2 (groups, longest match) and §2.3.1 (what a status means)
    assert rules(200, "User-agent: *\nDisallow: /private/\n") == (True, False, False)
    assert rules(200, "User-agent: openacorn\nDisallow: /\nUser-agent: *\nAllow: /\n") == (False, False, False)
    assert rules(200, "User-agent: *\nDisallow: /\nAllow: /$\n") == (True, False, False)
    assert rules(404, "User-agent: *\nDisallow: /\n") == (True, True, False)
    assert rules(200, "<html>User-agent: *\nDisallow: /</html>") == (True, True, False)
    assert rules(503, "") == (True, True, True)
