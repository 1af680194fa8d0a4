"""Start and stop the world's servers."""

import subprocess
import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from openacorn.settings import World
from openacorn.sim.authority import Authority
from openacorn.sim.scripts import CONTAINER_HOST
from openacorn.sim.serve import free_ports

STANDS_IN = (CONTAINER_HOST,)
"""Hosts of others that the world answers for, so that a page in a browser gets what they would send."""

SOURCES = {
    "listing_service": "listings",
    "map_data": "map",
    "social_pages": "social",
    "company_register": "register",
    "people_directory": "people",
}
"""Source → the part of the world that serves it (sim.serve.SERVERS)."""


PORTS = 8 + len(SOURCES)


class WorldError(Exception):
    """A server of the simulated world did not start."""


def world_ports() -> list[int]:
    """Free ports for one world after another."""
    return free_ports(PORTS)


@contextmanager
def running_world(
    folder: Path, ports: Sequence[int] = (), meanwhile: Callable[[], object] | None = None
) -> Iterator[World]:
    """Run the servers over the world in `folder`; all are ended on leaving, whatever happens.

    ports: those of another world (`world_ports`) that this one takes the place of; none: any that are free.
    meanwhile: what is done while they start.
    """
    http_port, https_port, dns_port, smtp_port, submission_port, imap_port, writing_port, texts_port, *source_ports = (
        ports or free_ports(PORTS)
    )
    plan = (
        ("websites", [http_port, https_port]),
        ("+".join(SOURCES.values()), source_ports),
        ("names+mail+post+agency", [dns_port, smtp_port, submission_port, imap_port, writing_port, texts_port]),
    )
    Authority(folder)  # its key is there before two processes could each make one
    running: list[subprocess.Popen[str]] = []
    try:
        for kind, ports in plan:
            command = [sys.executable, "-m", "openacorn.sim.serve", kind, str(folder), *map(str, ports)]
            # a session of their own: the terminal's Ctrl-C reaches only the parent, which then ends them in order
            running.append(
                subprocess.Popen(
                    command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, start_new_session=True
                )
            )
        if meanwhile is not None:
            meanwhile()
        for (kind, _), process in zip(plan, running, strict=True):
            line = process.stdout.readline() if process.stdout else ""
            if line.strip() != "ready":
                raise WorldError(f"the simulated {kind} server did not start (exit {process.poll()})")
        yield World(
            http_port=http_port, https_port=https_port, dns_port=dns_port, smtp_port=smtp_port,
            source_ports=dict(zip(SOURCES, source_ports, strict=True)),
            mail_ports={"submission": submission_port, "imap": imap_port},
            agency_ports={"writing": writing_port, "texts": texts_port},
            ca_file=str(folder / "authority.pem"), stands_in=STANDS_IN,
        )  # fmt: skip
    finally:
        for process in running:
            process.terminate()
        for process in running:
            try:
                process.wait(timeout=5)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
            for pipe in (process.stdin, process.stdout):
                if pipe:
                    pipe.close()
