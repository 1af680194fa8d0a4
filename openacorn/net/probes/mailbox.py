"""Asks a domain's own mail server whether a mailbox is there. Nothing is ever sent: the talk ends before DATA."""

import asyncio
import secrets
import smtplib
import time
from collections.abc import Sequence

from openacorn.clock import utc_now
from openacorn.core.audit.extract.emails import clean_email
from openacorn.core.audit.verification import Stage, VerificationResult, Verified
from openacorn.net.client import Client
from openacorn.net.errors import FetchError

TALK_SECONDS = 15.0
AGAIN_AFTER_S = 2.0
"""Servers that greylist mostly want a minute; a second try this soon already tells most of those that only hesitate."""

SMTP_PORT = 25
POLICY = ("5.7.", "blocked", "blacklist", "spam", "policy", "denied")
"""In a refusal these speak of us, not of the mailbox (RFC 3463, 3.8, and common practice)."""


class MailboxProbe:
    """Verifies addresses. sender: the envelope's return address, of the agency."""

    def __init__(self, client: Client, sender: str) -> None:
        self._client, self._sender = client, sender

    async def verify(self, addresses: Sequence[str]) -> list[Verified]:
        """Every address, in its order; addresses of one domain in one talk."""
        by_domain: dict[str, list[str]] = {}
        found: dict[str, Verified] = {}
        for address in addresses:
            clean = clean_email(address)
            if clean is None:
                found[address] = Verified(
                    address, VerificationResult.DEAD, Stage.SYNTAX, "this is no e-mail address", utc_now()
                )
            else:
                by_domain.setdefault(clean.partition("@")[2], []).append(address)
        for verdicts in await asyncio.gather(*(self._domain(*item) for item in by_domain.items())):
            found |= {verdict.address: verdict for verdict in verdicts}
        return [found[address] for address in addresses]

    async def _domain(self, domain: str, addresses: list[str]) -> list[Verified]:
        def all_as(result: VerificationResult, stage: Stage, detail: str) -> list[Verified]:
            return [Verified(address, result, stage, detail, utc_now()) for address in addresses]

        try:
            hosts = await self._client.records(domain, "MX")
        except FetchError as error:
            return all_as(VerificationResult.UNKNOWN, Stage.DOMAIN, f"the name server did not answer: {error}")
        if hosts == ["."]:
            return all_as(VerificationResult.DEAD, Stage.MX, f"{domain} says that it takes no mail")
        why = ""
        # without an MX record the domain's own address takes its mail (RFC 5321, 5.1)
        for host in hosts[:2] or [domain]:
            try:
                ip, port = await self._client.address(host, SMTP_PORT)
            except FetchError as error:
                why = str(error)
                if not hosts:
                    return all_as(
                        VerificationResult.DEAD, Stage.DOMAIN, f"{domain} has neither a mail server nor an address"
                    )
                continue
            try:
                return await asyncio.wait_for(
                    asyncio.to_thread(self._talk, ip, port, domain, addresses), TALK_SECONDS * 2
                )
            except (OSError, smtplib.SMTPException, TimeoutError) as error:
                why = f"{host}: {type(error).__name__}: {error}"[:160]
        return all_as(VerificationResult.UNKNOWN, Stage.MX, f"the mail server could not be asked ({why})")

    def _talk(self, ip: str, port: int, domain: str, addresses: list[str]) -> list[Verified]:
        """One talk (RFC 5321, 4.1.1): an address that cannot exist is asked for too, which tells a server that takes all."""
        with smtplib.SMTP(ip, port, timeout=TALK_SECONDS) as server:
            server.ehlo_or_helo_if_needed()
            code, reply = server.mail(self._sender)
            if code >= 400:
                raise smtplib.SMTPSenderRefused(code, reply, self._sender)
            nobody = f"{secrets.token_hex(8)}@{domain}"
            takes_all = self._asked(server, nobody)[0] < 300
            return [self._verdict(server, address, takes_all) for address in addresses]

    def _asked(self, server: smtplib.SMTP, address: str) -> tuple[int, str]:
        code, reply = server.rcpt(address)
        return code, reply.decode("utf-8", "replace")[:160]

    def _verdict(self, server: smtplib.SMTP, address: str, takes_all: bool) -> Verified:
        code, reply = self._asked(server, address)
        if 400 <= code < 500:
            time.sleep(AGAIN_AFTER_S)
            code, reply = self._asked(server, address)
        detail = f"{code} {reply}"
        if code < 300:
            if takes_all:
                return Verified(
                    address,
                    VerificationResult.RISKY,
                    Stage.MAILBOX,
                    f"the server takes any address ({detail})",
                    utc_now(),
                )
            return Verified(address, VerificationResult.VALID, Stage.MAILBOX, detail, utc_now())
        if code >= 500 and not any(word in reply.lower() for word in POLICY):
            return Verified(address, VerificationResult.DEAD, Stage.MAILBOX, detail, utc_now())
        return Verified(
            address, VerificationResult.UNKNOWN, Stage.MAILBOX, f"the server would not say ({detail})", utc_now()
        )
