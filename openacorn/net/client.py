"""The one HTTP client: every request of the product leaves through `Client.fetch`.

One call is one hop: redirects are the caller's to follow, so that each target passes the address guard again.
"""

import asyncio
import ssl
import time
from collections.abc import Mapping
from dataclasses import dataclass, field
from types import TracebackType
from typing import Self
from urllib.parse import urljoin

import aiohttp
from aiohttp.connector import Connection
from yarl import URL

from openacorn.core.audit.evidence import Certificate, Failure
from openacorn.net.body import CHUNK, read_body
from openacorn.net.errors import FetchError
from openacorn.net.probes.drawing import Drawn, draw
from openacorn.net.pulse import Pulse
from openacorn.net.resolver import RESOLVE_SECONDS, GuardedResolver, UnknownNameError
from openacorn.net.tls import contexts, problem_of, read_certificate
from openacorn.settings import Settings

MAX_BODY = 4_000_000
"""Bytes of a page that are read, unpacked. The largest honest home pages hold a tenth of that as HTML."""

CONNECT_SECONDS = 6.0
BRIEF_SECONDS = 5.0
"""For questions beside the page itself: is there a sitemap, how large is a file."""

PERHAPS_OURS = frozenset({Failure.TIMEOUT, Failure.PROTOCOL, Failure.UNREACHABLE, Failure.TLS})
"""Failures that a process causes by standing still: it answers too late, and servers hang up on it."""

SENT_ON = frozenset({301, 302, 303, 307, 308})
"""Statuses of a redirect (RFC 9110 §15.4)."""

MOST_HOPS = 6
A_LITTLE_LATE_S = 0.2
"""Standstills from this length on are taken off the time that a server seemed to need."""


@dataclass(frozen=True, slots=True)
class Answer:
    """One HTTP response. Times in seconds, header names in lower case."""

    url: str
    status: int
    headers: Mapping[str, str]
    body: bytes
    wire_bytes: int
    truncated: bool
    wait_s: float
    connect_s: float
    certificate: Certificate | None
    lost_s: float = 0.0  # this process stood still so long while it waited: not in `wait_s`, though the server may have
    cookies: Mapping[str, str] = field(default_factory=dict)


def _trace() -> aiohttp.TraceConfig:
    """Note when a connection was ready, to tell the server's own wait from the way there."""
    trace = aiohttp.TraceConfig()

    async def ready(_session: object, context: object, _params: object) -> None:
        request = getattr(context, "trace_request_ctx", None)
        if isinstance(request, dict):
            request["ready"] = time.monotonic()

    trace.on_connection_create_end.append(ready)
    trace.on_connection_reuseconn.append(ready)
    return trace


class _Response(aiohttp.ClientResponse):
    """Remembers the TLS connection it came over: the library lets go of it as soon as a short body is complete."""

    tls: ssl.SSLObject | None = None

    async def start(self, connection: Connection) -> aiohttp.ClientResponse:
        """Begin to read, as the library does."""
        if connection.transport is not None:
            self.tls = connection.transport.get_extra_info("ssl_object")
        return await super().start(connection)


class Client:
    """Fetches with guards on address, size and time. Use as `async with Client(settings) as client`."""

    def __init__(self, settings: Settings, *, allow_private: bool = False) -> None:
        self._settings = settings
        self._allow_private = allow_private
        ca_file = settings.world.ca_file if settings.world else None
        self._strict, self._lax = contexts(ca_file)
        self.pulse = Pulse()
        self.brief_s = min(BRIEF_SECONDS, settings.request_seconds)

    async def __aenter__(self) -> Self:
        self._resolver = GuardedResolver(
            self._settings.world,
            self._allow_private,
            self._settings.trusted_hosts,
            min(RESOLVE_SECONDS, self._settings.request_seconds / 2),  # its failure must be known from the site's
        )
        connector = aiohttp.TCPConnector(
            resolver=self._resolver,
            limit=0,
            limit_per_host=2,
            use_dns_cache=False,
            keepalive_timeout=5,
            ssl=self._strict,
        )
        self._session = aiohttp.ClientSession(
            connector=connector,
            cookie_jar=aiohttp.DummyCookieJar(),
            auto_decompress=False,
            response_class=_Response,
            trace_configs=[_trace()],
            headers={"User-Agent": self._settings.user_agent, "Accept-Encoding": "gzip, deflate"},
        )
        self._beating = asyncio.create_task(self.pulse.beat_on())
        return self

    async def __aexit__(
        self, kind: type[BaseException] | None, value: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._beating.cancel()
        await self._session.close()
        await self._resolver.close()

    async def draw(self, url: str, *, rows: str, more: str, most: int) -> Drawn:
        """A page as a browser draws it, with what scrolling and clicking brings (`probes.drawing.draw`)."""
        return await draw(url, self._settings, rows=rows, more=more, most=most, allow_private=self._allow_private)

    async def records(self, name: str, kind: str) -> list[str]:
        """What the name server says: "MX" or "TXT" records. Raises FetchError."""
        return await self._resolver.records(name, kind)

    async def address(self, host: str, port: int) -> tuple[str, int]:
        """A guarded address of a host, for protocols other than HTTP. Raises FetchError."""
        try:
            (found, *_) = await self._resolver.resolve(host, port)
        except UnknownNameError as error:
            raise error.cause from None
        return found["host"], found["port"]

    async def fetch(
        self,
        url: str,
        *,
        method: str = "GET",
        headers: Mapping[str, str] | None = None,
        form: Mapping[str, str] | bytes | None = None,
        verify: bool = True,
        max_body: int = MAX_BODY,
        seconds: float | None = None,
    ) -> Answer:
        """Make one request; with a `form` (fields, or a whole body) it is a POST of it.

        Raises FetchError for everything that is not an HTTP response.

        seconds: what all of it may take; None: what the settings allow a website. verify=False reads on behind a bad
        certificate; the caller has it on record by then.
        """
        started, seconds = time.monotonic(), seconds or self._settings.request_seconds
        try:
            target = URL(url)
            # an address written as a number never reaches the resolver, so it is guarded here
            self._resolver.literal(target.host or "", target.port or 0)
            async with asyncio.timeout(seconds):
                return await self._one(
                    target, method if form is None else "POST", headers or {}, form, verify, max_body, seconds
                )
        except (FetchError, aiohttp.ClientError, OSError, ValueError) as error:
            failed = _failure(error, url, seconds)
            if failed.failure in PERHAPS_OURS and (lost := self.pulse.is_ours(started)):
                words = f"this machine stood still for {lost:.1f} s; then: {failed.detail}"
                raise FetchError(Failure.BUSY, words) from error
            if failed is error:
                raise
            raise failed from error

    async def follow(self, url: str, *, max_body: int = MAX_BODY, seconds: float | None = None) -> Answer:
        """Fetch, and go where redirects lead; each target passes the address guard again. Raises FetchError."""
        for _ in range(MOST_HOPS):
            answer = await self.fetch(url, max_body=max_body, seconds=seconds)
            if answer.status not in SENT_ON:
                return answer
            url = urljoin(url, answer.headers.get("location", ""))
        raise FetchError(Failure.REDIRECT_LOOP, f"{url} sends from one address to the next without an end")

    async def _one(
        self,
        target: URL,
        method: str,
        headers: Mapping[str, str],
        form: Mapping[str, str] | bytes | None,
        verify: bool,
        max_body: int,
        seconds: float,
    ) -> Answer:
        times: dict[str, float] = {"start": time.monotonic()}
        async with self._session.request(
            method,
            target,
            headers=dict(headers),
            data=form if form is None or isinstance(form, bytes) else dict(form),
            allow_redirects=False,
            ssl=self._strict if verify else self._lax,
            trace_request_ctx=times,
            timeout=aiohttp.ClientTimeout(total=None, sock_connect=min(CONNECT_SECONDS, seconds)),
        ) as response:
            answered = time.monotonic()
            ready = times.get("ready", times["start"])
            late, lost = (self.pulse.stood_still(since, A_LITTLE_LATE_S) for since in (times["start"], ready))
            tls = response.tls if isinstance(response, _Response) else None
            certificate = read_certificate(tls.getpeercert(binary_form=True)) if tls is not None else None
            encoding = response.headers.get("Content-Encoding", "")
            body = await read_body(response.content.iter_chunked(CHUNK), encoding, max_body)
            if body.truncated:
                response.close()  # the rest is not wanted, and the connection cannot be used again
            return Answer(
                url=str(target),
                status=response.status,
                headers={name.lower(): value for name, value in response.headers.items()},
                body=body.data,
                wire_bytes=body.wire_bytes,
                truncated=body.truncated,
                wait_s=max(0.0, answered - ready - lost),
                connect_s=max(0.0, ready - times["start"] - (late - lost)),
                certificate=certificate,
                lost_s=min(lost, answered - ready),
                cookies={name: morsel.value for name, morsel in response.cookies.items()},
            )


def _failure(error: Exception, url: str, seconds: float) -> FetchError:
    """The message of an error, of the library or our own, about the request for `url`."""
    if isinstance(error, FetchError):
        return error
    if isinstance(error, TimeoutError):
        return FetchError(Failure.TIMEOUT, f"no answer from {url} within {seconds:g} s")
    if isinstance(error, aiohttp.ClientConnectorDNSError):
        return _dns_failure(error)
    if isinstance(error, aiohttp.ClientSSLError):
        return FetchError(Failure.TLS, str(error), problem_of(error))
    if isinstance(error, aiohttp.ClientConnectorError):
        kind = Failure.REFUSED if isinstance(error.os_error, ConnectionRefusedError) else Failure.UNREACHABLE
        return FetchError(kind, f"{URL(url).host}: {error.strerror or error}")
    if isinstance(error, aiohttp.InvalidURL | ValueError):
        return FetchError(Failure.BAD_ADDRESS, f"{url}: {error}")
    return FetchError(Failure.PROTOCOL, f"{URL(url).host}: {type(error).__name__}: {error}")


def _dns_failure(error: aiohttp.ClientConnectorDNSError) -> FetchError:
    """The resolver's own error, out of what the library wrapped around it."""
    inner: BaseException | None = error.os_error
    if isinstance(inner, UnknownNameError):
        return inner.cause
    return FetchError(Failure.DNS_UNAVAILABLE, str(error))
