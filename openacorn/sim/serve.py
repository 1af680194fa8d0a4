"""Start one of the world's servers as a process of its own: `python -m openacorn.sim.serve KIND WORLD PORT [PORT]`.

Each server is imported by the process that runs it alone.
"""

import asyncio
import contextlib
import random
import socket
import ssl
import sys
from collections.abc import Awaitable, Callable
from pathlib import Path
from typing import TYPE_CHECKING

from openacorn.lost_connections import pass_over_lost
from openacorn.sim.addresses import PLAIN_ADDRESS, SITES_ADDRESS

if TYPE_CHECKING:
    from openacorn.sim.http import Asked, Reply

SERVER_PORTS = range(20_000, 32_000)

DATE = "2026-09-01"
"""The world's date: what the listing service varies by."""


async def serve_websites(world: Path, http_port: int, https_port: int) -> None:
    """HTTP on two addresses, HTTPS on one: hosts that speak only plain HTTP live on the second."""
    from openacorn.sim.http import HttpProtocol
    from openacorn.sim.websites import Websites

    sites = Websites(world)
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.sni_callback = sites.choose_certificate
    loop = asyncio.get_running_loop()
    for address in (SITES_ADDRESS, PLAIN_ADDRESS):
        await loop.create_server(lambda: HttpProtocol(sites.handle), address, http_port, backlog=1000)
    await loop.create_server(lambda: HttpProtocol(sites.handle), SITES_ADDRESS, https_port, ssl=context, backlog=1000)


async def serve_listings(world: Path, port: int) -> None:
    """The listing service."""
    from openacorn.sim.listing_server import ListingService

    await _serve(ListingService(world, date=DATE).handle, port)


async def _serve(handle: "Callable[[Asked], Reply]", port: int) -> None:
    from openacorn.sim.http import HttpProtocol

    await asyncio.get_running_loop().create_server(lambda: HttpProtocol(handle), SITES_ADDRESS, port, backlog=500)


async def serve_map(world: Path, port: int) -> None:
    """The map data server."""
    from openacorn.sim.map_server import MapData

    await _serve(MapData(world).handle, port)


async def serve_social(world: Path, port: int) -> None:
    """The social network's page search."""
    from openacorn.sim.social_server import SocialPages

    await _serve(SocialPages(world).handle, port)


async def serve_register(world: Path, port: int) -> None:
    """The company register."""
    from openacorn.sim.company_register import CompanyRegister

    await _serve(CompanyRegister(world).handle, port)


async def serve_people(world: Path, port: int) -> None:
    """The people directory."""
    from openacorn.sim.people_directory import PeopleDirectory

    await _serve(PeopleDirectory(world).handle, port)


async def _serve_names(world: Path, port: int) -> None:
    from openacorn.sim.name_server import serve_names

    await serve_names(world, SITES_ADDRESS, port)


async def serve_mail(world: Path, port: int) -> None:
    """The mail server."""
    from aiosmtpd.smtp import SMTP

    from openacorn.sim.mail_server import Mailboxes

    boxes = Mailboxes(world)
    loop = asyncio.get_running_loop()
    await loop.create_server(lambda: SMTP(boxes, hostname="mx1.saltmail.example", loop=loop), SITES_ADDRESS, port)


async def serve_agency(_world: Path, writing_port: int, texts_port: int) -> None:
    """What an agency rents: a writing helper and a gateway for text messages."""
    from openacorn.sim.text_gateway import TextGateway
    from openacorn.sim.writing_server import WritingServer

    await _serve(WritingServer().handle, writing_port)
    await _serve(TextGateway().handle, texts_port)


async def _serve_post(world: Path, submission_port: int, imap_port: int) -> None:
    from openacorn.sim.post_office import serve_post

    await serve_post(world, submission_port, imap_port, SITES_ADDRESS)


SERVERS: dict[str, tuple[Callable[..., Awaitable[None]], int]] = {
    "websites": (serve_websites, 2),
    "listings": (serve_listings, 1),
    "map": (serve_map, 1),
    "social": (serve_social, 1),
    "register": (serve_register, 1),
    "people": (serve_people, 1),
    "names": (_serve_names, 1),
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
    """Ports that nobody listens on now, from a range that no system gives to outgoing connections.

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
    import uvloop

    uvloop.install()
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(_run(sys.argv[1], Path(sys.argv[2]), [int(port) for port in sys.argv[3:]]))
