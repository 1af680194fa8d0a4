"""Passwords and one-time codes: how they are judged, hashed and compared."""

import hashlib
import re
import secrets
import threading
from datetime import UTC, datetime
from functools import cache

import pyotp
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from openacorn.errors import InvalidInput

SHORTEST, LONGEST = 12, 200
"""Characters (OWASP ASVS 5.0, 6.2.1: at least 8, 15 recommended; 6.2.9: at least 64 permitted)."""

GUESSES = 10**8
"""So many guesses it must take at least, by zxcvbn's estimate: common words, names, dates and keyboard rows do not."""

RECOVERY_CODES = 10
STEP_S = 30
"""Seconds that a one-time code holds (RFC 6238, 5.2)."""

_hasher = PasswordHasher()  # Argon2id with 64 MiB and 3 passes (RFC 9106, 4: the second recommended choice)
_at_once = threading.Semaphore(2)
"""Hashes computed at once: each takes 64 MiB, and those who guess passwords must not take all of the memory."""


class WeakPassword(InvalidInput):
    """A password that is guessed too soon; the message says why."""

    where = "password"
    remedy = "choose a longer one, such as four words that do not belong together"


def check_password(password: str, about: tuple[str, ...]) -> None:
    """Refuse a password that is too short or easily guessed. about: words known of the person. Raises WeakPassword."""
    from zxcvbn import zxcvbn  # with its dictionaries: loaded when a password is first chosen

    if not SHORTEST <= len(password) <= LONGEST:
        raise WeakPassword(f"a password has {SHORTEST} to {LONGEST} characters")
    words = [part for word in about for part in (word, *word.split("@"), *re.split(r"\W+", word)) if part]
    found = zxcvbn(password[:72], user_inputs=words, max_length=72)
    if found["guesses"] < GUESSES:
        raise WeakPassword("this password is easily guessed")


def hash_password(password: str) -> str:
    """The Argon2id hash, with its salt and its cost in it."""
    with _at_once:
        return _hasher.hash(password)


@cache
def _nobodys() -> str:
    """The hash of a password that nobody knows."""
    return _hasher.hash(secrets.token_urlsafe())


def password_is(hashed: str, password: str) -> bool:
    """Compare; "" stands for an account that there is none of, and takes as long as one that there is."""
    with _at_once:
        stand_in = _nobodys()  # in every case, so that the first time tells nothing either
        try:
            return _hasher.verify(hashed or stand_in, password[:LONGEST]) and bool(hashed)
        except (VerificationError, InvalidHashError):
            return False


def fingerprint(secret: str) -> str:
    """SHA-256 of what is random and long (a session, a token, a link): it needs no salt, and the secret is kept nowhere."""
    return hashlib.sha256(secret.encode()).hexdigest()


def new_secret(prefix: str = "") -> str:
    """256 random bits, as a word."""
    return prefix + secrets.token_urlsafe(32)


def new_code_secret() -> str:
    """The secret that one-time codes are made from, in Base32."""
    return pyotp.random_base32()


def code_step(secret: str, code: str) -> int:
    """The number of the 30 seconds that this code belongs to, among the present and its two neighbours; 0 if to none."""
    totp, now = pyotp.TOTP(secret), int(datetime.now(UTC).timestamp()) // STEP_S
    digits = "".join(code.split())
    return next(
        (step for step in (now, now - 1, now + 1) if secrets.compare_digest(totp.generate_otp(step), digits)), 0
    )


def code_picture(secret: str, email: str) -> str:
    """What an app for one-time codes reads from the screen: a picture as a data address."""
    import segno

    address = pyotp.TOTP(secret).provisioning_uri(name=email, issuer_name="Open Acorn")
    return str(segno.make(address, error="m").svg_data_uri(scale=4, border=2))


def new_recovery_codes() -> list[str]:
    """Codes that replace the app, each once: 70 random bits in three groups of five letters and digits."""
    letters = "abcdefghjkmnpqrstuvwxyz23456789"  # none that is taken for another
    return [
        "-".join("".join(secrets.choice(letters) for _ in range(5)) for _ in range(3)) for _ in range(RECOVERY_CODES)
    ]
