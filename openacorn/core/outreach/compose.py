"""A message as it goes over the wire (RFC 5322, RFC 2047), with a way out of further messages (RFC 8058)."""

import re
from dataclasses import dataclass
from datetime import datetime
from email.errors import MessageError
from email.headerregistry import Address
from email.message import EmailMessage
from email.policy import SMTP

from markupsafe import escape

from openacorn.core.languages.catalogue import Translator
from openacorn.errors import InvalidInput

_LINK = re.compile(r"https?://[^\s<>\"]+[^\s<>\".,;:!?)]")
_CONTROL = re.compile(r"[\x00-\x1f\x7f]+")


class RecipientError(InvalidInput):
    """An address that no message can be sent to; the message says which."""

    where = "address"
    remedy = "correct the address"


@dataclass(frozen=True, slots=True)
class Envelope:
    """Who writes where. name: shown beside the sender's address; stop_page: where the receiver can opt out, "" if there is none
    that they can reach; one_click: does it take a POST with nothing else (RFC 8058)?"""

    sender: str
    name: str
    to: str
    person: str
    message_id: str
    at: datetime
    answers: tuple[str, ...] = ()
    stop_page: str = ""
    one_click: bool = False


def footer(agency: str, person: str, post_address: str, stop_page: str, words: Translator) -> str:
    """What every message ends with: who writes, from where, and how to be left in peace."""
    who = ", ".join(filter(None, (person, agency, " · ".join(filter(None, map(str.strip, post_address.splitlines()))))))
    way = words.text('To hear no more from us, answer with "stop".')
    if stop_page:
        way = words.text('To hear no more from us, open {page} or answer with "stop".', page=stop_page)
    return f"-- \n{who}\n{way}"


def _mailbox(name: str, address: str) -> Address:
    try:
        return Address(_CONTROL.sub(" ", name).strip(), addr_spec=address)
    except (ValueError, IndexError, AttributeError, MessageError) as error:
        raise RecipientError(f"{address!r} is no address: {error}") from None


def as_html(text: str) -> str:
    """Plain text as simple HTML: paragraphs, line ends and links, and nothing else."""

    def linked(part: str) -> str:
        done, at = [], 0
        for match in _LINK.finditer(part):
            address = escape(match.group())
            done += [escape(part[at : match.start()]), f'<a href="{address}">{address}</a>']
            at = match.end()
        return "".join(map(str, [*done, escape(part[at:])]))

    blocks = re.split(r"\n{2,}", text.strip())
    return "".join(f"<p>{'<br>'.join(map(linked, block.split(chr(10))))}</p>" for block in blocks)


def compose(envelope: Envelope, subject: str, text: str) -> bytes:
    """The message, with line ends as SMTP wants them. Raises RecipientError."""
    message = EmailMessage(policy=SMTP)
    message["From"] = _mailbox(envelope.name, envelope.sender)
    message["To"] = _mailbox(envelope.person, envelope.to)
    message["Subject"] = " ".join(_CONTROL.sub(" ", subject).split())
    message["Date"] = envelope.at
    message["Message-ID"] = envelope.message_id
    if envelope.answers:
        message["In-Reply-To"] = envelope.answers[-1]
        message["References"] = " ".join(envelope.answers)
    by_mail = f"<mailto:{envelope.sender}?subject=stop>"
    message["List-Unsubscribe"] = f"<{envelope.stop_page}>, {by_mail}" if envelope.stop_page else by_mail
    if envelope.one_click:
        message["List-Unsubscribe-Post"] = "List-Unsubscribe=One-Click"
    message.set_content(text.replace("\r\n", "\n"))
    message.add_alternative(f"<html><body>{as_html(text)}</body></html>", subtype="html")
    return message.as_bytes()
