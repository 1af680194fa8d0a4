"""Who to ask for at a business: what its pages, a people directory and the company register say, put together."""

import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

from openacorn.audit.auditor import own_domain
from openacorn.business.store import audits, companies
from openacorn.business.store.audits import StoredEvidence
from openacorn.core.audit.people import Person, PersonMention, people
from openacorn.core.gather.listing import officers_of
from openacorn.gather.reach import source_titles


def people_at(
    conn: sqlite3.Connection,
    row: Mapping[str, Any],
    audit: StoredEvidence | None,
    contacts: Sequence[Mapping[str, Any]],
) -> list[Person]:
    """Everybody that pages, people directory and company register name at a business, the one to ask for first."""
    crawl = audit.crawl if audit and not audits.site_belongs_to_another(conn, row["id"]) else None
    answer = [
        PersonMention(person.value, person.how, "website")
        for page in (crawl.pages.all if crawl and crawl.pages else ())
        for person in page.content.people
    ]
    titles = source_titles(conn)
    if audit is not None and audit.people is not None:
        for person in audit.people.people:
            source = person.source or audit.people.source
            answer.append(PersonMention(person.name, person.role, titles.get(source, source), person.profile))
    entry = companies.entry(conn, row["company_id"]) if row["company_id"] is not None else None
    if entry is not None:
        officers = officers_of(str(entry.listing.extra.get("officers") or ""))
        answer += [
            PersonMention(name, role, titles.get(entry.listing.source, entry.listing.source)) for name, role in officers
        ]
    addresses = [item["value"] for item in contacts if item["kind"] == "email"]
    return people(answer, addresses, own_domain(crawl))
