"""Where a mail server is, and connections to it: the demo's servers answer for names that end in .example."""

import imaplib
import smtplib
import socket
import ssl
from collections.abc import Callable
from typing import Any

from openacorn.errors import Upstream
from openacorn.net.tls import contexts
from openacorn.settings import Settings

WAIT_S = 20
"""Seconds for a connection and for each answer (RFC 5321 asks for minutes; a slower server is tried again later)."""

SUBMISSION, IMAP = "submission", "imap"
Place = tuple[str, int]


class MailServerError(Upstream):
    """A mail server that cannot be used; the message says why. `sign_in`: it refused the name or the password."""

    where = "mailbox"
    remedy = "check host, port, encryption, user name and password"

    def __init__(self, message: str, *, sign_in: bool = False) -> None:
        super().__init__(message)
        self.sign_in = sign_in


def place_of(settings: Settings, host: str, port: int, kind: str) -> Place:
    """Address and port to connect to."""
    world = settings.world
    if world is not None and host.endswith(".example") and kind in world.mail_ports:
        return "127.0.0.1", world.mail_ports[kind]
    return host, port


def tls_context(settings: Settings) -> ssl.SSLContext:
    """Verifies as browsers do; in the demo also by the coast's own authority."""
    return contexts(settings.world.ca_file if settings.world else None)[0]


def xoauth2(user: str, token: str) -> str:
    """The answer to an XOAUTH2 challenge (SASL): user and bearer token."""
    return f"user={user}\x01auth=Bearer {token}\x01\x01"


class _Submission(smtplib.SMTP):
    place: Place = ("", 0)

    def _get_socket(self, _host: str, _port: int, timeout: float) -> socket.socket:
        return socket.create_connection(self.place, timeout)


class _TlsSubmission(smtplib.SMTP_SSL):
    place: Place = ("", 0)

    def _get_socket(self, host: str, _port: int, timeout: float) -> socket.socket:
        plain = socket.create_connection(self.place, timeout)
        secured: socket.socket = self.context.wrap_socket(plain, server_hostname=host)
        return secured


class _Imap(imaplib.IMAP4):
    def __init__(self, place: Place, host: str, port: int) -> None:
        self._place = place
        super().__init__(host, port, WAIT_S)

    def _create_socket(self, timeout: float | None) -> socket.socket:
        return socket.create_connection(self._place, timeout)


class _TlsImap(imaplib.IMAP4_SSL):
    def __init__(self, place: Place, host: str, port: int, context: ssl.SSLContext) -> None:
        self._place = place
        super().__init__(host, port, ssl_context=context, timeout=WAIT_S)

    def _create_socket(self, timeout: float | None) -> socket.socket:
        plain = socket.create_connection(self._place, timeout)
        secured: socket.socket = self.ssl_context.wrap_socket(plain, server_hostname=self.host)
        return secured


def in_words(error: BaseException) -> str:
    """What a library's error says, as one line."""
    if isinstance(error, smtplib.SMTPResponseException):
        said = error.smtp_error
        return f"{error.smtp_code} {said.decode('utf-8', 'replace') if isinstance(said, bytes) else said}"
    if isinstance(error, TimeoutError):
        return f"it does not answer within {WAIT_S} s"
    return " ".join(str(error).split()) or type(error).__name__


def connect_submission(
    settings: Settings, host: str, port: int, security: str, sign_in: str, user: str, secret: str
) -> smtplib.SMTP:
    """A connection to a submission server, signed in. Raises MailServerError. Blocks."""
    context, place = tls_context(settings), place_of(settings, host, port, SUBMISSION)
    try:
        if security == "tls":
            server: smtplib.SMTP = _TlsSubmission(timeout=WAIT_S, context=context)
        else:
            server = _Submission(timeout=WAIT_S)
        server.place = place  # type: ignore[attr-defined]
        server._host = host  # type: ignore[attr-defined]  # the name that the certificate must be for
        code, said = server.connect(host, port)
        if code != 220:
            raise smtplib.SMTPConnectError(code, said)
        if security == "starttls":
            server.starttls(context=context)
        server.ehlo_or_helo_if_needed()
        _sign_in(server, sign_in, user, secret)
    except smtplib.SMTPAuthenticationError as error:
        raise MailServerError(f"{host} refused the user name or password: {in_words(error)}", sign_in=True) from None
    except (OSError, smtplib.SMTPException, ValueError) as error:
        raise MailServerError(f"{host}:{port} cannot be used for sending: {in_words(error)}") from None
    return server


def _sign_in(server: smtplib.SMTP, sign_in: str, user: str, secret: str) -> None:
    if sign_in == "password":
        server.login(user, secret)
    elif sign_in == "token":
        server.auth("XOAUTH2", lambda _challenge=None: xoauth2(user, secret))


def connect_imap(
    settings: Settings, host: str, port: int, security: str, sign_in: str, user: str, secret: str
) -> imaplib.IMAP4:
    """A connection to an IMAP server, signed in. Raises MailServerError. Blocks."""
    context, place = tls_context(settings), place_of(settings, host, port, IMAP)
    make: Callable[[], Any] = (
        (lambda: _TlsImap(place, host, port, context)) if security == "tls" else (lambda: _Imap(place, host, port))
    )
    try:
        server: imaplib.IMAP4 = make()
        if security == "starttls":
            server.starttls(context)
    except (OSError, imaplib.IMAP4.error) as error:
        raise MailServerError(f"{host}:{port} cannot be used for reading: {in_words(error)}") from None
    try:
        if sign_in == "token":
            server.authenticate("XOAUTH2", lambda _: xoauth2(user, secret).encode())
        else:
            server.login(user, secret)
    except (OSError, imaplib.IMAP4.error) as error:
        raise MailServerError(f"{host} refused the user name or password: {in_words(error)}", sign_in=True) from None
    return server
