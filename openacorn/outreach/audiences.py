"""Who of a shortlist goes into an audience file. Nobody who refused, and no address that opted out."""

import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from openacorn.business.store import audits, businesses, shortlists
from openacorn.core.export.audience import KINDS, AudienceKind, AudienceRow
from openacorn.core.match.normalise import own_domain
from openacorn.outreach.owner_pages import REFUSED
from openacorn.outreach.people import people_at
from openacorn.outreach.recipients import Recipients, name_of
from openacorn.outreach.whereabouts import country_of
from openacorn.settings import Settings


@dataclass(frozen=True, slots=True)
class AudienceCount:
    """Rows that a kind of file would have, and how many businesses of the list are not in it since they refused."""

    kind: AudienceKind
    title: str
    rows: int


def _rows_of(
    conn: sqlite3.Connection, row: dict[str, object], recipients: Recipients, kind: AudienceKind, region: str | None
) -> Iterator[AudienceRow]:
    website = str(row["website"] or "")
    if kind == "companies":
        yield AudienceRow(company=str(row["name"]), domain=own_domain(website) or "")
        return
    number = int(str(row["id"]))
    people = people_at(conn, row, audits.get_evidence(conn, number), audits.list_own_contacts(conn, number))
    place = {"country": country_of(row, region), "postcode": str(row["postcode"] or "")}
    first = recipients.address_of(number, people).email
    addresses = [first] if kind == "contacts" else [first, *(person.address for person in people if not person.guessed)]
    allowed = [address for address in dict.fromkeys(addresses) if address and not recipients.address_refused(address)]
    phone = str(row["phone"] or "")
    for at, address in enumerate(allowed or ([""] if phone else [])):
        given, family = name_of(people, address)
        # the business's number is not each colleague's
        yield AudienceRow(address, phone if at == 0 else "", given, family, **place)


def willing_members(conn: sqlite3.Connection, shortlist_id: int) -> tuple[list[dict[str, Any]], int]:
    """(everybody on a list who did not refuse, in its order; how many did). Raises NotFound."""
    shortlists.must_exist(conn, shortlist_id)
    rows = businesses.get_businesses(conn, shortlists.member_ids(conn, shortlist_id))
    kept = [row for row in rows if row["relationship"] != REFUSED]
    return kept, len(rows) - len(kept)


def audience(
    conn: sqlite3.Connection, shortlist_id: int, kind: AudienceKind, settings: Settings
) -> tuple[list[AudienceRow], int]:
    """(the rows of a list, how many businesses refused and are left out). Raises NotFound."""
    recipients = Recipients(conn, settings, "")
    kept, refused = willing_members(conn, shortlist_id)
    found = [item for row in kept for item in _rows_of(conn, row, recipients, kind, settings.region)]
    return found, refused


def counts(conn: sqlite3.Connection, shortlist_id: int, settings: Settings) -> tuple[list[AudienceCount], int]:
    """(rows by kind, how many businesses are left out). Raises NotFound."""
    made = {kind: audience(conn, shortlist_id, kind, settings) for kind in KINDS}
    left_out = max(refused for _, refused in made.values())
    return [AudienceCount(kind, KINDS[kind], len(rows)) for kind, (rows, _) in made.items()], left_out
