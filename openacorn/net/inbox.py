"""Read what is new in a mailbox's inbox, without changing anything there."""

import imaplib
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from openacorn.net.mail_server import MailServerError, in_words

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
"""As IMAP writes them (RFC 3501, 9: date-month), whatever the machine's language."""

LARGEST = 512 * 1024
"""Bytes read of a message: its headers and text, not what is attached to it."""


@dataclass(frozen=True, slots=True)
class Inbox:
    """What an inbox says of itself. uid_next: number of the message that comes next."""

    uid_validity: int
    uid_next: int


def _number(server: imaplib.IMAP4, name: str) -> int:
    _, found = server.response(name)
    value = found[0] if found else None
    return int(value) if isinstance(value, bytes) and value.isdigit() else 0


def look_in(server: imaplib.IMAP4) -> Inbox:
    """Open the inbox for reading. Raises MailServerError. Blocks."""
    try:
        status, said = server.select("INBOX", readonly=True)
        if status != "OK":
            raise MailServerError(f"the inbox cannot be opened: {said}")
        validity, following = _number(server, "UIDVALIDITY"), _number(server, "UIDNEXT")
        if not following:
            _, found = server.uid("SEARCH", "ALL")
            following = 1 + max((int(word) for word in (found[0] or b"").split()), default=0)
        return Inbox(validity, following)
    except (OSError, imaplib.IMAP4.error) as error:
        raise MailServerError(f"the inbox cannot be read: {in_words(error)}") from None


def read_after(server: imaplib.IMAP4, last_uid: int, since: date | None = None) -> Iterator[tuple[int, bytes]]:
    """(UID, message) of what came after `last_uid`, and on or after a day, the oldest first. Raises MailServerError.
    Blocks."""
    try:
        days = f" SINCE {since.day}-{MONTHS[since.month - 1]}-{since.year}" if since else ""
        _, found = server.uid("SEARCH", f"UID {last_uid + 1}:*{days}")
        # "n:*" always names the last message, also an older one (RFC 3501, 9: seq-range)
        uids = sorted(uid for word in (found[0] or b"").split() if (uid := int(word)) > last_uid)
        for uid in uids:
            _, parts = server.uid("FETCH", str(uid), f"(UID BODY.PEEK[]<0.{LARGEST}>)")
            body = next((part[1] for part in parts if isinstance(part, tuple)), None)
            if body is not None:  # it can have been deleted meanwhile
                yield uid, body
    except (OSError, imaplib.IMAP4.error, ValueError) as error:
        raise MailServerError(f"the inbox cannot be read: {in_words(error)}") from None
