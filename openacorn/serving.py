"""Runs the application behind its ports until it is told to stop."""

import contextlib
import logging
import socket
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from openacorn.db.database import Database
from openacorn.db.folder import DATABASE
from openacorn.net.ports import LOOPBACK, PortTaken, listening, owners_door
from openacorn.settings import Settings

if TYPE_CHECKING:
    from openacorn.agency.leaving import Leaving

SWITCH_S = 0.0005
"""How long one thread computes before another has its turn: a tenth of the usual time, so that a request does not wait for a run's
threads at each of its steps."""

GRACE_S = 2
"""How long requests under way at the end have to be answered."""

DEFAULT_PORT = 8710
DATA_FOLDER = Path(__file__).resolve().parents[1] / "data" / "main"


class CannotServe(Exception):
    """The application cannot be started so; the message is the one line that says why and what to do."""


@dataclass(frozen=True, slots=True)
class Listening:
    """Where it is reached. address: of this machine's network; certificate, key: PEM files, for HTTPS without a proxy."""

    port: int
    address: str = LOOPBACK
    certificate: Path | None = None
    key: Path | None = None


def check_port(port: int, address: str = LOOPBACK) -> None:
    """Raise CannotServe now, before minutes of work, if a port is taken."""
    try:
        listening(port, address).close()
    except PortTaken as taken:
        raise CannotServe(f"{taken}; choose another with --port N") from None


def _check_reach(at: Listening, database: Database, settings: Settings) -> None:
    """Refuse what would let strangers in, or let passwords travel unencrypted. Raises CannotServe."""
    from openacorn.team.people import has_accounts

    if (at.certificate is None) != (at.key is None):
        raise CannotServe("--certificate and --key belong together")
    for path in filter(None, (at.certificate, at.key)):
        if not path.is_file():
            raise CannotServe(f"there is no file {path}")
    if at.address == LOOPBACK:
        return
    if not has_accounts(database):
        raise CannotServe("other machines may ask once there are accounts: make one by ./acorn user add EMAIL")
    if not settings.application_address:
        raise CannotServe("set the address of the application in Settings first, such as https://desk.agency.example")
    if at.certificate is None and not settings.trusted_proxies:
        raise CannotServe(
            "passwords would travel unencrypted: give --certificate and --key, or name the proxy before it in Settings"
        )


def serve_application(
    folder: Path, settings: Settings, at: Listening, about: str, leaving: "Leaving | None" = None
) -> None:
    """Run the application until it is told to stop; print its address as soon as it answers there. Raises CannotServe."""
    import uvicorn

    from openacorn.api.app import create_application
    from openacorn.audit import spawner

    spawner.prepare()  # before the first thread, and with all imports that it shares

    class Server(uvicorn.Server):
        async def startup(self, sockets: list[socket.socket] | None = None) -> None:
            await super().startup(sockets)
            if self.started and not self.should_exit:
                scheme = "https" if at.certificate else "http"
                print(f"Open Acorn: {scheme}://{at.address}:{at.port}/  ({about})", flush=True)
                print(f"  owners' pages, and nothing else: port {owners_port}", flush=True)

    database = Database(folder / DATABASE)  # what is wrong with it is one line here, and a traceback inside the server
    try:
        _check_reach(at, database, settings)
    finally:
        database.close()
    try:
        doors = [listening(at.port, at.address), owners_door(at.port, settings.owners_port, at.address)]
    except PortTaken as taken:
        raise CannotServe(
            f"{taken}; choose another with --port N, or set another port of owner’s pages in Settings"
        ) from None
    owners_port = doors[1].getsockname()[1]
    config = uvicorn.Config(
        create_application(folder, settings, (at.port, owners_port), leaving),
        log_level="warning",
        loop="uvloop",
        proxy_headers=False,
        server_header=False,
        timeout_graceful_shutdown=GRACE_S,
        ssl_certfile=at.certificate,
        ssl_keyfile=at.key,
    )
    server = Server(config)
    if leaving is not None:
        leaving.stop = lambda: setattr(server, "should_exit", True)
    # messages and tracebacks alone, never the values of variables: these may hold keys
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(levelname)s %(name)s: %(message)s")
    sys.setswitchinterval(SWITCH_S)
    with contextlib.suppress(KeyboardInterrupt):  # how it is meant to be stopped
        server.run(sockets=doors)
    if not server.started:
        raise CannotServe("the application did not start; the reason is above")
