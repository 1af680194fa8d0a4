"""Changes on conditions: only if nobody changed it meanwhile (If-Match), only once (Idempotency-Key), only so many (rate limits).

RFC 9110, 8.8.3 and 13.1 for the first; the IETF's drafts on the Idempotency-Key and RateLimit header fields for the others.
"""

import asyncio
import hashlib
import time
from collections import OrderedDict
from collections.abc import Callable

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from openacorn.api import errors
from openacorn.team.identity import Identity

LARGEST = 1024 * 1024
"""Bytes: larger answers get no tag, and are not kept to be given again."""

KEPT_S = 24 * 3600.0
MOST_KEPT = 2000
PER_MINUTE = 600
"""Requests of one program's token."""


class _Answer:
    """An answer as it is sent, kept back."""

    def __init__(self) -> None:
        self.start: Message = {}
        self.body = bytearray()

    async def take(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.start = message
        else:
            self.body += message.get("body", b"")

    @property
    def tag(self) -> str:
        return f'"{hashlib.sha256(self.body).hexdigest()[:32]}"'


async def _nothing() -> Message:
    return {"type": "http.request", "body": b"", "more_body": False}


class IfMatch:
    """Gives JSON a tag, and changes nothing whose tag has changed since: the second of two people learns of the first."""

    def __init__(self, app: ASGIApp, changed_by: Callable[[Scope], str]) -> None:
        self._app, self._changed_by = app, changed_by
        self._locks: dict[str, asyncio.Lock] = {}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, with or without a condition."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            return await self._app(scope, receive, send)
        if scope["method"] == "GET":
            return await self._tagged(scope, receive, send)
        wanted = Headers(scope=scope).get("if-match")
        if wanted is None or wanted.strip() == "*":
            return await self._app(scope, receive, send)
        lock = self._locks.setdefault(scope["path"], asyncio.Lock())
        async with lock:  # nobody changes it between the look and the change
            now = _Answer()
            await self._app({**scope, "method": "GET", "query_string": b""}, _nothing, now.take)
            if now.start.get("status") == 200 and now.tag not in {part.strip() for part in wanted.split(",")}:
                who = await asyncio.to_thread(self._changed_by, scope)
                what = f"{who or 'somebody'} changed this meanwhile"
                said = errors.body(what, "changed", "save again to keep yours, or reload to see theirs")
                return await JSONResponse(said, 412, headers={"ETag": now.tag})(scope, receive, send)
            await self._app(scope, receive, send)
        if not lock.locked():
            self._locks.pop(scope["path"], None)

    async def _tagged(self, scope: Scope, receive: Receive, send: Send) -> None:
        held: Message | None = None

        async def tagged(message: Message) -> None:
            nonlocal held
            if message["type"] == "http.response.start":
                held = message
                return
            if held is None:
                return await send(message)
            start, held = held, None
            headers = MutableHeaders(scope=start)
            plain = start["status"] == 200 and headers.get("content-type", "").startswith("application/json")
            if plain and not message.get("more_body") and len(message.get("body", b"")) <= LARGEST:
                answer = _Answer()
                await answer.take(message)
                headers["ETag"] = answer.tag
                headers.setdefault("Cache-Control", "no-store")  # in no browser's cache: it may be about people
                if answer.tag in Headers(scope=scope).get("if-none-match", ""):
                    start["status"] = 304
                    headers["Content-Length"] = "0"
                    message = {**message, "body": b""}
            await send(start)
            await send(message)

        await self._app(scope, receive, tagged)


class Once:
    """Answers a POST that was answered before under the same Idempotency-Key as it was then, and does it not again."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app
        self._kept: OrderedDict[str, tuple[float, str, _Answer]] = OrderedDict()
        self._under_way: set[str] = set()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or answer it as before."""
        named = Headers(scope=scope).get("idempotency-key", "") if scope["type"] == "http" else ""
        if not named or scope["method"] != "POST":
            return await self._app(scope, receive, send)
        who: Identity = scope["identity"]
        body = await _body(receive)
        if len(named) > 200 or body is None:
            said = errors.body(
                "this cannot be done once: the key or the body is too long", "Idempotency-Key", "send less"
            )
            return await JSONResponse(said, 422)(scope, receive, send)
        key = f"{who.account} {named}"
        asked = hashlib.sha256(
            f"{scope['path']}?{scope['query_string'].decode('latin-1')}\n".encode() + body
        ).hexdigest()
        refusal = self._refusal(key, asked)
        if refusal is not None:
            return await refusal(scope, receive, send)
        if key in self._kept:
            return await _replay(self._kept[key][2], send)
        self._under_way.add(key)
        try:
            answer, short = _Answer(), True

            async def passed_on(message: Message) -> None:
                nonlocal short
                short = short and len(answer.body) + len(message.get("body", b"")) <= LARGEST
                if short:
                    await answer.take(message)
                await send(message)

            await self._app(scope, _given(body, receive), passed_on)
            if short and answer.start and answer.start["status"] < 500:
                self._kept[key] = (time.monotonic(), asked, answer)
        finally:
            self._under_way.discard(key)

    def _refusal(self, key: str, asked: str) -> Response | None:
        while self._kept and (
            len(self._kept) > MOST_KEPT or time.monotonic() - next(iter(self._kept.values()))[0] > KEPT_S
        ):
            self._kept.popitem(last=False)
        if key in self._under_way:
            said = errors.body("the first request of this key is under way", "Idempotency-Key", "wait for it")
            return JSONResponse(said, 409)
        if key in self._kept and self._kept[key][1] != asked:
            said = errors.body("this key was used for something else", "Idempotency-Key", "use a new key")
            return JSONResponse(said, 422)
        return None


async def _body(receive: Receive) -> bytes | None:
    """The whole body; None if it is too long to be kept."""
    found = bytearray()
    while True:
        message = await receive()
        found += message.get("body", b"")
        if len(found) > LARGEST:
            return None
        if not message.get("more_body", False):
            return bytes(found)


def _given(body: bytes, rest: Receive) -> Receive:
    """A body that was read already, then whatever comes after: an answer in pieces is broken off once the asker goes away."""
    parts: list[Message] = [{"type": "http.request", "body": body, "more_body": False}]

    async def receive() -> Message:
        return parts.pop() if parts else await rest()

    return receive


async def _replay(answer: _Answer, send: Send) -> None:
    await send({**answer.start, "headers": [*answer.start["headers"], (b"idempotent-replayed", b"true")]})
    await send({"type": "http.response.body", "body": bytes(answer.body)})


class Rate:
    """Lets each program's token ask so many times a minute, and says how many are left."""

    def __init__(self, app: ASGIApp, per_minute: int = PER_MINUTE) -> None:
        self._app, self._most = app, per_minute
        self._asked: dict[int, tuple[int, int]] = {}
        """Token → (the minute, requests in it)."""

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it."""
        who = scope.get("identity") if scope["type"] == "http" else None
        if not isinstance(who, Identity) or not who.token:
            return await self._app(scope, receive, send)
        seconds = time.monotonic()
        minute, left_s = int(seconds // 60), 60 - int(seconds % 60)
        before, count = self._asked.get(who.credential, (minute, 0))
        count = count + 1 if before == minute else 1
        self._asked[who.credential] = (minute, count)
        told = {
            "RateLimit-Limit": str(self._most),
            "RateLimit-Remaining": str(max(0, self._most - count)),
            "RateLimit-Reset": str(left_s),
        }
        if count > self._most:
            said = errors.body("this token asks too often", "token", f"wait {left_s} seconds")
            return await JSONResponse(said, 429, headers={**told, "Retry-After": str(left_s)})(scope, receive, send)

        async def with_limits(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(told)
            await send(message)

        await self._app(scope, receive, with_limits)
