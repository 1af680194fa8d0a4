"""How to sign in at a server by SSH."""

from dataclasses import dataclass
from urllib.parse import urlsplit

from openacorn.net.destinations.destination import DestinationError

PORT = 22
PRIVATE_KEY = "-----BEGIN"


@dataclass(frozen=True, slots=True)
class SshLogin:
    """secret: a password, or a private key (OpenSSH or PEM); host_key: the server's public key as known_hosts files hold it."""

    address: str
    user: str
    secret: str
    host_key: str = ""

    @property
    def host(self) -> tuple[str, int]:
        """(name, port). Raises DestinationError."""
        try:
            parts = urlsplit(self.address)
            if parts.hostname:
                return parts.hostname, parts.port or PORT
        except ValueError:
            pass
        raise DestinationError(f"{self.address} names no server")
