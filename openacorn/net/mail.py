"""Notices by e-mail to the agency itself, by the server of its settings."""

import smtplib
from email.message import EmailMessage

from openacorn.settings import MailSettings

SENDING_S = 15


def send_notice(mail: MailSettings, to: str, subject: str, text: str) -> str:
    """Send a plain message; return what went wrong in words, "" if nothing did. Blocks for up to SENDING_S a step."""
    if not mail.host:
        return f"no e-mail was sent to {to}: enter the mail server in Settings"
    message = EmailMessage()
    message["From"], message["To"] = mail.sender, to
    message["Subject"] = " ".join(subject.split())[:200]  # a line break would begin another header
    message.set_content(text + "\n")
    try:
        with smtplib.SMTP(mail.host, mail.port, timeout=SENDING_S) as server:
            if mail.user:
                server.starttls()
                server.login(mail.user, mail.password)
            server.send_message(message)
    except (OSError, smtplib.SMTPException, ValueError) as error:
        return f"no e-mail was sent to {to}: {error}"
    return ""
