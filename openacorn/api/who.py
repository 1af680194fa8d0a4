"""The current user: found before the route is chosen and before the body is read; what they did is logged after."""

import asyncio
import logging
import sqlite3
from http.cookies import CookieError, SimpleCookie
from typing import Annotated

from fastapi import Depends, Request
from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from openacorn.acting import Act, act_as, begin_act
from openacorn.api import errors
from openacorn.api.permissions import OPEN, SELF, PermissionRule
from openacorn.api.proxies import client_address, from_outside
from openacorn.clock import utc_now
from openacorn.core.team.allowance import Allowance
from openacorn.core.team.permission import Permission
from openacorn.db.writers_queue import for_somebody
from openacorn.errors import AcornError
from openacorn.team.allowances import check_allowance
from openacorn.team.identity import EVERYBODY, Identities, Identity, NotPermitted, NotSignedIn
from openacorn.team.signing_in import Visitor
from openacorn.team.store import credentials
from openacorn.team.store.allowances import note_taken_out

COOKIE = "__Host-acorn"
CSRF_HEADER = "x-csrf-token"
SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
NOBODY = Identity(0, "", "", frozenset())
"""There are accounts, and nobody is signed in."""

log = logging.getLogger(__name__)


class CsrfMissing(NotPermitted):
    """A change that a session's own page did not send."""

    where = "session"
    remedy = "reload the page and try again"


class MakeAccountFirst(NotPermitted):
    """Without accounts, nobody but this machine may ask."""

    where = "accounts"
    remedy = "make the first account on the machine itself: open it there, or use ./acorn user add"


def _shown(headers: Headers) -> tuple[str, bool]:
    """What a request shows, and whether a browser does: the session's cookie, or a program's token."""
    kind, _, token = headers.get("authorization", "").partition(" ")
    if kind.lower() == "bearer" and token.strip():
        return token.strip(), False
    cookies: SimpleCookie = SimpleCookie()
    try:
        cookies.load(headers.get("cookie", ""))
    except CookieError:
        return "", True
    return (cookies[COOKIE].value if COOKIE in cookies else ""), True


async def _identity(scope: Scope, headers: Headers) -> Identity:
    """Raises NotSignedIn, CsrfMissing, MakeAccountFirst."""
    identities: Identities = scope["app"].state.app_state.identities
    secret, browser = _shown(headers)
    who = identities.remembered(secret)
    if who is None:
        who = await asyncio.to_thread(identities.identify, secret)
    if who is EVERYBODY and from_outside(scope, headers):
        raise MakeAccountFirst("this application has no accounts yet")
    if browser != bool(who.csrf) and who.account:
        raise NotSignedIn("a session is shown by its cookie, a token as Authorization: Bearer")
    if who.csrf and scope["method"] not in SAFE and headers.get(CSRF_HEADER, "") != who.csrf:
        raise CsrfMissing("this change did not come from a page of this session")
    return who


async def is_known(request: Request) -> bool:
    """May the visitor see more than the sign-in? For addresses outside of the API, where nobody is refused."""
    try:
        await _identity(request.scope, request.headers)
    except AcornError:
        return False
    return True


class Identify:
    """Finds the current user, refuses strangers, and logs what users do."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on with its identity, or refuse it."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            return await self._app(scope, receive, send)
        headers = Headers(scope=scope)
        try:
            scope["identity"] = who = await _identity(scope, headers)
        except NotSignedIn as refused:
            if not _is_open(scope):
                return await errors.answer(refused)(scope, receive, send)
            scope["identity"] = who = NOBODY
        except AcornError as refused:
            return await errors.answer(refused)(scope, receive, send)
        act_as(who.name, who.account, sees_all=Permission.MANAGE in who.permissions)
        begin_act(None)

        async def noted(message: Message) -> None:
            act: Act | None = scope.get("act")
            if message["type"] == "http.response.start" and message["status"] < 400 and act and not act.written:
                await asyncio.to_thread(_log, scope, act)  # before it is answered: what was done is written down
            await send(message)

        await self._app(scope, receive, noted if who.account and scope["method"] not in SAFE else send)


def _rule(scope: Scope, path: str) -> PermissionRule | None:
    rules: dict[tuple[str, str], PermissionRule] = scope["app"].state.permissions
    return rules.get((scope["method"], path.removeprefix("/api")))


def _is_open(scope: Scope) -> bool:
    """May anybody ask this? Only addresses without a slot are known before a route is found, and feeds."""
    path = scope["path"]
    rule = _rule(scope, "/api/feeds/{preset_id}" if path.startswith("/api/feeds/") else path)
    return rule is not None and rule.needs == OPEN


def _begin(scope: Scope, who: Identity, rule: PermissionRule) -> None:
    """Whatever changes the store in this request writes down who does what; what is only asked is no act."""
    route = scope["route"]
    if not who.account or scope["method"] in SAFE or not rule.logged:
        return
    what = f"{str(route.tags[0]).capitalize()}: {route.summary or route.name.replace('_', ' ')}"
    subject = ", ".join(f"{name.replace('_', ' ')} {value}" for name, value in scope.get("path_params", {}).items())
    act = scope["act"] = Act((who.account, who.name, who.token), what, subject, scope["path"])
    begin_act(act)


def _log(scope: Scope, act: Act) -> None:
    """Write down an act that changed something else than the store: a file, or what is in memory."""
    try:
        with for_somebody(), scope["app"].state.app_state.database.write() as conn:
            credentials.log_activity(conn, act, utc_now())
            act.written = True
    except sqlite3.OperationalError:
        log.warning("an act could not be written into the activity log")


def _spend(scope: Scope, who: Identity, what: Allowance) -> None:
    """Raises AllowanceReached. A file taken out counts now, whatever comes of it; contacts count by what is noted of them."""
    database = scope["app"].state.app_state.database
    if what is not Allowance.EXPORTS:
        with database.read() as conn:
            return check_allowance(conn, who.account, (what,))
    with for_somebody(), database.write() as conn:
        check_allowance(conn, who.account, (what,))
        note_taken_out(conn, who.account, scope["path"], utc_now())


def changed_by(scope: Scope) -> str:
    """Who else changed what is at an address last; "" if nobody is known. Blocks."""
    with scope["app"].state.app_state.database.read() as conn:
        return credentials.last_author(conn, scope["path"], scope["identity"].account)


async def get_identity(request: Request) -> Identity:
    """The current user."""
    identity: Identity = request.scope.get("identity", EVERYBODY)
    return identity


IdentityDep = Annotated[Identity, Depends(get_identity)]


async def check_permission(request: Request, who: IdentityDep) -> None:
    """Refuse what the current user may not do. Of every route. Raises NotPermitted, NotSignedIn."""
    rule = request.app.state.permissions[request.method, request.scope["route"].path]
    if rule.needs == OPEN or who is EVERYBODY:
        return
    if not who.account:
        raise NotSignedIn("nobody is signed in")
    if who.token and rule.needs == SELF and request.method not in SAFE:
        raise NotPermitted("a token changes nothing about the account it belongs to")
    if rule.needs != SELF and rule.needs not in who.permissions:
        raise NotPermitted("your account does not permit this")
    if rule.counts is not None and who.account:
        await asyncio.to_thread(_spend, request.scope, who, rule.counts)
    _begin(request.scope, who, rule)


def visitor_of(request: Request) -> Visitor:
    """Where a request comes from."""
    settings = request.app.state.app_state.settings
    return Visitor(client_address(settings, request.scope, request.headers), request.headers.get("user-agent", ""))
