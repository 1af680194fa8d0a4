"""What name servers and the registry say of a domain: its mail, and whether a name is free."""

import asyncio
from collections.abc import Sequence

from openacorn.core.audit.hosts import registrable_domain
from openacorn.core.audit.offsite import MailDomain
from openacorn.net.client import Client
from openacorn.net.errors import FetchError

STATES = {200: "taken", 404: "free"}
"""RDAP's answers (RFC 7480, 5.1 and 5.3): found, not found; anything else decides nothing."""


async def mail_domain(client: Client, host: str, at: str) -> MailDomain | None:
    """Ask about mail at the registrable domain of a host; None where there is none."""
    domain = registrable_domain(host)
    if domain is None:
        return None
    try:
        mx, texts, dmarc = await asyncio.gather(
            client.records(domain, "MX"), client.records(domain, "TXT"), client.records(f"_dmarc.{domain}", "TXT")
        )
    except FetchError as error:
        return MailDomain(domain, at, failed=f"the name server did not answer: {error}")
    return MailDomain(domain, at, tuple(mx), tuple(texts), tuple(dmarc))


async def domain_states(client: Client, registry: str, domains: Sequence[str]) -> list[tuple[str, str]]:
    """(domain, "free", "taken" or "unknown") of each, by RDAP at `registry` (RFC 9082, 3.1.3)."""

    async def one(domain: str) -> tuple[str, str]:
        try:
            answer = await client.fetch(
                f"{registry.rstrip('/')}/domain/{domain}", headers={"Accept": "application/rdap+json"}, max_body=100_000
            )
        except FetchError:
            return domain, "unknown"
        return domain, STATES.get(answer.status, "unknown")

    return list(await asyncio.gather(*map(one, domains)))
