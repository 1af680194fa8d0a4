"""A person's traces in any text: e-mail addresses, phone numbers and names, in the ways in which pages and files write them."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

import phonenumbers

from openacorn.errors import InvalidInput

REMOVED = "[removed]"
AT = r"(?:@|%40|&#64;|&#x40;|\s?[\[({]\s?at\s?[\])}]\s?)"
BETWEEN_DIGITS = r"[\s().\-/\u00a0]{0,3}"
BETWEEN_WORDS = r"[\s\u00a0+_.\-]{1,3}"
SHORTEST_NUMBER = 6
"""Digits: shorter numbers occur in texts by chance."""


class NobodyMeant(InvalidInput):
    """What was entered does not say one person."""

    where = "person"
    remedy = "enter an e-mail address, a phone number with its area code, or a first and a last name"


@dataclass(frozen=True, slots=True)
class Subject:
    """A person as they are known: any of these is they."""

    emails: tuple[str, ...] = ()
    phones: tuple[str, ...] = ()
    names: tuple[str, ...] = ()

    def known_by(self) -> list[tuple[str, str]]:
        """(kind, value) of each, in one spelling."""
        return [
            *(("email", email) for email in self.emails),
            *(("phone", phone) for phone in self.phones),
            *(("name", name) for name in self.names),
        ]


def subject_of(emails: Sequence[str], phones: Sequence[str], names: Sequence[str], region: str | None) -> Subject:
    """A person out of what was typed in; numbers become E.164. Raises NobodyMeant."""
    clean = [email.strip().lower() for email in emails if email.strip()]
    for email in clean:
        if not re.fullmatch(r"[^@\s]+@[^@\s]+\.[^@\s]+", email):
            raise NobodyMeant(f"{email} is no e-mail address")
    whole = [" ".join(name.split()) for name in names if name.strip()]
    for name in whole:
        if len(name.split()) < 2 or len(name) < 5:
            raise NobodyMeant(f"{name}: one word alone would take out too much")
    found = Subject(tuple(clean), tuple(_e164(phone, region) for phone in phones if phone.strip()), tuple(whole))
    if not found.known_by():
        raise NobodyMeant("nobody was entered")
    return found


def _e164(text: str, region: str | None) -> str:
    try:
        number = phonenumbers.parse(text, region)
    except phonenumbers.NumberParseException:
        raise NobodyMeant(f"{text} is no phone number") from None
    if len(str(number.national_number)) < SHORTEST_NUMBER:
        raise NobodyMeant(f"{text} is too short for a phone number")
    return str(phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164))


def _written(text: str) -> str:
    r"""A text as a pattern; letters beyond ASCII also as JSON may write them (\u00f8)."""
    return "".join(
        re.escape(letter) if ord(letter) < 128 else f"(?:{re.escape(letter)}|\\\\u{ord(letter):04x})" for letter in text
    )


def _email(address: str) -> str:
    local, _, host = address.partition("@")
    return rf"(?<![\w.+-]){_written(local)}{AT}{_written(host)}(?![\w-]|\.\w)"


def _phone(e164: str) -> str:
    number = phonenumbers.parse(e164)
    national = BETWEEN_DIGITS.join(str(number.national_number))
    country = BETWEEN_DIGITS.join(str(number.country_code))
    return rf"(?<!\d)(?:(?:\+|00)?{country}{BETWEEN_DIGITS})?(?:\(?0\)?{BETWEEN_DIGITS})?{national}(?!\d)"


def _name(name: str) -> str:
    words = [_written(word) for word in name.split()]
    turned = rf"{words[-1]},{BETWEEN_WORDS}{BETWEEN_WORDS.join(words[:-1])}"
    return rf"(?<!\w)(?:{BETWEEN_WORDS.join(words)}|{turned})(?!\w)"


def pattern_of(subject: Subject) -> re.Pattern[str]:
    """A pattern that finds each trace of somebody in a text."""
    parts = [*map(_email, subject.emails), *map(_phone, subject.phones), *map(_name, subject.names)]
    return re.compile("|".join(parts), re.IGNORECASE)


def erased(pattern: re.Pattern[str], text: str) -> str:
    """The text without traces. A text that was nothing else becomes empty."""
    left = pattern.sub(REMOVED, text)
    return "" if left.strip() == REMOVED else left
