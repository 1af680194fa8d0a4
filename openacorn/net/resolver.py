"""Names to addresses, and the guard that keeps requests off private networks.

The guard sits on the resolved address, not on the name: a public name may point inside. It is asked again at every
redirect, because every hop is a request of its own.
"""

import asyncio
import ipaddress
import socket
from collections.abc import Iterable

import dns.asyncresolver
import dns.exception
import dns.resolver
from aiohttp.abc import AbstractResolver, ResolveResult

from openacorn.core.audit.evidence import Failure
from openacorn.net.addresses import address_of, is_public
from openacorn.net.errors import FetchError
from openacorn.settings import World

RESOLVE_SECONDS = 5.0
DNS_ANSWERS = 1_000
"""Answers kept: a site's four or five are asked for again within its audit, hardly ever after it, and each holds some 10 kB."""

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
        self._system = self._make_system()
        self._coast = dns.asyncresolver.Resolver(configure=False)
        if world is not None:
            self._coast.nameservers = ["127.0.0.1"]
            self._coast.port = world.dns_port
        self._coast.cache = dns.resolver.LRUCache(DNS_ANSWERS)

    @staticmethod
    def _make_system() -> dns.asyncresolver.Resolver | None:
        try:
            resolver = dns.asyncresolver.Resolver()
        except dns.resolver.NoResolverConfiguration:
            return None
        resolver.cache = dns.resolver.LRUCache(DNS_ANSWERS)
        return resolver

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
            if self._world is not None and (host.endswith(WORLD_SUFFIX) or host in self._world.stands_in):
                addresses = await self._addresses(self._coast, host)
                ports = {80: self._world.http_port, 443: self._world.https_port, 25: self._world.smtp_port}
                mapped = ports.get(port, port)
                if mapped not in ports.values():
                    raise FetchError(Failure.PRIVATE, f"port {port} of this machine is none of the simulated world's")
                return [_result(host, address, mapped) for address in addresses]
            if self._system is None:
                raise FetchError(Failure.DNS_UNAVAILABLE, "this machine has no name server configured")
            addresses = await self._addresses(self._system, host)
            for address in addresses:
                self.check(host, port, address)
            return [_result(host, address, port) for address in addresses]
        except FetchError as error:
            raise UnknownNameError(error) from error

    async def records(self, name: str, kind: str) -> list[str]:
        """Texts of the records of one kind ("MX": hosts, best first; "TXT": texts put together), none where there are none.

        Raises FetchError if the name servers did not answer.
        """
        coast = self._world is not None and name.endswith(WORLD_SUFFIX)
        resolver = self._coast if coast else self._system
        if resolver is None:
            raise FetchError(Failure.DNS_UNAVAILABLE, "this machine has no name server configured")
        try:
            answer = await resolver.resolve(name, kind, lifetime=self._seconds, search=False)
        except (dns.resolver.NXDOMAIN, dns.resolver.NoAnswer):
            return []
        except dns.exception.DNSException as error:
            raise FetchError(Failure.DNS_UNAVAILABLE, f"{name}: {type(error).__name__}") from error
        if kind == "MX":
            return [str(r.exchange).rstrip(".") or "." for r in sorted(answer, key=lambda record: record.preference)]
        return [b"".join(record.strings).decode("utf-8", "replace") for record in answer]

    async def _addresses(self, resolver: dns.asyncresolver.Resolver, host: str) -> list[str]:
        try:
            answer = await resolver.resolve(host, "A", lifetime=self._seconds, search=False)
            return [str(record) for record in answer]
        except (dns.resolver.NXDOMAIN, dns.resolver.NoAnswer) as error:
            raise FetchError(Failure.NO_SUCH_NAME, f"{host}: {type(error).__name__}") from error
        except dns.exception.DNSException as error:
            raise FetchError(Failure.DNS_UNAVAILABLE, f"{host}: {type(error).__name__}") from error

    async def _by_the_machine(self, host: str) -> list[str]:
        """Addresses of a host in the user's own network, also one that stands in the machine's hosts file alone."""
        try:
            found = await asyncio.get_running_loop().getaddrinfo(host, None, family=socket.AF_INET)
        except OSError as error:
            raise FetchError(Failure.NO_SUCH_NAME, f"{host}: {error.strerror or error}") from error
        return list(dict.fromkeys(str(entry[4][0]) for entry in found))

    async def close(self) -> None:
        """Nothing is held open."""


def _result(host: str, address: str, port: int) -> ResolveResult:
    return ResolveResult(
        hostname=host,
        host=address,
        port=port,
        family=socket.AF_INET,
        proto=socket.IPPROTO_TCP,
        flags=socket.AI_NUMERICHOST,
    )
