"""Start one of the world's servers as a process of its own: `python -m openacorn.sim.serve KIND WORLD PORT [PORT]`."""

import asyncio
import contextlib
import json
import random
import socket
import ssl
import sys
from collections.abc import Awaitable, Callable
from pathlib import Path
from typing import Any

import uvloop
from aiosmtpd.smtp import SMTP
from dnslib import MX, QTYPE, RCODE, RR, TXT, A, DNSRecord

from openacorn.lost_connections import pass_over_lost
from openacorn.sim.company_register import CompanyRegister
from openacorn.sim.generate import PLAIN_ADDRESS, SITES_ADDRESS
from openacorn.sim.http import Asked, HttpProtocol, Reply
from openacorn.sim.listing_server import ListingService
from openacorn.sim.mail_server import Mailboxes
from openacorn.sim.map_server import MapData
from openacorn.sim.people_directory import PeopleDirectory
from openacorn.sim.social_server import SocialPages
from openacorn.sim.websites import Websites

Records = dict[str, dict[str, list[str]]]
"""Name → kind of record → its texts."""

SERVER_PORTS = range(20_000, 32_000)

DATE = "2026-09-01"
"""The world's date: what the listing service varies by."""


async def serve_websites(world: Path, http_port: int, https_port: int) -> None:
    """HTTP on two addresses, HTTPS on one: hosts that speak only plain HTTP live on the second."""
    sites = Websites(world)
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.sni_callback = sites.choose_certificate
    loop = asyncio.get_running_loop()
    for address in (SITES_ADDRESS, PLAIN_ADDRESS):
        await loop.create_server(lambda: HttpProtocol(sites.handle), address, http_port, backlog=1000)
    await loop.create_server(lambda: HttpProtocol(sites.handle), SITES_ADDRESS, https_port, ssl=context, backlog=1000)


async def serve_listings(world: Path, port: int) -> None:
    """The listing service."""
    service = ListingService(world, date=DATE)
    await asyncio.get_running_loop().create_server(
        lambda: HttpProtocol(service.handle), SITES_ADDRESS, port, backlog=500
    )


async def _serve(handle: Callable[[Asked], Reply], port: int) -> None:
    await asyncio.get_running_loop().create_server(lambda: HttpProtocol(handle), SITES_ADDRESS, port)


async def serve_map(world: Path, port: int) -> None:
    """The map data server."""
    await _serve(MapData(world).handle, port)


async def serve_social(world: Path, port: int) -> None:
    """The social network's page search."""
    await _serve(SocialPages(world).handle, port)


async def serve_register(world: Path, port: int) -> None:
    """The company register."""
    await _serve(CompanyRegister(world).handle, port)


async def serve_people(world: Path, port: int) -> None:
    """The people directory."""
    await _serve(PeopleDirectory(world).handle, port)


class DnsProtocol(asyncio.DatagramProtocol):
    """Answers A, MX and TXT queries; other types get an empty answer, other names NXDOMAIN (RFC 1035)."""

    def __init__(self, zone: dict[str, str], records: Records) -> None:
        self._zone, self._records = zone, records

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        """The socket is open."""
        self._transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        """One question, one answer."""
        self._transport.sendto(answer_dns(data, self._zone, self._records), addr)  # type: ignore[attr-defined]


def answer_dns(data: bytes, zone: dict[str, str], records: Records) -> bytes:
    """Return the reply to one DNS message. zone: name → address; records: name → kind → texts of further records."""
    question = DNSRecord.parse(data)
    reply = question.reply()
    name = str(question.q.qname).rstrip(".").lower()
    address = zone.get(name)
    more = records.get(name, {}).get(QTYPE.get(question.q.qtype), [])
    if address is None and name not in records:
        reply.header.rcode = RCODE.NXDOMAIN
    elif more:
        for text in more:
            reply.add_answer(_record(question.q.qname, question.q.qtype, text))
    elif address is not None and question.q.qtype == QTYPE.A:
        reply.add_answer(RR(question.q.qname, QTYPE.A, rdata=A(address), ttl=60))
    return bytes(reply.pack())


def _record(name: Any, kind: int, text: str) -> RR:
    if kind == QTYPE.MX:
        preference, _, host = text.partition(" ")
        return RR(name, kind, rdata=MX(host, int(preference)), ttl=60)
    return RR(name, kind, rdata=TXT([text[at : at + 255] for at in range(0, len(text), 255)]), ttl=60)


async def _answer_tcp(
    zone: dict[str, str], records: Records, reader: asyncio.StreamReader, writer: asyncio.StreamWriter
) -> None:
    try:
        length = int.from_bytes(await reader.readexactly(2), "big")
        reply = answer_dns(await reader.readexactly(length), zone, records)
        writer.write(len(reply).to_bytes(2, "big") + reply)
        await writer.drain()
    except asyncio.IncompleteReadError:
        pass
    finally:
        writer.close()


async def serve_names(world: Path, port: int) -> None:
    """The name server, over UDP and TCP."""
    zone: dict[str, str] = json.loads((world / "zone.json").read_text(encoding="utf-8"))
    records: Records = json.loads((world / "records.json").read_text(encoding="utf-8"))
    loop = asyncio.get_running_loop()
    await loop.create_datagram_endpoint(lambda: DnsProtocol(zone, records), local_addr=(SITES_ADDRESS, port))
    await asyncio.start_server(lambda reader, writer: _answer_tcp(zone, records, reader, writer), SITES_ADDRESS, port)


async def serve_mail(world: Path, port: int) -> None:
    """The mail server."""
    boxes = Mailboxes(world)
    loop = asyncio.get_running_loop()
    await loop.create_server(lambda: SMTP(boxes, hostname="mx1.saltmail.example", loop=loop), SITES_ADDRESS, port)


async def serve_agency(_world: Path, writing_port: int, texts_port: int) -> None:
    """What an agency rents: a writing helper and a gateway for text messages."""
    from openacorn.sim.text_gateway import TextGateway  # it knows the post office, which is heavy
    from openacorn.sim.writing_server import WritingServer

    await _serve(WritingServer().handle, writing_port)
    await _serve(TextGateway().handle, texts_port)


async def _serve_post(world: Path, submission_port: int, imap_port: int) -> None:
    from openacorn.sim.post_office import serve_post  # heavy, and the other servers do without it

    await serve_post(world, submission_port, imap_port, SITES_ADDRESS)


SERVERS: dict[str, tuple[Callable[..., Awaitable[None]], int]] = {
    "websites": (serve_websites, 2),
    "listings": (serve_listings, 1),
    "map": (serve_map, 1),
    "social": (serve_social, 1),
    "register": (serve_register, 1),
    "people": (serve_people, 1),
    "names": (serve_names, 1),
    "mail": (serve_mail, 1),
    "post": (_serve_post, 2),
    "agency": (serve_agency, 2),
}
"""Part of the world → (what serves it, ports it takes)."""


async def _run(kind: str, world: Path, ports: list[int]) -> None:
    asyncio.get_running_loop().set_exception_handler(pass_over_lost)
    for part in kind.split("+"):
        serve, count = SERVERS[part]
        await serve(world, *ports[:count])
        ports = ports[count:]
    print("ready", flush=True)
    await _parent_gone()


async def _parent_gone() -> None:
    """Wait until standard input ends: a killed parent leaves no server behind."""
    reader = asyncio.StreamReader()
    await asyncio.get_running_loop().connect_read_pipe(lambda: asyncio.StreamReaderProtocol(reader), sys.stdin)
    await reader.read()


def free_ports(count: int) -> list[int]:
    """Ports that nobody listens on now, from a range that no system hands to outgoing connections by itself.

    Linux gives those 32768 and above, others 49152 and above (RFC 6335): a port from there may be taken
    by any connection between this call and the server's start.
    """
    found: list[int] = []
    for port in random.SystemRandom().sample(SERVER_PORTS, len(SERVER_PORTS)):
        with socket.socket() as handle:
            handle.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            with contextlib.suppress(OSError):
                handle.bind(("127.0.0.1", port))
                found.append(port)
        if len(found) == count:
            return found
    raise OSError(f"no free port between {SERVER_PORTS[0]} and {SERVER_PORTS[-1]}")


if __name__ == "__main__":
    uvloop.install()
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(_run(sys.argv[1], Path(sys.argv[2]), [int(port) for port in sys.argv[3:]]))
