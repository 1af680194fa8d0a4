"""The guard on names: one that resolves to a private address, changes its answer, or asks for a port that is not the coast's."""

import asyncio
from collections.abc import Awaitable, Callable

import pytest
from dnslib import MX, QTYPE, RCODE, RR, TXT, A, DNSRecord
from pydantic import ValidationError

from openacorn.core.audit.evidence import Failure
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.net.resolver import GuardedResolver, UnknownNameError
from openacorn.settings import Settings, World
from tests.conftest import Coast
from tests.net.serving import serving

PUBLIC = "93.184.215.14"


class _Names(asyncio.DatagramProtocol):
    """A name server that gives the next of its answers each time, good for no time at all."""

    def __init__(self, answers: list[list[str]]) -> None:
        self.answers = answers

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self.transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        question = DNSRecord.parse(data)
        reply = question.reply()
        for address in self.answers.pop(0):
            reply.add_answer(RR(question.q.qname, rdata=A(address), ttl=0))
        self.transport.sendto(reply.pack(), addr)  # type: ignore[attr-defined]


def with_names(answers: list[list[str]], work: Callable[[GuardedResolver], Awaitable[list[str]]]) -> list[str]:
    async def run() -> list[str]:
        loop = asyncio.get_running_loop()
        transport, _ = await loop.create_datagram_endpoint(lambda: _Names(answers), local_addr=("127.0.0.1", 0))
        guarded = GuardedResolver(None, allow_private=False)
        guarded._servers[False] = guarded.servers([f"127.0.0.1:{transport.get_extra_info('sockname')[1]}"])
        try:
            return await work(guarded)
        finally:
            await guarded.close()
            transport.close()

    return asyncio.run(run())


async def _twice(guarded: GuardedResolver) -> list[str]:
    answered = []
    for _ in range(2):
        try:
            answered += [found["host"] for found in await guarded.resolve("gull.com", 80)]
        except UnknownNameError as error:
            answered.append(str(error.cause.failure))
        await asyncio.sleep(0.01)
    return answered


@pytest.mark.parametrize(
    ("answers", "answered"),
    [
        ([["10.0.0.7"], ["169.254.169.254"]], [Failure.PRIVATE, Failure.PRIVATE]),
        ([[PUBLIC], ["127.0.0.1"]], [PUBLIC, Failure.PRIVATE]),  # what was checked once is not trusted the next time
        ([[PUBLIC, "192.168.1.1"], [PUBLIC]], [Failure.PRIVATE, PUBLIC]),  # one of two inside is enough
    ],
)
def test_every_answer_is_checked_and_what_was_checked_is_what_is_connected_to(
    answers: list[list[str]], answered: list[str]
) -> None:
    assert with_names(answers, _twice) == answered


@pytest.mark.world
def test_names_of_the_coast_lead_to_its_own_ports_alone(coast: Coast) -> None:
    """Else a page of the coast could send us to any service of this machine."""
    world: World | None = coast.settings.world
    assert world is not None
    host = next(name for name, address in coast.read("zone.json").items() if address == "127.0.0.1")

    async def ports(*wanted: int) -> list[str]:
        guarded = GuardedResolver(world, allow_private=False)
        answered = []
        for port in wanted:
            try:
                answered += [str(found["port"]) for found in await guarded.resolve(host, port)]
            except UnknownNameError as error:
                answered.append(str(error.cause.failure))
        return answered

    assert asyncio.run(ports(80, 443, world.https_port, 22, 8710)) == [
        str(world.http_port), str(world.https_port), str(world.https_port), Failure.PRIVATE, Failure.PRIVATE,
    ]  # fmt: skip


TRUSTED = ("127.0.0.1:{port}", "maps.localhost")
REACHED = [
    ("http://127.0.0.1:{port}/", True),
    ("http://maps.localhost:{port}/", True),
    ("http://MAPS.localhost:{port}/", True),
    ("http://127.0.0.1:{other}/", False),
    ("http://127.0.0.2:{port}/", False),
    ("http://shed.localhost:{port}/", False),
    ("http://localhost:{port}/", False),
    ("http://[::1]:{port}/", False),
    ("http://10.0.0.5:{port}/", False),
]


@pytest.mark.parametrize(("address", "reached"), REACHED, ids=[address for address, _ in REACHED])
def test_only_the_hosts_that_the_user_named_are_reached_in_a_private_network(address: str, reached: bool) -> None:
    async def ask() -> str:
        async def answer(_reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            writer.write(b"HTTP/1.1 200 OK\r\nContent-Length: 2\r\nConnection: close\r\n\r\nok")

        async with serving(answer) as first, serving(answer) as second:
            port, other = first.rpartition(":")[2], second.rpartition(":")[2]
            settings = Settings(trusted_hosts=[host.format(port=port) for host in TRUSTED])
            try:
                async with Client(settings) as client:
                    return (await client.fetch(address.format(port=port, other=other))).body.decode()
            except FetchError as error:
                return str(error.failure)

    assert asyncio.run(ask()) == ("ok" if reached else Failure.PRIVATE)


def test_a_trusted_host_is_a_host_and_no_address() -> None:
    for wrong in ("http://maps.lan/", "maps.lan/x", "*.lan", "maps.lan:port", ""):
        with pytest.raises(ValidationError):
            Settings(trusted_hosts=[wrong])


def test_a_long_policy_comes_whole_and_a_name_that_is_not_there_has_no_records() -> None:
    """dnslib (PyPI) writes the answers: a TXT record in several strings, as SPF policies of more than 255 bytes are (RFC 7208, 3.3)."""
    policy = "v=spf1 " + " ".join(f"ip4:192.0.2.{number}" for number in range(20)) + " -all"

    class Server(asyncio.DatagramProtocol):
        def connection_made(self, transport: asyncio.BaseTransport) -> None:
            self.transport = transport

        def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
            question = DNSRecord.parse(data)
            reply, kind = question.reply(), QTYPE[question.q.qtype]
            if str(question.q.qname).startswith("gone"):
                reply.header.rcode = RCODE.NXDOMAIN
            elif str(question.q.qname).startswith("broken"):
                reply.header.rcode = RCODE.SERVFAIL
            elif kind == "TXT":
                reply.add_answer(
                    RR(question.q.qname, QTYPE.TXT, rdata=TXT([policy[:140].encode(), policy[140:].encode()]), ttl=9)
                )
            elif kind == "MX":
                for rank, host in ((20, "second.gull.com"), (10, "first.gull.com")):
                    reply.add_answer(RR(question.q.qname, QTYPE.MX, rdata=MX(host, rank), ttl=9))
            self.transport.sendto(reply.pack(), addr)  # type: ignore[attr-defined]

    async def ask() -> list[object]:
        transport, _ = await asyncio.get_running_loop().create_datagram_endpoint(Server, local_addr=("127.0.0.1", 0))
        guarded = GuardedResolver(None, allow_private=False, seconds=2.0)
        try:
            guarded._servers[False] = guarded.servers([f"127.0.0.1:{transport.get_extra_info('sockname')[1]}"])
            found: list[object] = [await guarded.records("gull.com", kind) for kind in ("TXT", "MX")]
            found.append(await guarded.records("gone.com", "TXT"))
            with pytest.raises(FetchError) as broken:
                await guarded.records("broken.com", "TXT")
            return [*found, broken.value.failure]
        finally:
            await guarded.close()
            transport.close()

    assert asyncio.run(ask()) == [[policy], ["first.gull.com", "second.gull.com"], [], Failure.DNS_UNAVAILABLE]
