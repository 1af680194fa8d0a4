"""Signing in and out, one-time codes, and links by which a password is chosen."""

from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

from openacorn.clock import now, utc_now
from openacorn.db import secrets as sealing
from openacorn.db.database import Database
from openacorn.errors import AcornError, Busy, InvalidInput
from openacorn.team import passwords
from openacorn.team.identity import Identities
from openacorn.team.passwords import fingerprint, new_secret
from openacorn.team.store import accounts, credentials
from openacorn.team.store.accounts import Account
from openacorn.team.store.credentials import Credential

SESSION = timedelta(days=7)
LINK = timedelta(hours=48)
WINDOW = timedelta(minutes=15)
MOST_LINKS = 2
"""For new passwords, asked for within the window by one person."""

MOST_OF_PERSON, MOST_FROM_ADDRESS = 8, 40
"""Sign-ins that may fail within the window: for one person, and from one network address for all of them."""


class SignInRefused(AcornError):
    """It is not they, or nobody; which of it is not said."""

    status = 401
    where = "password"
    remedy = "check both, or ask for a new password"


class CodeNeeded(AcornError):
    """The password is right, and a one-time code is asked for besides."""

    status = 401
    where = "code"
    remedy = "enter the six digits that your app shows, or a recovery code"


class TooManyTries(Busy):
    """Somebody guesses."""

    where = "password"
    remedy = "wait a quarter of an hour, or have an owner make you a new link"


class WrongPassword(InvalidInput):
    """Somebody who is signed in has mistyped their own password, or a code."""

    where = "password"
    remedy = "type it again"


class LinkUsed(InvalidInput):
    """A link that is good no more."""

    where = "link"
    remedy = "ask the person who sent it for a new one"


@dataclass(frozen=True, slots=True)
class Visitor:
    """Where a sign-in comes from: the network address, and what the browser calls itself."""

    address: str
    agent: str


@dataclass
class SigningIn:
    """Opens and ends sessions."""

    folder: Path
    database: Database
    identities: Identities

    def sign_in(self, email: str, password: str, code: str, visitor: Visitor) -> str:
        """Open a session; return what its cookie holds. Raises SignInRefused, CodeNeeded, TooManyTries."""
        who = fingerprint(email.strip().casefold())
        since = (now() - WINDOW).isoformat(timespec="seconds")
        with self.database.write() as conn:  # counted before it is judged, so that a hundred at once are counted too
            of_person, from_address = credentials.failures(conn, who, visitor.address, since)
            if of_person >= MOST_OF_PERSON or from_address >= MOST_FROM_ADDRESS:
                raise TooManyTries("too many sign-ins failed")
            tried = credentials.note_try(conn, utc_now(), who, visitor.address, since)
            account = accounts.find_account(conn, email)
        right = passwords.password_is(account.password if account else "", password)
        if not right or account is None or not account.active:
            raise SignInRefused("e-mail address or password is wrong")
        if account.code_secret and not code.strip():
            with self.database.write() as conn:
                credentials.forget_try(conn, tried)
            raise CodeNeeded("a one-time code is needed as well")
        if account.code_secret:
            self._check_code(account, code)
        with self.database.write() as conn:
            credentials.forget_failures(conn, who)
        return self.open_session(account, visitor)

    def open_session(self, account: Account, visitor: Visitor) -> str:
        """Open a session for somebody who has shown who they are; return what its cookie holds."""
        secret, at = new_secret(), utc_now()
        until = (now() + SESSION).isoformat(timespec="seconds")
        credential = Credential(0, account.id, "session", visitor.agent[:200], None, visitor.address, at, at, until)
        with self.database.write() as conn:
            credentials.delete_expired(conn, at)
            credentials.insert_credential(conn, fingerprint(secret), credential)
            accounts.note_seen(conn, account.id, at)
        self.identities.forget()
        return secret

    def _check_code(self, account: Account, code: str) -> None:
        """Raises CodeNeeded unless the code is right and was not used before."""
        step = passwords.code_step(sealing.unseal(self.folder, account.code_secret), code)
        with self.database.write() as conn:
            used = step and accounts.use_code(conn, account.id, step)
            if not used and not accounts.use_recovery(conn, account, fingerprint(code.strip().lower())):
                raise CodeNeeded("this code is wrong or was used already")

    def end(self, account: int, credential: int) -> None:
        """End one of a person's sessions or tokens. Raises InvalidInput if it is not theirs."""
        with self.database.write() as conn:
            if not credentials.delete_credential(conn, credential, account):
                raise InvalidInput("there is no such session or token of yours")
        self.identities.forget()

    def make_link(self, account: int) -> str:
        """The key of a link by which somebody chooses a password, good once and for two days."""
        secret = new_secret()
        until = (now() + LINK).isoformat(timespec="seconds")
        with self.database.write() as conn:
            accounts.get_account(conn, account)
            accounts.insert_link(conn, account, fingerprint(secret), until)
        return secret

    def forgotten(self, email: str, visitor: Visitor) -> tuple[Account, str] | None:
        """Whose address this is, and the key of a link for them; None if nobody's, or if it was asked for just now."""
        since, who = (
            (now() - WINDOW).isoformat(timespec="seconds"),
            fingerprint("forgotten " + email.strip().casefold()),
        )
        with self.database.write() as conn:
            of_person, from_address = credentials.failures(conn, who, visitor.address, since)
            credentials.note_try(conn, utc_now(), who, visitor.address, since)
            account = accounts.find_account(conn, email)
        if of_person >= MOST_LINKS or from_address >= MOST_FROM_ADDRESS or account is None or not account.active:
            return None
        return account, self.make_link(account.id)

    def use_link(self, key: str, password: str, visitor: Visitor) -> str:
        """Choose a password by a link and be signed in; every earlier session ends. Raises LinkUsed, WeakPassword."""
        with self.database.read() as conn:
            account = accounts.link_account(conn, fingerprint(key), utc_now())
        if account is None or not account.active:
            raise LinkUsed("this link was used already or is too old")
        passwords.check_password(password, (account.email, account.name))
        hashed = passwords.hash_password(password)
        with self.database.write() as conn:
            if accounts.link_account(conn, fingerprint(key), utc_now()) is None:  # somebody was quicker
                raise LinkUsed("this link was used already or is too old")
            accounts.delete_links(conn, account.id)
            accounts.set_password(conn, account.id, hashed)
            credentials.delete_credentials(conn, account.id, ("session",))
            credentials.forget_failures(conn, fingerprint(account.email.casefold()))
        return self.open_session(account, visitor)

    def change_password(self, account: Account, old: str, new: str, credential: int) -> None:
        """Choose another password; every other session ends. Raises WrongPassword, WeakPassword."""
        if not passwords.password_is(account.password, old):
            raise WrongPassword("this is not your present password")
        passwords.check_password(new, (account.email, account.name))
        hashed = passwords.hash_password(new)
        with self.database.write() as conn:
            accounts.set_password(conn, account.id, hashed)
            credentials.delete_credentials(conn, account.id, ("session",), but=credential)
        self.identities.forget()

    def begin_codes(self, account: Account) -> str:
        """A secret for one-time codes; it asks for none until one is confirmed. Kept by who confirms it, nowhere here."""
        if account.code_secret:
            raise InvalidInput("one-time codes are on already; switch them off first")
        return passwords.new_code_secret()

    def confirm_codes(self, account: Account, secret: str, code: str) -> list[str]:
        """Switch one-time codes on; return the recovery codes, which are shown once. Raises WrongPassword."""
        step = passwords.code_step(secret, code)
        if not step:
            raise WrongPassword("this code does not belong to the picture")
        recovery = passwords.new_recovery_codes()
        with self.database.write() as conn:
            accounts.set_codes(
                conn, account.id, sealing.seal(self.folder, secret), [fingerprint(one) for one in recovery]
            )
            accounts.use_code(conn, account.id, step)
        return recovery

    def drop_codes(self, account: Account, password: str) -> None:
        """Switch one-time codes off. Raises WrongPassword."""
        if not passwords.password_is(account.password, password):
            raise WrongPassword("this is not your present password")
        with self.database.write() as conn:
            accounts.set_codes(conn, account.id, "", ())
