"""Try a mailbox: does its server take messages, can its inbox be read?"""

from pathlib import Path

from openacorn import clock
from openacorn.core.audit.checks import dmarc, spf
from openacorn.core.audit.finding import Outcome
from openacorn.core.outreach.compose import Envelope, compose
from openacorn.net.client import Client
from openacorn.net.inbox import look_in
from openacorn.net.mail_server import MailServerError
from openacorn.net.probes.domains import mail_domain
from openacorn.net.submission import Acceptance, submit
from openacorn.outreach.connections import inbox, submission
from openacorn.outreach.store.mailboxes import Mailbox
from openacorn.settings import Settings


def try_sending(settings: Settings, box: Mailbox, secret: str) -> str:
    """Connect and sign in; return what is wrong, "" if nothing is. Blocks."""
    try:
        with submission(settings, box, secret):
            return ""
    except MailServerError as error:
        return str(error)


def try_reading(settings: Settings, box: Mailbox, secret: str) -> str:
    """Connect, sign in and open the inbox; return what is wrong, "" if nothing is. Blocks."""
    if not box.imap_host:
        return "no server for incoming mail is entered: replies will not be seen"
    try:
        with inbox(settings, box, secret) as server:
            look_in(server)
    except MailServerError as error:
        return str(error)
    return ""


async def domain_notes(settings: Settings, domain: str) -> list[str]:
    """What a domain's own records lack that large mail services ask of senders: SPF (RFC 7208) and DMARC (RFC 7489). DKIM's record
    has a name that only its owner knows, so it is not looked up."""
    async with Client(settings) as client:
        mail = await mail_domain(client, domain, clock.utc_now())
    if mail is None or mail.failed:
        return [mail.failed] if mail else []
    found = ((spf.CHECK, spf.evaluate(mail)), (dmarc.CHECK, dmarc.evaluate(mail)))
    return [
        f"{check.title}: {finding.reason}"
        for check, finding in found
        if finding.outcome in {Outcome.GAP, Outcome.PARTIAL}
    ]


def send_test(settings: Settings, box: Mailbox, secret: str, to: str, folder: Path) -> str:
    """Send a message to oneself; return what went wrong, "" if nothing did. Blocks."""
    name = f"<test.{clock.now():%Y%m%d%H%M%S%f}.{folder.name}@{box.address.partition('@')[2]}>"
    envelope = Envelope(box.address, box.name, to, "", name, clock.now())
    body = compose(
        envelope, "A test from Open Acorn", f"This message was sent by {box.address}. It can be read, so sending works."
    )
    try:
        with submission(settings, box, secret) as server:
            outcome = submit(server, box.address, to, body, lambda: True)
    except MailServerError as error:
        return str(error)
    return "" if outcome.acceptance is Acceptance.ACCEPTED else f"it was not taken: {outcome.said}"
