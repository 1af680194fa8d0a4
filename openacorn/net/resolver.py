"""Names to addresses, and the guard that keeps requests off private networks.

The guard sits on the resolved address, not on the name: a public name may point inside. It is asked again at every
redirect, because every hop is a request of its own.
"""

import asyncio
import ipaddress
import socket
from collections.abc import Iterable
from typing import Any

import aiodns
import pycares
from aiohttp.abc import AbstractResolver, ResolveResult

from openacorn.core.audit.evidence import Failure
from openacorn.net.addresses import address_of, is_public
from openacorn.net.errors import FetchError
from openacorn.settings import World

RESOLVE_SECONDS = 5.0
TRIES = 2
NOTHING_THERE = frozenset({pycares.errno.ARES_ENOTFOUND, pycares.errno.ARES_ENODATA})
"""The name is not there, or has no record of the kind."""

WORLD_SUFFIX = ".example"


class UnknownNameError(OSError):
    """A resolver failure on its way through the HTTP library; carries the real error."""

    def __init__(self, cause: FetchError) -> None:
        super().__init__(str(cause))
        self.cause = cause


def refuse_private(address: str, allow_private: bool) -> None:
    """Raise FetchError(PRIVATE) for an address that is not on the open internet."""
    if not allow_private and not is_public(ipaddress.ip_address(address)):
        raise FetchError(Failure.PRIVATE, f"{address} is not on the open internet; --allow-private permits it")


class GuardedResolver(AbstractResolver):
    """Resolves by the system's name servers, or, for `*.example` with a simulated world at hand, by that world's.

    Two exceptions to the guard: the world's addresses, on the world's own ports, and `trusted` hosts ("name", "name:port"; a
    number for a name is fine), which the user named in the settings because they stand in the user's own network.
    """

    def __init__(
        self, world: World | None, allow_private: bool, trusted: Iterable[str] = (), seconds: float = RESOLVE_SECONDS
    ) -> None:
        """seconds: what a name server may take."""
        self._seconds = seconds
        self._world = world
        self._allow_private = allow_private
        self._trusted = frozenset(host.lower() for host in trusted)
        self._servers: dict[bool, aiodns.DNSResolver] = {}

    def _asked(self, name: str) -> aiodns.DNSResolver:
        """The name servers that know a name; made when first asked, since they belong to the loop that runs then."""
        coast = self._coast_knows(name)
        if coast not in self._servers:
            own = [f"127.0.0.1:{self._world.dns_port}"] if coast and self._world else None
            self._servers[coast] = self.servers(own)
        return self._servers[coast]

    def servers(self, own: list[str] | None) -> aiodns.DNSResolver:
        """Name servers ("address:port"), the machine's if None. They keep answers for as long as these say."""
        flags = pycares.ARES_FLAG_NOSEARCH | pycares.ARES_FLAG_EDNS
        return aiodns.DNSResolver(own, timeout=self._seconds / (TRIES + 1), tries=TRIES, flags=flags)

    def _coast_knows(self, name: str) -> bool:
        return self._world is not None and (name.endswith(WORLD_SUFFIX) or name in self._world.stands_in)

    def trusts(self, host: str, port: int) -> bool:
        """Did the user name this host, or this port of it, as one of their own?"""
        return bool(self._trusted & {host.lower(), f"{host.lower()}:{port}"})

    def literal(self, host: str, port: int) -> str | None:
        """The address that a host is, None if it is a name. Raises FetchError(PRIVATE) if it must not be asked.

        An address in an odd notation ("2130706433") is refused, unless private ones are permitted: nobody lists a site so.
        """
        try:
            found = address_of(host)
        except ValueError as error:
            raise FetchError(Failure.BAD_ADDRESS, str(error)) from None
        if found is None:
            return None
        address, usual = found
        self.check(host, port, str(address))
        if not usual and not (self._allow_private or self.trusts(host, port)):
            raise FetchError(Failure.PRIVATE, f"{host} is {address} in an odd notation; --allow-private permits it")
        return str(address)

    def check(self, host: str, port: int, address: str) -> None:
        """Raise FetchError(PRIVATE) if `address`, to which `host` resolved or which it is, must not be asked."""
        refuse_private(address, self._allow_private or self.trusts(host, port))

    async def resolve(
        self,
        host: str,
        port: int = 0,
        family: socket.AddressFamily = socket.AF_INET,  # noqa: ARG002 - the interface's; only IPv4 is asked for
    ) -> list[ResolveResult]:
        """Return the addresses of `host`; raises UnknownNameError around a FetchError."""
        try:
            if literal := self.literal(host, port):
                return [_result(host, literal, port)]
            if host == "localhost" or host.endswith(".localhost"):  # RFC 6761, 6.3
                self.check(host, port, "127.0.0.1")
                return [_result(host, "127.0.0.1", port)]
            if self.trusts(host, port):
                return [_result(host, address, port) for address in await self._by_the_machine(host)]
            addresses = await self._addresses(host)
            if self._world is not None and self._coast_knows(host):
                ports = {80: self._world.http_port, 443: self._world.https_port, 25: self._world.smtp_port}
                mapped = ports.get(port, port)
                if mapped not in ports.values():
                    raise FetchError(Failure.PRIVATE, f"port {port} of this machine is none of the simulated world's")
                return [_result(host, address, mapped) for address in addresses]
            for address in addresses:
                self.check(host, port, address)
            return [_result(host, address, port) for address in addresses]
        except FetchError as error:
            raise UnknownNameError(error) from error

    async def records(self, name: str, kind: str) -> list[str]:
        """Texts of the records of one kind ("MX": hosts, best first; "TXT": texts put together), none where there are none.

        Raises FetchError if the name servers did not answer.
        """
        try:
            found = await self._records(name, kind)
        except FetchError as error:
            if error.failure is Failure.NO_SUCH_NAME:
                return []
            raise
        if kind == "MX":
            return [record.exchange.rstrip(".") or "." for record in sorted(found, key=lambda record: record.priority)]
        return [record.data.decode("utf-8", "replace") for record in found]

    async def _addresses(self, host: str) -> list[str]:
        return [record.addr for record in await self._records(host, "A")]

    async def _records(self, name: str, kind: str) -> list[Any]:
        """Data of the records of one kind. Raises FetchError(NO_SUCH_NAME) if there are none."""
        wanted = getattr(pycares, f"QUERY_TYPE_{kind}")
        try:
            async with asyncio.timeout(self._seconds):
                answer = await self._asked(name).query_dns(name, kind)
        except aiodns.error.DNSError as error:
            nothing = error.args[0] in NOTHING_THERE
            failure = Failure.NO_SUCH_NAME if nothing else Failure.DNS_UNAVAILABLE
            raise FetchError(failure, f"{name}: {error.args[1]}") from error
        except (TimeoutError, UnicodeError) as error:
            raise FetchError(
                Failure.DNS_UNAVAILABLE, f"{name}: no name server answered in {self._seconds:g} s"
            ) from error
        found = [record.data for record in answer.answer if record.type == wanted]
        if not found:
            raise FetchError(Failure.NO_SUCH_NAME, f"{name}: there is no {kind} record")
        return found

    async def _by_the_machine(self, host: str) -> list[str]:
        """Addresses of a host in the user's own network, also one that is in the machine's hosts file alone."""
        try:
            found = await asyncio.get_running_loop().getaddrinfo(host, None, family=socket.AF_INET)
        except OSError as error:
            raise FetchError(Failure.NO_SUCH_NAME, f"{host}: {error.strerror or error}") from error
        return list(dict.fromkeys(str(entry[4][0]) for entry in found))

    async def close(self) -> None:
        """End what was asked and not answered."""
        for servers in self._servers.values():
            await servers.close()
        self._servers = {}


def _result(host: str, address: str, port: int) -> ResolveResult:
    return ResolveResult(
        hostname=host,
        host=address,
        port=port,
        family=socket.AF_INET,
        proto=socket.IPPROTO_TCP,
        flags=socket.AI_NUMERICHOST,
    )
