"""The coast's post office: takes submissions, lets businesses answer in character, and keeps each agency mailbox's inbox (IMAP).

Whatever it is handed it takes, as real ones do; a mailbox that is not there comes back as a delivery report (RFC 3464).
"""

import asyncio
import json
import logging
import ssl
import warnings
import zlib
from argparse import Namespace
from email import message_from_bytes, policy
from email.message import EmailMessage
from email.utils import formatdate
from pathlib import Path

from aiosmtpd.smtp import SMTP, AuthResult, Envelope, LoginPassword, Session
from proxyprotocol.reader import ProxyProtocolReader
from pymap.backend.dict import Config, Identity, Login
from pymap.imap import IMAPServer
from pymap.interfaces.login import IdentityInterface
from pymap.parsing.message import AppendMessage
from pymap.user import Passwords, UserMetadata
from pysasl.creds.server import ServerCredentials
from pysasl.hashing import BuiltinHash

from openacorn.sim.addresses import POST_HOST, POST_PASSWORD
from openacorn.sim.authority import Authority
from openacorn.sim.mail_server import OUTBOX, Mailboxes
from openacorn.sim.manners import Manner, answer_of

ANSWER_AFTER_S = 0.3


def written_answer(sent: EmailMessage, sender: str, address: str, manner: Manner) -> bytes:
    """The answer as it arrives."""
    answer = EmailMessage(policy=policy.SMTP)
    answer["From"], answer["To"] = address, sender
    answer["Date"], answer["Message-ID"] = (
        formatdate(),
        f"<{zlib.crc32(bytes(sent['Message-ID'], 'utf-8')):x}.answer@{address.partition('@')[2]}>",
    )
    subject = str(sent["Subject"])
    if manner.automatic:
        answer["Subject"], answer["Auto-Submitted"] = f"Automatic reply: {subject}", "auto-replied"
    else:
        answer["Subject"] = f"Re: {subject}"
    answer["In-Reply-To"] = answer["References"] = str(sent["Message-ID"])
    body = sent.get_body(("plain",))
    quoted = "".join(f"> {line}\n" for line in (body.get_content() if body else "").splitlines())
    answer.set_content(manner.text + (f"\n\nOn Monday, {sender} wrote:\n{quoted}" if not manner.automatic else "\n"))
    return answer.as_bytes()


def delivery_report(sent: bytes, sender: str, address: str, said: str) -> bytes:
    """What comes back for a mailbox that is not there."""
    headers = sent.split(b"\r\n\r\n", 1)[0].decode("utf-8", "replace")
    lines = (
        f"From: Mail Delivery System <mailer-daemon@{POST_HOST}>", f"To: {sender}", "Subject: Undelivered Mail Returned to Sender",
        f"Date: {formatdate()}", f"Message-ID: <{zlib.crc32(sent):x}.report@{POST_HOST}>", "Auto-Submitted: auto-replied", "MIME-Version: 1.0",
        'Content-Type: multipart/report; report-type=delivery-status; boundary="report"', "", "--report", "Content-Type: text/plain", "",
        f"<{address}>: {said}", "--report", "Content-Type: message/delivery-status", "", f"Reporting-MTA: dns; {POST_HOST}", "",
        f"Final-Recipient: rfc822; {address}", "Action: failed", f"Status: {said.split()[1]}", f"Diagnostic-Code: smtp; {said}", "",
        "--report", "Content-Type: text/rfc822-headers", "", headers, "--report--", "",
    )  # fmt: skip
    return "\r\n".join(lines).encode()


class _Everybody(Login):
    """Lets in anybody who knows the demo's password; an inbox is there as soon as somebody asks for it."""

    def __init__(self, config: Config, hashed: str) -> None:
        super().__init__(config)
        self._hashed = hashed

    def know(self, name: str) -> None:
        """Have an inbox for an address."""
        if name not in self.users_dict:
            self.users_dict[name] = UserMetadata(self.config, name, password=self._hashed)

    async def authenticate(self, credentials: ServerCredentials) -> Identity:
        """Sign in."""
        self.know(credentials.authcid)
        return await super().authenticate(credentials)


class PostOffice:
    """Takes messages (aiosmtpd's handler) and delivers what comes of them."""

    def __init__(self, world: Path, boxes: Mailboxes, login: _Everybody) -> None:
        self._boxes, self._login = boxes, login
        self._outbox = world / OUTBOX
        self._answering: set[asyncio.Task[None]] = set()

    async def handle_DATA(self, _server: SMTP, _session: Session, envelope: Envelope) -> str:
        """Take a message; what follows from it comes a little later."""
        body = envelope.content if isinstance(envelope.content, bytes) else b""
        sent = {"from": envelope.mail_from, "to": envelope.rcpt_tos, "body": body.decode("utf-8", "replace")}
        with self._outbox.open("a", encoding="utf-8") as file:
            file.write(json.dumps(sent) + "\n")
        for address in envelope.rcpt_tos:
            task = asyncio.create_task(self._follow(envelope.mail_from or "", address, body))
            self._answering.add(task)
            task.add_done_callback(self._answering.discard)
        return "250 2.0.0 taken"

    async def _follow(self, sender: str, address: str, body: bytes) -> None:
        await asyncio.sleep(ANSWER_AFTER_S)
        if said := self._boxes.refusal(address):
            await self._deliver(sender, delivery_report(body, sender, address, said))
            return
        manner = answer_of(address)
        if manner is not None:
            message = message_from_bytes(body, _class=EmailMessage, policy=policy.default)
            await self._deliver(sender, written_answer(message, sender, address, manner))

    async def _deliver(self, address: str, message: bytes) -> None:
        self._login.know(address)
        identity: IdentityInterface = Identity(address, self._login, None, frozenset())
        async with identity.new_session() as session:
            await session.append_messages("INBOX", [AppendMessage(message)])


def _signed_in(_server: SMTP, _session: Session, _envelope: Envelope, _mechanism: str, data: object) -> AuthResult:
    right = isinstance(data, LoginPassword) and data.password == POST_PASSWORD.encode()
    return AuthResult(success=right, handled=False)


def _context(world: Path) -> ssl.SSLContext:
    return Authority(world, "certificates-post").context(POST_HOST, "")


async def serve_post(world: Path, submission_port: int, imap_port: int, address: str) -> None:
    """Submission (SMTP) and inboxes (IMAP), both secured from the first byte."""
    logging.getLogger("mail.log").setLevel(logging.ERROR)
    warnings.filterwarnings("ignore", message="Requiring AUTH while not requiring TLS")  # all of it is inside TLS
    context = _context(world)
    config = Config(
        Namespace(passlib_cfg=None, proxy_protocol=None), host=None, port=imap_port, ssl_context=context, tls_enabled=False,
        reject_dnsbl=False, hash_context=BuiltinHash(rounds=1), demo_data=False, demo_user="", demo_password="",
    )  # fmt: skip
    login = _Everybody(config, await Passwords(config).hash_password(POST_PASSWORD))
    office, loop = PostOffice(world, Mailboxes(world), login), asyncio.get_running_loop()
    await loop.create_server(
        lambda: SMTP(office, hostname=POST_HOST, loop=loop, authenticator=_signed_in, auth_required=True, auth_require_tls=False),
        address, submission_port, ssl=context,
    )  # fmt: skip
    reader = ProxyProtocolReader(config.proxy_protocol)
    await asyncio.start_server(reader.get_callback(IMAPServer(login, config)), address, imap_port, ssl=context)
