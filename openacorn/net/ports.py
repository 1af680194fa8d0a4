"""Ports of this machine that the application listens at."""

import contextlib
import errno
import socket

LOOPBACK = "127.0.0.1"


class PortTaken(Exception):
    """A port cannot be had; the message says which."""


def listening(port: int, address: str = LOOPBACK) -> socket.socket:
    """A socket at an address of this machine; port 0: any that is free. Raises PortTaken."""
    found = socket.socket(socket.AF_INET6 if ":" in address else socket.AF_INET)
    found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        found.bind((address, port))
    except OSError as error:
        found.close()
        why = "is taken" if error.errno == errno.EADDRINUSE else f"cannot be used ({error.strerror})"
        raise PortTaken(f"port {port} {why}") from None
    return found


def owners_door(port: int, wanted: int | None, address: str = LOOPBACK) -> socket.socket:
    """The socket for owners' pages: at the port wanted, else after `port`, else at any that is free. Raises PortTaken."""
    if wanted is not None:
        return listening(wanted, address)
    if port < 65535:
        with contextlib.suppress(PortTaken):
            return listening(port + 1, address)
    return listening(0, address)
