"""The current user: what a browser or a program shows, made into a person and their present permissions."""

import hashlib
import hmac
import sqlite3
import threading
import time
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from openacorn.acting import Act
from openacorn.clock import now, utc_now
from openacorn.core.team.permission import Permission, within
from openacorn.db.database import Database
from openacorn.errors import AcornError, Conflict
from openacorn.settings import Settings
from openacorn.team.passwords import fingerprint
from openacorn.team.store import accounts, credentials

TOKEN_PREFIX = "acorn_"
REMEMBERED_S = 5.0
"""How long an answer of the store is taken for true: a change by another process (a reset at the terminal) counts after that."""

NOTED_EACH = timedelta(minutes=1)


class NotSignedIn(AcornError):
    """Nobody is signed in, or not any more."""

    status = 401
    where = "session"
    remedy = "sign in"


class NoAccount(Conflict):
    """There are no accounts yet."""

    where = "accounts"
    remedy = "make your own account first, under Team in Settings"


class NotPermitted(AcornError):
    """The current user may not do this."""

    status = 403
    where = "permission"
    remedy = "ask an owner or a manager of your agency"


@dataclass(frozen=True, slots=True)
class Identity:
    """Who acts. account 0: nobody signed in, because there are no accounts. csrf: what a page must send with each change; ""
    where no browser could be misled. token: the name of the program's token."""

    account: int
    name: str
    role: str
    permissions: frozenset[Permission]
    credential: int = 0
    csrf: str = ""
    token: str = ""


EVERYBODY = Identity(0, "", "owner", frozenset(Permission))
"""Without accounts: the person at this machine."""


def note_act(conn: sqlite3.Connection, act: Act) -> None:
    """Write down what somebody does."""
    credentials.log_activity(conn, act, utc_now())


def csrf_of(secret: str) -> str:
    """What belongs to a session and is known to its own pages alone: another site can send the cookie, but not read this."""
    return hmac.new(secret.encode(), b"csrf", hashlib.sha256).hexdigest()


@dataclass
class Identities:
    """Finds the current user, in the store or in its answer of a moment ago."""

    database: Database
    settings: Settings
    """Says after how long without use a session is over; used or not, it is after its day of expiry."""
    _known: dict[str, tuple[float, Identity]] = field(default_factory=dict)
    _open: tuple[float, bool] = (-REMEMBERED_S, False)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def forget(self) -> None:
        """Ask the store again from now on: an account, a session or a token was changed."""
        with self._lock:
            self._known.clear()
            self._open = (-REMEMBERED_S, False)

    def remembered(self, secret: str) -> Identity | None:
        """Who it is, if that was asked a moment ago. Does not block."""
        at = time.monotonic()
        if at - self._open[0] >= REMEMBERED_S:
            return None
        if self._open[1]:
            return EVERYBODY
        known = self._known.get(fingerprint(secret)) if secret else None
        return known[1] if known and at - known[0] < REMEMBERED_S else None

    def identify(self, secret: str) -> Identity:
        """Who shows this secret. Blocks. Raises NotSignedIn."""
        if found := self.remembered(secret):
            return found
        asked_at = time.monotonic()
        with self.database.read() as conn:
            anybody = not accounts.any_account(conn)
        with self._lock:
            self._open = (asked_at, anybody)
        if anybody:
            return EVERYBODY
        found = self._look_up(secret)
        with self._lock:
            if len(self._known) > 1000:
                self._known.clear()
            self._known[fingerprint(secret)] = (asked_at, found)
        return found

    def _look_up(self, secret: str) -> Identity:
        if not secret:
            raise NotSignedIn("nobody is signed in")
        with self.database.read() as conn:
            credential = credentials.find_credential(conn, fingerprint(secret))
            account = accounts.get_account(conn, credential.account_id) if credential else None
        if credential is None or account is None or not account.active or credential.expires_at <= utc_now():
            raise NotSignedIn("this sign-in is over")
        idle = now() - datetime.fromisoformat(credential.seen_at)
        if credential.kind == "session" and idle > timedelta(minutes=self.settings.idle_minutes):
            raise NotSignedIn("this sign-in is over")
        if idle > NOTED_EACH:
            with self.database.write() as conn:
                credentials.note_used(conn, credential.id, utc_now())
                accounts.note_seen(conn, account.id, utc_now())
        if credential.scopes is None:
            return Identity(account.id, account.name, account.role, account.permissions, credential.id, csrf_of(secret))
        may = within(credential.scopes, account.permissions)
        return Identity(account.id, account.name, account.role, may, credential.id, token=credential.name)
