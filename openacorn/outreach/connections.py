"""Connections to a mailbox's servers, signed in, and ended on leaving."""

import imaplib
import smtplib
from collections.abc import Iterator
from contextlib import contextmanager, suppress

from openacorn.net.mail_server import connect_imap, connect_submission
from openacorn.outreach.store.mailboxes import Mailbox
from openacorn.settings import Settings


@contextmanager
def submission(settings: Settings, box: Mailbox, secret: str) -> Iterator[smtplib.SMTP]:
    """To send by a mailbox. Raises MailServerError. Blocks."""
    server = connect_submission(
        settings, box.smtp_host, box.smtp_port, box.smtp_security, box.sign_in, box.login, secret
    )
    try:
        yield server
    finally:
        with suppress(OSError, smtplib.SMTPException):
            server.quit()


@contextmanager
def inbox(settings: Settings, box: Mailbox, secret: str) -> Iterator[imaplib.IMAP4]:
    """To read a mailbox. Raises MailServerError. Blocks."""
    server = connect_imap(settings, box.imap_host, box.imap_port, box.imap_security, box.sign_in, box.login, secret)
    try:
        yield server
    finally:
        with suppress(OSError, imaplib.IMAP4.error):
            server.logout()
