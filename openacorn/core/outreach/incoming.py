"""What arrives in a mailbox: delivery reports, automatic answers, wishes not to be written to, and what people write.

Delivery reports: RFC 3464. Automatic answers: RFC 3834. Both also in the forms that older servers send.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from email import message_from_bytes
from email.message import EmailMessage, Message
from email.policy import default
from email.utils import getaddresses, parseaddr
from enum import StrEnum
from typing import cast

from openacorn.core.outreach.answers import is_opt_out, is_refusal, own_words

MOST_TEXT = 20_000
"""Characters kept of what somebody writes."""

_MESSAGE_ID = re.compile(r"<[^<>\s]+>")
_ADDRESS = re.compile(r"[\w.+/&*-]+@[\w-]+(?:\.[\w-]+)+")
_STATUS = re.compile(r"\b([245])\.(\d{1,3})\.(\d{1,3})\b")
_REPLY_CODE = re.compile(r"(?<![\d.-])([45])\d\d(?=[ -])")
_DAEMON = re.compile(r"^(mailer-daemon|postmaster|mail[-_.]?daemon|mdaemon|bounces?([-+].*)?)$", re.I)
_UNDELIVERED = re.compile(
    r"undeliver|non-delivery|not (be )?deliver|delivery (status|fail|has failed|problem|notification|report)|"
    r"returned (to sender|mail)|mail (delivery|error)|(failure|failed) (notice|mail)|failed mail|"
    r"unzustellbar|non remis|non distribu|no entregad|mancata consegna|onbestelbaar|não entregue",
    re.I,
)
_FAILED = re.compile(
    r"(could|can|was|were|has|have) ?not (be )?(deliver|sent|reach)|undeliverable|deliver\w* .{0,60}fail|"
    r"fail\w* .{0,60}(deliver|recipient)|(unknown|no such) (user|mailbox|address)|user unknown|did not reach|"
    r"returned to sender|mailbox (is )?(full|unavailable)|over quota",
    re.I,
)
"""How servers say in prose that a message did not arrive."""

_AWAY = re.compile(
    r"out of (the )?office|automatic reply|auto(matic)?[- ]?(reply|response)|abwesen|automatische antwort|absence|"
    r"réponse automatique|fuera de la oficina|respuesta automática|risposta automatica|fuori ufficio|afwezig|"
    r"automatisch antwoord|resposta automática|autosvar|frånvaro",
    re.I,
)
_PASSED_BACK = re.compile(
    r"(?im)^(?:[-= >]{2,}.*(?:original|returned|copy|below|message (?:text|header|follows)|header).*|"
    r"(?:>|--+) *(?:received|from): .*|Received: .*|Return-Path: .*)$"
)
"""Where a report ends and the message that it returns begins."""

_NOT_FINAL = re.compile(
    r"will (continue|keep|be retried|try again)|still (being|trying)|warning|delayed|not yet been|mailbox.{0,12}full|"
    r"folder is full|over ?quota|quota exceeded",
    re.I,
)
MAILBOX_FULL = frozenset({"5.2.2", "4.2.2"})
"""A full mailbox is reported as final by some servers; it is emptied again (common practice)."""


_NOBODY = re.compile(
    r"(no such|unknown|invalid|nonexistent|non-existent) (user|mailbox|recipient|address|person|local)|"
    r"(user|mailbox|recipient|address|account)\b.{0,60}(unknown|does ?n.?o?t exist|not found|not exist|invalid|disabled|no longer)|"
    r"no mailbox|not a valid (user|mailbox|recipient)|does not exist|unrouteable address|inconnu|unbekannt|desconocid|sconosciut",
    re.I,
)


def nobody_there(said: str) -> bool:
    """Does a refusal say that the mailbox is not there, and not that the sender or the message is not liked?

    By the enhanced status code (RFC 3463): 5.1.x speaks of the address, 5.2.1 of a mailbox that is shut, any other of something
    else. Without one, by the words.
    """
    found = _STATUS.search(said)
    if found is not None and found.group() != "5.0.0":
        return found.group(1) == "5" and (found.group(2) == "1" or found.group() == "5.2.1")
    return bool(_NOBODY.search(said))


class IncomingKind(StrEnum):
    """What a message is, in the order in which it is decided."""

    BOUNCE = "bounce"
    DELAY = "delay"
    AUTOMATIC = "automatic"
    OPT_OUT = "opt-out"
    REFUSAL = "refusal"
    REPLY = "reply"


@dataclass(frozen=True, slots=True)
class Undelivered:
    """One address of a delivery report. status: enhanced status code (RFC 3463), "" if none is given; final: it failed for good."""

    address: str
    status: str
    final: bool
    said: str = ""


@dataclass(frozen=True, slots=True)
class Incoming:
    """A message that came. answers: Message-IDs it refers to, the nearest first; text: its own words, without what it quotes;
    undelivered: of a delivery report; attachments: names of files, which are never opened."""

    kind: IncomingKind
    message_id: str
    answers: tuple[str, ...]
    address: str
    name: str
    subject: str
    text: str
    undelivered: tuple[Undelivered, ...] = ()
    attachments: tuple[str, ...] = ()


def _header(message: Message, name: str) -> str:
    """A header as one line, "" if it is not there or not readable."""
    try:
        return " ".join(str(message.get(name, "")).split())
    except (ValueError, TypeError, IndexError, AttributeError, LookupError):  # malformed headers of others
        return ""


def _decoded(part: Message) -> str:
    """The text of a part, whatever its charset claims to be."""
    body = part.get_payload(decode=True)
    if not isinstance(body, bytes):
        return str(part.get_payload() or "") if not part.is_multipart() else ""
    charset = part.get_content_charset() or "utf-8"
    try:
        return body.decode(charset, "replace")
    except LookupError:
        return body.decode("utf-8", "replace")


def _text_of(message: Message) -> str:
    """The readable text: the first plain part, else what an HTML part says."""
    parts = [
        part for part in message.walk() if not part.is_multipart() and part.get_content_disposition() != "attachment"
    ]
    for wanted in ("text/plain", "text/html"):
        for part in parts:
            if part.get_content_type() == wanted:
                text = _decoded(part)
                return text if wanted == "text/plain" else _without_tags(text)
    return ""


def _without_tags(html: str) -> str:
    from selectolax.lexbor import LexborHTMLParser

    tree = LexborHTMLParser(re.sub(r"(?i)<(br|/p|/div|/tr|/blockquote)\b", r"\n<\1", html))
    for node in tree.css("style, script, head, blockquote, .gmail_quote"):
        node.decompose()
    return tree.body.text() if tree.body else ""


def _fields(block: Message, name: str) -> str:
    """The value of a report's field behind its type: "rfc822; a@b" → "a@b"."""
    value = _header(block, name)
    return value.split(";", 1)[1].strip() if ";" in value else value


def _recipient(block: Message) -> Undelivered | None:
    """What a delivery report says of one recipient (RFC 3464, 2.3)."""
    address = _fields(block, "Original-Recipient") or _fields(block, "Final-Recipient")
    action = _header(block, "Action").lower()
    if not address or action in {"delivered", "relayed", "expanded"}:
        return None
    found = _STATUS.search(_header(block, "Status"))
    status = found.group() if found else ""
    final = action != "delayed" and not status.startswith("4") and status not in MAILBOX_FULL
    return Undelivered(address.strip("<>").lower(), status, final, _fields(block, "Diagnostic-Code")[:300])


def _reported(message: Message) -> list[Undelivered]:
    blocks = [
        block
        for part in message.walk()
        if part.get_content_type() == "message/delivery-status" and part.is_multipart()
        for block in cast(list[Message], part.get_payload())
    ]
    return [item for block in blocks if (item := _recipient(block))]


def _loosely_reported(message: Message, sender: str, mailboxes: Iterable[str]) -> list[Undelivered]:
    """Failures reported in prose, as older servers do: addresses before the returned message, with the code that stands there."""
    text = _PASSED_BACK.split(_whole_text(message) or _text_of(message), 1)[0]
    if (
        not _DAEMON.match(_local(message))
        and not _FAILED.search(text)
        and not _STATUS.search(text)
        and not _UNDELIVERED.search(_header(message, "Subject"))
    ):
        return []
    status = _STATUS.search(text)
    code = _REPLY_CODE.search(text)
    known = {sender.lower(), *(box.lower() for box in mailboxes)}
    addresses = dict.fromkeys(found.lower().strip(".") for found in _ADDRESS.findall(text))
    final = not (status.group(1) == "4" if status else code is not None and code.group(1) == "4")
    final = final and not (status and status.group() in MAILBOX_FULL) and not _NOT_FINAL.search(text)
    return [
        Undelivered(a, status.group() if status else "", final, "")
        for a in addresses
        if a not in known and not _DAEMON.match(a.partition("@")[0])
    ]


def _local(message: Message) -> str:
    return parseaddr(_header(message, "From"))[1].partition("@")[0]


def _whole_text(message: Message) -> str:
    return "\n".join(_decoded(part) for part in message.walk() if part.get_content_type() == "text/plain")


def _is_automatic(message: Message, subject: str) -> bool:
    """Was it sent by no person? (RFC 3834, 5; the others as common practice)"""
    submitted = _header(message, "Auto-Submitted").lower()
    if submitted and submitted.split(";")[0].strip() != "no":
        return True
    marked = any(
        _header(message, name) for name in ("X-Autoreply", "X-Autorespond", "X-Auto-Response-Suppress", "List-Id")
    )
    bulk = _header(message, "Precedence").lower() in {"auto_reply", "bulk", "junk", "list"}
    return marked or bulk or bool(_AWAY.search(subject))


def _from_daemon(message: Message, address: str, subject: str) -> bool:
    local = address.partition("@")[0]
    empty = _header(message, "Return-Path") == "<>"
    answers = re.match(r"\s*(re|aw|sv|antw)\s*:", subject, re.I)
    told = bool(_UNDELIVERED.search(subject)) and not answers
    return bool(_DAEMON.match(local)) or told or (empty and not address)


def _original_ids(message: Message) -> list[str]:
    """Message-IDs of the returned message inside a report."""
    found = []
    for part in message.walk():
        if part is not message and (part.get_content_type() in {"message/rfc822", "text/rfc822-headers"}):
            inner = part.get_payload()[0] if part.is_multipart() else None  # type: ignore[index]
            text = inner.as_string() if isinstance(inner, Message) else _decoded(part)
            found += re.findall(r"(?im)^message-id:\s*(<[^<>\s]+>)", text)
    return found


def read_incoming(raw: bytes, mailboxes: Iterable[str] = ()) -> Incoming:
    """Read and classify a message as it came. mailboxes: our own addresses, which no report is about."""
    message = message_from_bytes(raw, _class=EmailMessage, policy=default.clone(raise_on_defect=False))
    subject = _header(message, "Subject")
    name, address = parseaddr(_header(message, "From"))
    answers = [
        *_MESSAGE_ID.findall(_header(message, "In-Reply-To")),
        *reversed(_MESSAGE_ID.findall(_header(message, "References"))),
    ]
    text = own_words(_text_of(message))[:MOST_TEXT]
    undelivered = _reported(message)
    if not undelivered and _from_daemon(message, address, subject):
        sender = (getaddresses([_header(message, "To")]) or [("", "")])[0][1]
        undelivered = _loosely_reported(message, sender, mailboxes)
    if undelivered or _from_daemon(message, address, subject):
        answers += _original_ids(message)
    files = tuple(
        part.get_filename() or "a file" for part in message.walk() if part.get_content_disposition() == "attachment"
    )
    return Incoming(
        _kind(message, subject, address, text, undelivered), _header(message, "Message-ID"), tuple(dict.fromkeys(answers)),
        address.lower(), name, subject[:300], text, tuple(undelivered), files[:20],
    )  # fmt: skip


def _kind(message: Message, subject: str, address: str, text: str, undelivered: list[Undelivered]) -> IncomingKind:
    if undelivered:
        return IncomingKind.BOUNCE if any(item.final for item in undelivered) else IncomingKind.DELAY
    if _from_daemon(message, address, subject):
        return (
            IncomingKind.DELAY
            if re.search(r"delay|warning|verz[öo]ger|retard", subject, re.I)
            else IncomingKind.AUTOMATIC
        )
    if is_opt_out(subject, text):
        return IncomingKind.OPT_OUT
    if _is_automatic(message, subject):
        return IncomingKind.AUTOMATIC
    return IncomingKind.REFUSAL if is_refusal(text) else IncomingKind.REPLY
