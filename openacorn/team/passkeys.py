"""Passkeys: signing in by a device that asks for a finger, a face or a code, and shows it is the right page (WebAuthn level 2)."""

import base64
import binascii
import json
import secrets
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

import webauthn
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from openacorn.clock import utc_now
from openacorn.db.database import Database
from openacorn.errors import Conflict, InvalidInput
from openacorn.team.signing_in import SigningIn, SignInRefused, Visitor
from openacorn.team.store import accounts, passkeys
from openacorn.team.store.accounts import Account
from openacorn.team.store.passkeys import Passkey

ASKED_S = 300.0
"""So long a device may take to answer."""

MOST_ASKED = 1000
MOST_OF_PERSON = 20
VERIFIED = UserVerificationRequirement.REQUIRED
"""The device asks who holds it: a passkey stands for password and one-time code together."""


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
        with self.database.read() as conn:
            known = passkeys.list_passkeys(conn, account.id)
        if len(known) >= MOST_OF_PERSON:
            raise PasskeyRefused(f"you have {len(known)} passkeys; remove one first")
        options = webauthn.generate_registration_options(
            rp_id=site.name, rp_name="Open Acorn", user_name=account.email, user_display_name=account.name,
            user_id=f"account {account.id}".encode(),
            authenticator_selection=AuthenticatorSelectionCriteria(
                resident_key=ResidentKeyRequirement.REQUIRED, user_verification=VERIFIED
            ),
            exclude_credentials=[PublicKeyCredentialDescriptor(id=one.credential) for one in known],
        )  # fmt: skip
        return self._ask(options.challenge, account.id), json.loads(webauthn.options_to_json(options))

    def keep(self, account: Account, site: Site, number: str, answer: dict[str, Any], name: str) -> None:
        """Keep what a device made. Raises PasskeyRefused, Conflict."""
        challenge = self._answered(number, account.id)
        try:
            made = webauthn.verify_registration_response(
                credential=answer, expected_challenge=challenge, expected_rp_id=site.name, expected_origin=site.origin,
                require_user_verification=True,
            )  # fmt: skip
        except (WebAuthnException, ValueError, KeyError, TypeError) as error:
            raise PasskeyRefused(f"this passkey cannot be used: {error}") from None
        key = Passkey(
            0, account.id, made.credential_id, made.credential_public_key, made.sign_count, name, utc_now(), ""
        )
        with self.database.write() as conn:
            passkeys.insert_passkey(conn, key)

    def begin_sign_in(self, site: Site) -> tuple[str, dict[str, Any]]:
        """(a number, what the browser is to ask a device for) to sign in; the device knows the account."""
        options = webauthn.generate_authentication_options(rp_id=site.name, user_verification=VERIFIED)
        return self._ask(options.challenge, 0), json.loads(webauthn.options_to_json(options))

    def sign_in(self, site: Site, number: str, answer: dict[str, Any], visitor: Visitor) -> str:
        """Open a session; return what its cookie holds. Raises SignInRefused, PasskeyRefused."""
        challenge = self._answered(number, 0)
        with self.database.read() as conn:
            key = passkeys.find_passkey(conn, _bytes(answer.get("id")))
            account = accounts.get_account(conn, key.account_id) if key else None
        if key is None or account is None or not account.active:
            raise SignInRefused("this passkey is none of anybody here")
        try:
            shown = webauthn.verify_authentication_response(
                credential=answer, expected_challenge=challenge, expected_rp_id=site.name, expected_origin=site.origin,
                credential_public_key=key.key, credential_current_sign_count=key.uses, require_user_verification=True,
            )  # fmt: skip
        except (WebAuthnException, ValueError, KeyError, TypeError):
            raise SignInRefused("this passkey was not shown as it should be") from None
        with self.database.write() as conn:
            if not passkeys.note_use(conn, key, shown.new_sign_count, utc_now()):
                raise SignInRefused("this passkey was used elsewhere at the same moment")
        return self.signing_in.open_session(account, visitor)


def _bytes(text: object) -> bytes:
    """Base64url as browsers write it, without padding; nothing for anything else."""
    try:
        return base64.urlsafe_b64decode(f"{text}===") if isinstance(text, str) else b""
    except (binascii.Error, ValueError):
        return b""
