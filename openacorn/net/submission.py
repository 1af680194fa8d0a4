"""Hand one message to a submission server so that it is known whether it took it."""

import smtplib
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from openacorn.net.mail_server import in_words


class Acceptance(StrEnum):
    """What became of a message."""

    ACCEPTED = "accepted"
    REFUSED = "refused"
    LATER = "later"
    PERHAPS = "perhaps"
    WITHDRAWN = "withdrawn"


@dataclass(frozen=True, slots=True)
class Submitted:
    """acceptance: PERHAPS if the connection broke before the answer to the message came; said: the server's words."""

    acceptance: Acceptance
    said: str = ""


def _refusal(code: int, said: bytes) -> Submitted:
    words = f"{code} {said.decode('utf-8', 'replace')}"
    return Submitted(Acceptance.LATER if 400 <= code < 500 else Acceptance.REFUSED, " ".join(words.split()))


def submit(server: smtplib.SMTP, sender: str, to: str, body: bytes, intend: Callable[[], bool]) -> Submitted:
    """Send one message. `intend` is called once the receiver is accepted and before any of the message leaves: what it stores
    stands there if everything ends at that moment; if it returns False, nothing is sent. Blocks.
    """
    try:
        code, said = server.mail(sender)
        if code == 250:
            code, said = server.rcpt(to)
        if code not in {250, 251}:
            return _refusal(code, said)
    except (OSError, smtplib.SMTPException) as error:
        return Submitted(Acceptance.LATER, in_words(error))
    if not intend():
        return Submitted(Acceptance.WITHDRAWN)
    try:
        code, said = server.data(body)
    except smtplib.SMTPDataError as error:  # it would not take the message at all
        return _refusal(error.smtp_code, error.smtp_error if isinstance(error.smtp_error, bytes) else b"")
    except (OSError, smtplib.SMTPException) as error:
        return Submitted(Acceptance.PERHAPS, in_words(error))
    if code == 250:
        return Submitted(Acceptance.ACCEPTED, said.decode("utf-8", "replace"))
    return _refusal(code, said)
