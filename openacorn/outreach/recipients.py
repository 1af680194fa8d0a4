"""Who may be written to, at which address, and why others may not: one answer for mailings and sequences alike."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from openacorn.business.store import audits, pipeline, relationships, verifications
from openacorn.core.audit.people import Person
from openacorn.core.audit.verification import VerificationResult, nature
from openacorn.core.match.normalise import own_domain
from openacorn.core.match.relationship import identifiers_of, relationship_among
from openacorn.core.outreach.mailing import best_address
from openacorn.outreach.store import mailings
from openacorn.settings import Settings

TITLES = frozenset({"dr", "mr", "mrs", "ms", "miss", "prof", "sir"})
"""Nobody is greeted as "Dear Dr" (common practice)."""

CLOSED = frozenset({"won", "lost", "parked"})


def name_of(people: Sequence[Person], address: str) -> tuple[str, str]:
    """(first, last name) of whose address it is; ("", "") for one that is shared or nobody's."""
    named = next((person.name for person in people if person.address == address), "")
    words = [word for word in named.split() if word.rstrip(".").lower() not in TITLES]
    return (words[0], words[-1] if len(words) > 1 else "") if words else ("", "")


def own_addresses(contacts: Sequence[Mapping[str, Any]], website: str) -> list[str]:
    """The addresses on a business's pages that are surely its own: another's (the site's maker) must not stand for it."""
    domain = own_domain(website) or ""
    mails = [item["value"] for item in contacts if item["kind"] == "email"]
    return [mail for mail in mails if nature(mail, domain)[1] in {"own domain", "free mail"}]


@dataclass(frozen=True, slots=True)
class Addressed:
    """Where a business can be written to. email: "" with the reason in `lacking` if nowhere."""

    email: str
    lacking: str = ""


class Recipients:
    """Decides who is written to. since: nobody who was spoken or written to from that moment on (ISO 8601)."""

    def __init__(self, conn: sqlite3.Connection, settings: Settings, since: str) -> None:
        self._conn, self._settings, self._since = conn, settings, since
        self._relationships = relationships.known_relationships(conn)

    @cached_property
    def _written(self) -> set[str]:
        return mailings.addresses_since(self._conn, self._since)

    def not_any_more(self, row: Mapping[str, Any]) -> str:
        """Why nothing more may be written to a business, whenever it was written to last; "" if it may."""
        if row["relationship"]:
            return f"marked as {row['relationship']}"
        stages = {stage for _, stage, _ in pipeline.memberships(self._conn, row["id"])} & CLOSED
        return f"{min(stages)} on a shortlist" if stages else ""

    def barred(self, row: Mapping[str, Any]) -> str:
        """Why a business is not to be written to now, "" if it may be."""
        if why := self.not_any_more(row):
            return why
        last = pipeline.last_spoken(self._conn, row["id"])
        return f"contacted on {last.at[:10]}" if last is not None and last.at >= self._since else ""

    def address_refused(self, email: str) -> str:
        """Why an address has a relationship to us that forbids writing to it, "" if it has none."""
        marks = identifiers_of(self._settings.region, website=f"https://{email.partition('@')[2]}", emails=(email,))
        relationship = relationship_among(marks, self._relationships)
        return f"the address is marked as {relationship}" if relationship else ""

    def stopped(self, row: Mapping[str, Any], address: str) -> str:
        """Why nothing more may go to a business at an address, "" if it may."""
        if why := self.not_any_more(row) or (address and self.address_refused(address)):
            return why
        known = verifications.known(self._conn, [address]).get(address) if address else None
        return f"{address} is dead" if known is not None and known.result is VerificationResult.DEAD else ""

    def address_barred(self, email: str) -> str:
        """Why an address is not to be written to now, "" if it may be."""
        if email.lower() in self._written:
            return f"{email} was written to lately"
        return self.address_refused(email)

    def address_of(self, business_id: int, people: Sequence[Person]) -> Addressed:
        """The verified address likeliest to be read."""
        found = [item["value"] for item in audits.list_own_contacts(self._conn, business_id) if item["kind"] == "email"]
        addresses = [*(person.address for person in people if person.address), *found]
        verified = {address: known.result for address, known in verifications.known(self._conn, addresses).items()}
        return Addressed(*best_address(addresses, verified))
