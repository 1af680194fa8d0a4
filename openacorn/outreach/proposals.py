"""Proposals: made from an offer, shared at an address, accepted there, which wins the business."""

import secrets
import sqlite3
from dataclasses import dataclass
from decimal import Decimal

from openacorn.business.store import businesses, pipeline, services
from openacorn.clock import now, utc_now
from openacorn.core.languages.catalogue import Translator
from openacorn.core.report.proposal import PricedProposal, ProposalError, ProposalItem, check_proposal
from openacorn.outreach import results
from openacorn.outreach.message_facts import claims_for
from openacorn.outreach.owner_pages import REFUSED, TOKEN_BYTES
from openacorn.outreach.pitch import Pitcher
from openacorn.outreach.results import ContactReport
from openacorn.outreach.store import proposals
from openacorn.outreach.store.proposals import StoredProposal
from openacorn.settings import Settings

VALID_DAYS = 30
MOST_CLAIMS = 3


@dataclass(frozen=True, slots=True)
class Terms:
    """What is agreed on. items: of the service; tax_percent: 0 for none; valid_until: a day (ISO 8601)."""

    service: str
    items: tuple[ProposalItem, ...]
    tax_percent: Decimal
    valid_until: str
    note: str = ""


def body_of(conn: sqlite3.Connection, business_id: int, terms: Terms, settings: Settings) -> PricedProposal:
    """A proposal as its owner reads it, with what may be claimed that speaks for the service. Raises NotFound, ProposalError."""
    if terms.service not in {service.id for service in services.list_services(conn)}:
        raise ProposalError(f"there is no service {terms.service!r}")
    pitch = Pitcher(conn, region=settings.region).pitch(businesses.get_business(conn, business_id), (), terms.service)
    row, words = pitch.row, Translator(pitch.language)
    address = tuple(line for line in (row["street"], f"{row['postcode']} {row['town']}".strip()) if line)
    made = PricedProposal(
        row["name"], address, terms.service, terms.items, settings.currency, terms.tax_percent, terms.valid_until, terms.note,
        pitch.language, tuple(claim.in_language(words).text for claim in claims_for(pitch)[:MOST_CLAIMS]),
        settings.written_as if settings.written_as.partition("-")[0] == pitch.language else "",
    )  # fmt: skip
    check_proposal(made)
    return made


def make(conn: sqlite3.Connection, business_id: int, terms: Terms, by: str, settings: Settings) -> int:
    """Make a proposal; return its number. Raises NotFound, ProposalError."""
    body = body_of(conn, business_id, terms, settings)
    return proposals.insert_proposal(conn, business_id, secrets.token_urlsafe(TOKEN_BYTES), body, utc_now(), by)


def change(conn: sqlite3.Connection, number: int, terms: Terms, settings: Settings) -> None:
    """Change one that nobody outside has seen. Raises NotFound, ProposalError."""
    found = proposals.get_proposal(conn, number)
    if found.shared_at:
        raise ProposalError("it was shared: make a new one, and withdraw this one")
    proposals.change_proposal(conn, number, body_of(conn, found.business_id, terms, settings))


def share(conn: sqlite3.Connection, number: int, by: str) -> None:
    """Show it at its address: the business stands at *proposed* then. Raises NotFound, ProposalError."""
    found = proposals.get_proposal(conn, number)
    row = businesses.get_business(conn, found.business_id)
    if row["relationship"] == REFUSED:
        raise ProposalError(f"{row['name']} asked not to be contacted")
    if found.withdrawn_at or found.body.over(now().date()):
        raise ProposalError("it was withdrawn, or its last day has passed: make a new one")
    proposals.share(conn, number, utc_now())
    pipeline.add_activity(conn, found.business_id, by, "shared a proposal", utc_now(), "page")


def withdraw(conn: sqlite3.Connection, number: int, by: str) -> None:
    """Close its address. Raises NotFound, ProposalError for one that was accepted."""
    found = proposals.get_proposal(conn, number)
    if found.accepted_at:
        raise ProposalError(f"{found.accepted_by} has accepted it")
    proposals.withdraw(conn, number, utc_now())
    pipeline.add_activity(conn, found.business_id, by, "withdrew a proposal", utc_now(), "page")


def accept(conn: sqlite3.Connection, found: StoredProposal, name: str, sender: str, settings: Settings) -> bool:
    """The owner accepts: noted with name, time and address, and the business is won. False if that came too late."""
    if found.body.over(now().date()) or not proposals.accept(conn, found.id, utc_now(), name, sender):
        return False
    report = ContactReport(
        "won", found.body.service, f"accepted by {name}", amount=float(found.body.value), by="the owner"
    )
    results.record_result(conn, found.business_id, report, utc_now(), settings)
    return True


def numbered(found: StoredProposal) -> str:
    """How a proposal is called on paper: the year it was made in and its number."""
    return f"{found.made_at[:4]}-{found.id:04d}"
