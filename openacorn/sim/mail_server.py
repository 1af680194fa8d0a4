"""The coast's mail server (SMTP): known and unknown mailboxes, greylisting, domains that take any address, an outbox."""

import json
from pathlib import Path
from typing import Any

from aiosmtpd.smtp import SMTP, Envelope, Session

OUTBOX = "outbox.ndjson"


class Mailboxes:
    """Answers RCPT by what the coast knows of a domain; what is really sent is written to the outbox."""

    def __init__(self, world: Path) -> None:
        self._domains: dict[str, dict[str, Any]] = json.loads((world / "mailboxes.json").read_text(encoding="utf-8"))
        self._outbox = world / OUTBOX
        self._seen: set[str] = set()

    async def handle_RCPT(
        self, _server: SMTP, _session: Session, envelope: Envelope, address: str, _options: list[str]
    ) -> str:
        """250 for a mailbox that is there, 550 for one that is not, 451 at first where the domain greylists."""
        known = self._domains.get(address.lower().partition("@")[2])
        if known is not None and known["mode"] == "grey" and address not in self._seen:
            self._seen.add(address)
            return "451 4.7.1 greylisted, try again later"
        if said := self.refusal(address):
            return said
        envelope.rcpt_tos.append(address)
        return "250 2.1.5 ok"

    def refusal(self, address: str) -> str:
        """What is answered for a mailbox that is not there, "" for one that is."""
        local, _, domain = address.lower().partition("@")
        known = self._domains.get(domain)
        if known is None:
            return "550 5.1.2 no such domain here"
        return "" if known["mode"] == "all" or local in known["boxes"] else "550 5.1.1 no such mailbox"

    async def handle_DATA(self, _server: SMTP, _session: Session, envelope: Envelope) -> str:
        """Keep what is sent, so that it can be read."""
        body = envelope.content if isinstance(envelope.content, bytes) else b""
        sent = {"from": envelope.mail_from, "to": envelope.rcpt_tos, "body": body.decode("utf-8", "replace")}
        with self._outbox.open("a", encoding="utf-8") as file:
            file.write(json.dumps(sent) + "\n")
        return "250 2.0.0 kept in the outbox"
