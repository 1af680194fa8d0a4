"""Passkeys: signing in by a device that asks for a finger, a face or a code, and shows it is the right page (WebAuthn level 2)."""

import base64
import binascii
import secrets
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

from openacorn.clock import utc_now
from openacorn.db.database import Database
from openacorn.errors import Conflict, InvalidInput
from openacorn.team.signing_in import SigningIn, SignInRefused, Visitor
from openacorn.team.store import accounts, passkeys
from openacorn.team.store.accounts import Account
from openacorn.team.store.passkeys import Passkey

ASKED_S = 300.0
"""How long a device may take to answer."""

MOST_ASKED = 1000
MOST_OF_PERSON = 20


class NoPasskeys(Conflict):
    """Browsers make passkeys for a name alone, not for an address of numbers."""

    where = "address"
    remedy = "open the application by its name: as it stands in Settings, or as http://localhost on this computer"


class PasskeyRefused(InvalidInput):
    """What a device answered cannot be used; the message says why."""

    where = "passkey"
    remedy = "try again, or use another device"


@dataclass(frozen=True, slots=True)
class Site:
    """For which name, and at which address, passkeys are made."""

    name: str
    origin: str


def site_of(application_address: str, host: str) -> Site:
    """The site that a request came to. Raises NoPasskeys."""
    if application_address and urlsplit(application_address).netloc.lower() == host.lower():
        return Site(urlsplit(application_address).hostname or "", application_address.rstrip("/"))
    if host.partition(":")[0] == "localhost":
        return Site("localhost", f"http://{host}")
    raise NoPasskeys("here passkeys cannot be used")


@dataclass
class Passkeys:
    """Asks devices, and believes what they sign."""

    database: Database
    signing_in: SigningIn
    _asked: "OrderedDict[str, tuple[float, bytes, int]]" = field(default_factory=OrderedDict)
    """What was asked → (when, the challenge, for which account; 0 for a sign-in)."""
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def _ask(self, challenge: bytes, account: int) -> str:
        number = secrets.token_urlsafe(18)
        with self._lock:
            while len(self._asked) >= MOST_ASKED:
                self._asked.popitem(last=False)
            self._asked[number] = (time.monotonic(), challenge, account)
        return number

    def _answered(self, number: str, account: int) -> bytes:
        """The challenge that was asked; it is answered once. Raises PasskeyRefused."""
        with self._lock:
            at, challenge, wanted = self._asked.pop(number, (0.0, b"", -1))
        if wanted != account or time.monotonic() - at > ASKED_S:
            raise PasskeyRefused("this took too long, or was answered before")
        return challenge

    def begin(self, account: Account, site: Site) -> tuple[str, dict[str, Any]]:
        """(a number, what the browser is to ask a device for) to make a passkey."""
        from openacorn.team import passkey_protocol as protocol

        with self.database.read() as conn:
            known = passkeys.list_passkeys(conn, account.id)
        if len(known) >= MOST_OF_PERSON:
            raise PasskeyRefused(f"you have {len(known)} passkeys; remove one first")
        challenge, options = protocol.ask_for_key(
            site.name, account.email, account.name, f"account {account.id}".encode(), [one.credential for one in known]
        )
        return self._ask(challenge, account.id), options

    def keep(self, account: Account, site: Site, number: str, answer: dict[str, Any], name: str) -> None:
        """Keep what a device made. Raises PasskeyRefused, Conflict."""
        from openacorn.team import passkey_protocol as protocol

        challenge = self._answered(number, account.id)
        try:
            credential, public_key, uses = protocol.read_key(answer, challenge, site.name, site.origin)
        except protocol.AnswerRefused as error:
            raise PasskeyRefused(f"this passkey cannot be used: {error}") from None
        key = Passkey(0, account.id, credential, public_key, uses, name, utc_now(), "")
        with self.database.write() as conn:
            passkeys.insert_passkey(conn, key)

    def begin_sign_in(self, site: Site) -> tuple[str, dict[str, Any]]:
        """(a number, what the browser is to ask a device for) to sign in; the device knows the account."""
        from openacorn.team import passkey_protocol as protocol

        challenge, options = protocol.ask_to_sign_in(site.name)
        return self._ask(challenge, 0), options

    def sign_in(self, site: Site, number: str, answer: dict[str, Any], visitor: Visitor) -> str:
        """Open a session; return what its cookie holds. Raises SignInRefused, PasskeyRefused."""
        from openacorn.team import passkey_protocol as protocol

        challenge = self._answered(number, 0)
        with self.database.read() as conn:
            key = passkeys.find_passkey(conn, _bytes(answer.get("id")))
            account = accounts.get_account(conn, key.account_id) if key else None
        if key is None or account is None or not account.active:
            raise SignInRefused("this passkey is none of anybody here")
        try:
            uses = protocol.read_sign_in(answer, challenge, site.name, site.origin, key.key, key.uses)
        except protocol.AnswerRefused:
            raise SignInRefused("this passkey was not shown as it should be") from None
        with self.database.write() as conn:
            if not passkeys.note_use(conn, key, uses, utc_now()):
                raise SignInRefused("this passkey was used elsewhere at the same moment")
        return self.signing_in.open_session(account, visitor)


def _bytes(text: object) -> bytes:
    """Base64url as browsers write it, without padding; nothing for anything else."""
    try:
        return base64.urlsafe_b64decode(f"{text}===") if isinstance(text, str) else b""
    except (binascii.Error, ValueError):
        return b""
