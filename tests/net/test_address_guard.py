"""A private address is not reached, however it is written and by whichever way out: nothing arrives at a canary on loopback."""

import asyncio
import http.server
import ipaddress
import threading
from collections.abc import Awaitable, Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from openacorn.core.audit.evidence import Failure
from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import Recipe
from openacorn.gather.sources._source import Endpoint, SourceFailure
from openacorn.gather.sources.directory import ask
from openacorn.net import webhook
from openacorn.net.addresses import SPECIAL_V4, address_of, is_public
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.net.pace import Pace
from openacorn.net.probes.browser import BrowserProbe
from openacorn.settings import Settings
from tests.net.serving import serving

NOTATIONS = (
    "127.0.0.1", "127.0.0.2", "127.1", "127.0.1", "0", "0.0.0.0", "2130706433", "017700000001", "0x7f000001", "0x7F.0.0.1",
    "0177.0.0.1", "0177.0.0.01", "127.0x0.1", "0x7f.1", "00000177.0.0.1", "127.0.0.1.", "2130706433.", "0x7f.0.0x1",
    "１２７.0.0.1", "①②⑦.0.0.1", "127。0。0。1", "[::1]", "[0:0:0:0:0:0:0:1]", "[::ffff:127.0.0.1]", "[::ffff:7f00:1]",
    "[0:0:0:0:0:ffff:7f00:1]", "[::127.0.0.1]", "[::7f00:1]", "[64:ff9b::127.0.0.1]", "[64:ff9b::7f00:1]",
    "[64:ff9b:1::7f00:1]", "[2002:7f00:1::]", "[2002:7f00:1::1]", "[2001:0:7f00:1::1]", "[fe80::5efe:7f00:1]",
    "[::]", "[fec0::1]", "[fc00::1]", "[fe80::1]", "[5f00::1]", "localhost", "LOCALHOST", "a.localhost", "localhost.",
)  # fmt: skip


@contextmanager
def canary() -> Iterator[tuple[int, list[str]]]:
    """A server on all of loopback: (its port, what was asked of it)."""
    hits: list[str] = []

    class Handler(http.server.BaseHTTPRequestHandler):
        def _hit(self) -> None:
            hits.append(f"{self.command} {self.headers.get('Host')}")
            self.send_response(200)
            self.send_header("Content-Length", "0")
            self.end_headers()

        do_GET = do_POST = do_HEAD = do_CONNECT = _hit

        def log_message(self, *_: object) -> None:
            """Stay quiet."""

    server = http.server.ThreadingHTTPServer(("0.0.0.0", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield server.server_address[1], hits
    finally:
        server.shutdown()
        server.server_close()


async def by_client(url: str) -> str:
    async with Client(Settings()) as client:
        try:
            await client.fetch(url, seconds=5)
        except FetchError as error:
            return str(error.failure)
    return "reached"


async def permitted(url: str) -> None:
    async with Client(Settings(), allow_private=True) as client:
        await client.fetch(url, seconds=5)


async def by_webhook(url: str) -> str:
    return await webhook.post(Settings(), url, b"{}", "application/json") or "reached"


async def by_plan(url: str) -> str:
    """As a directory is read by the user's recipe."""
    plan = Recipe(title="x", address=url, item="li", fields=())
    request = ask(Query("directory:1", "vets", "vets", place="Port Ellery"), Endpoint(url, "", 0.0, plan))
    async with Client(Settings()) as client:
        try:
            await Asker(client, Pace()).ask(request)
        except SourceFailure as failure:
            return str(failure)
    return "reached"


WAYS: dict[str, Callable[[str], Awaitable[str]]] = {"client": by_client, "webhook": by_webhook, "plan": by_plan}


def test_enough_notations_are_tried() -> None:
    assert len(set(NOTATIONS)) >= 40


@pytest.mark.parametrize("way", WAYS)
def test_no_notation_of_a_private_address_is_reached(way: str) -> None:
    async def all_of_them(port: int) -> dict[str, str]:
        return {host: await WAYS[way](f"http://{host}:{port}/") for host in NOTATIONS}

    with canary() as (port, hits):
        answered = asyncio.run(all_of_them(port))
        assert hits == []
        assert "reached" not in answered.values()
        asyncio.run(permitted(f"http://127.0.0.1:{port}/"))  # it would have been noticed
        assert hits != []


@pytest.mark.browser
def test_no_notation_is_reached_by_a_page_in_the_browser(tmp_path: Path) -> None:
    """One page that asks for all of them: by pictures, frames, scripts, fetches, and by sockets."""
    with canary() as (port, hits):
        addresses = [f"http://{host}:{port}/" for host in NOTATIONS]
        tries = "".join(
            f'<img src="{url}i"><iframe src="{url}f"></iframe><script src="{url}s"></script>'
            f"<script>fetch('{url}x', {{mode: 'no-cors'}}).catch(() => 0); try {{ new WebSocket('{url.replace('http', 'ws')}w') }} catch (e) {{}}</script>"
            for url in addresses
        )
        page = f"<title>Tries everything</title><h1>Tries everything</h1>{tries}".encode()

        async def look() -> str:
            async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
                await reader.readuntil(b"\r\n\r\n")
                writer.write(
                    b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: %d\r\nConnection: close\r\n\r\n"
                    % len(page)
                )
                writer.write(page)

            async with serving(answer) as url:
                own = url.rpartition(":")[2]
                probe = BrowserProbe(Settings(trusted_hosts=[f"page.localhost:{own}"]))
                seen = await probe.look(f"http://page.localhost:{own}/")
            return seen.rendered.failed or (seen.rendered.page.title or "" if seen.rendered.page else "")

        assert asyncio.run(look()) == "Tries everything"  # it ran, and got nowhere
    assert hits == []


PUBLIC = ("93.184.215.14", "1.1.1.1", "2606:4700:4700::1111", "64:ff9b::1.1.1.1", "2002:101:101::1", "::ffff:1.1.1.1")
REGISTERED = (
    "192.88.99.1", "192.0.0.9", "198.18.0.1", "203.0.113.7", "240.0.0.1", "255.255.255.255", "100.64.0.1", "169.254.169.254",
    "224.0.0.1", "::", "::1", "100::1", "2001:db8::1", "2001::1", "2001:20::1", "3fff::1", "5f00::1", "fc00::1", "fe80::1",
    "fec0::1", "ff02::1", "64:ff9b:1::1", "64:ff9b::10.0.0.1", "2002:a00:1::", "::ffff:192.168.1.1", "::8.8.8.8",
)  # fmt: skip


def test_the_registries_blocks_are_not_public_and_the_open_internet_is() -> None:
    """IANA's registries of special-purpose addresses (iana-ipv4-special-registry, iana-ipv6-special-registry)."""
    assert [name for name in REGISTERED if is_public(ipaddress.ip_address(name))] == []
    assert [name for name in PUBLIC if not is_public(ipaddress.ip_address(name))] == []


@settings(max_examples=300)
@given(st.ip_addresses())
def test_nothing_that_the_standard_library_calls_private_is_public(
    ip: ipaddress.IPv4Address | ipaddress.IPv6Address,
) -> None:
    if ip.is_private or ip.is_loopback or ip.is_multicast or ip.is_link_local or ip.is_reserved or ip.is_unspecified:
        assert not is_public(ip) or getattr(ip, "ipv4_mapped", None) or ip in ipaddress.ip_network("64:ff9b::/96")


@settings(max_examples=200)
@given(st.sampled_from(SPECIAL_V4), st.integers(0, 2**32 - 1), st.sampled_from(("{}", "0x{:x}", "0{:o}")))
def test_an_address_as_one_number_is_the_address(block: ipaddress.IPv4Network, at: int, how: str) -> None:
    ip = block[at % block.num_addresses]
    found = address_of(how.format(int(ip)))
    assert found is not None
    assert (found[0], is_public(found[0])) == (ip, False)


def test_names_are_no_addresses_and_odd_numbers_are_refused() -> None:
    assert [address_of(name) for name in ("gull.com", "1.2.3.com", "0x7f.example", "x")] == [None] * 4
    for wrong in ("1.2.3.4.5", "256.1.1.1", "1.2.3.999", "0x100000000", "08.0.0.1"):
        with pytest.raises(ValueError, match=r".*"):
            address_of(wrong)

    async def ask_for(url: str) -> Failure:
        async with Client(Settings()) as client:
            with pytest.raises(FetchError) as caught:
                await client.fetch(url, seconds=3)
            return caught.value.failure

    assert asyncio.run(ask_for("http://134744072/")) is Failure.PRIVATE  # 8.8.8.8, as nobody writes it
