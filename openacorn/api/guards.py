"""What every request meets before a route: who sent it, how large it is; and what every answer tells the browser."""

from collections.abc import Mapping
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from openacorn.api import errors
from openacorn.api.proxies import forwarded, peer_of, trusted
from openacorn.settings import Settings

HEADERS = {
    "Content-Security-Policy": "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; "
    "img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; worker-src 'self' blob:; frame-src 'self'; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'self'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
"""No script but our own, no frame of another site around us, no content taken for another kind (OWASP Secure Headers)."""

PROXY_REMEDY = (
    "for owners' pages, forward to their port; for your team, set the address and the trusted proxies in Settings"
)
HOST_REMEDY = "use the address of the application as it stands in Settings"
FEEDS = "/api/feeds/"
"""Links with a token of their own, made to be opened from anywhere; they change nothing but who counts as exported."""

LOOPBACK_NAMES = frozenset({"127.0.0.1", "localhost", "[::1]"})


class Refuse:
    """Refuses what another site's page sends, what came through a proxy that is not trusted, and names that are not ours."""

    def __init__(self, app: ASGIApp, settings: Settings) -> None:
        self._app, self._settings = app, settings

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        if scope["type"] == "http" and (refusal := _refusal(self._settings, scope)):
            return await refusal(scope, receive, send)
        return await self._app(scope, receive, send)


def _refusal(settings: Settings, scope: Scope) -> JSONResponse | None:
    path, headers = scope["path"], Headers(scope=scope)
    proxied = forwarded(headers)
    ours = urlsplit(settings.application_address).netloc
    if proxied and not (ours and trusted(settings, peer_of(scope))):
        what = "the application is for this machine alone, and this came through a proxy"
        return JSONResponse(errors.body(what, "proxy", PROXY_REMEDY), 403)
    host = headers.get("host", "")
    at_home = _without_port(host) in LOOPBACK_NAMES and not proxied
    if not at_home and (not ours or host.lower() != ours.lower()):
        return JSONResponse(errors.body(f"nothing is here by the name {host[:100]!r}", "host", HOST_REMEDY), 400)
    if path.startswith("/api/") and not path.startswith(FEEDS) and _from_another_site(headers):
        what = "this came from another site's page"
        return JSONResponse(errors.body(what, "origin", "use the application's own pages"), 403)
    return None


def _without_port(host: str) -> str:
    name, colon, port = host.rpartition(":")
    return name if colon and port.isdigit() else host


def _from_another_site(headers: Headers) -> bool:
    """Did another site's page send this? By what browsers say (W3C Fetch Metadata), and for older ones by Origin and Referer.

    A program (curl, a spreadsheet) says nothing of the kind: it acts for who started it.
    """
    site = headers.get("sec-fetch-site")
    if site is not None and site not in {"same-origin", "none"}:
        return True
    sent = [headers[name] for name in ("origin", "referer") if name in headers]
    return any(urlsplit(address).netloc != headers.get("host") for address in sent)


class Limit:
    """Refuses bodies of more than `most` bytes, before they are read; `larger`: beginnings of paths with limits of their own."""

    def __init__(self, app: ASGIApp, most: int, larger: Mapping[str, int] | None = None) -> None:
        self._app, self._most, self._larger = app, most, larger or {}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        if scope["type"] != "http":
            return await self._app(scope, receive, send)
        most = next((size for start, size in self._larger.items() if scope["path"].startswith(start)), self._most)
        what = f"more than {most:,} bytes were sent"
        sent = Headers(scope=scope).get("content-length", "0")
        if not sent.isdigit() or int(sent) > most:
            return await JSONResponse(errors.body(what, "body", "send less at once"), 413)(scope, receive, send)
        taken = 0

        async def counted() -> Message:
            nonlocal taken
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > most:  # sent in pieces, without saying how much it is
                raise HTTPException(413, what)
            return message

        return await self._app(scope, counted, send)


class Tell:
    """Adds headers to every answer; what a route says itself stands."""

    def __init__(self, app: ASGIApp, headers: Mapping[str, str], settings: Settings) -> None:
        self._app, self._headers, self._settings = app, headers, settings

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, and complete its answer."""

        async def completed(message: Message) -> None:
            if message["type"] == "http.response.start":
                sent = MutableHeaders(scope=message)
                for name, value in self._headers.items():
                    sent.setdefault(name, value)
                if self._encrypted(scope):
                    sent["Strict-Transport-Security"] = "max-age=31536000"
            await send(message)

        await self._app(scope, receive, completed if scope["type"] == "http" else send)

    def _encrypted(self, scope: Scope) -> bool:
        """Did the browser come by HTTPS: to us, or to the proxy before us?"""
        ours = urlsplit(self._settings.application_address)
        return scope["scheme"] == "https" or (
            ours.scheme == "https" and Headers(scope=scope).get("host") == ours.netloc
        )
