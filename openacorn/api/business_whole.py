"""One business with everything that is known of it, for its panel."""

import sqlite3
from collections.abc import Mapping
from typing import Any

from openacorn.api.models.businesses import (
    BusinessTold,
    ChannelTold,
    ContactTold,
    EvidenceTold,
    FactTold,
    FindingTold,
    MarkTold,
    OpportunityTold,
    PersonTold,
    SignalTold,
    TermTold,
    VerifiedTold,
)
from openacorn.core.audit.check import all_checks
from openacorn.core.audit.evidence import Crawl
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.hosts import borrowed, host_of, registrable_domain
from openacorn.core.audit.marks import group_marks
from openacorn.core.audit.verification import nature
from openacorn.core.people import people
from openacorn.core.scoring.opportunity import Opportunity
from openacorn.core.scoring.service import all_services
from openacorn.core.trades.catalogue import trade_of
from openacorn.jobs.gathering import title_of
from openacorn.jobs.scoring import Scorer
from openacorn.sources.company_register import officers_of
from openacorn.store import audits, businesses, companies, listings, verifications

COPIED = (
    "id", "name", "trade", "category", "street", "town", "postcode", "lat", "lon", "distance_m", "phone", "website", "rating",
    "reviews", "hours", "rejected", "standing", "audited_at", "offer",
)  # fmt: skip


def _opportunities(found: list[Opportunity]) -> list[OpportunityTold]:
    services = {service.id: service for service in all_services()}
    titles = {check.id: check.title for check in all_checks()}
    told = []
    for item in found:
        service = services.get(item.service)
        if service is None:
            continue  # the rule file was taken away since
        terms = [
            TermTold(
                part=t.part, label=t.label, check=t.check, title=titles.get(t.check or "", t.label), points=t.points
            )
            for t in item.terms
        ]
        told.append(
            OpportunityTold(
                service=item.service, title=service.title, state=str(item.state), reason=item.reason, score=item.score,
                value=item.value, p_win=item.p_win, margin=service.margin, need=item.need.value, need_upper=item.need.upper,
                known_share=item.need.known_share, fit=item.fit, reach=item.reach,
                decided_by=titles.get(item.need.decided_by or ""), terms=terms,
            )
        )  # fmt: skip
    return sorted(told, key=lambda item: -(item.value or -1.0))


def _findings(found: Mapping[str, Finding]) -> list[FindingTold]:
    return [
        FindingTold(
            check=check.id, group=str(check.group), title=check.title, why=check.why, outcome=str(finding.outcome),
            value=finding.value, reason=finding.reason, crashed=finding.crashed,
            evidence=[EvidenceTold.model_validate(item) for item in finding.evidence],
        )
        for check in all_checks()
        if (finding := found.get(check.id)) is not None
    ]  # fmt: skip


def _facts(conn: sqlite3.Connection, business_id: int) -> list[FactTold]:
    by_id = {held.id: held for held in listings.listings_of(conn, business_id)}
    told = []
    for fact in businesses.facts_of(conn, business_id):
        held = by_id.get(fact["listing_id"])
        source = title_of(conn, held.listing.source) if held else ""
        told.append(
            FactTold(
                field=fact["field"], value=fact["value"], others=fact["others"],
                source=source or "a listing that has moved on",
                source_id=held.listing.source_id if held else "", seen_at=held.seen_at if held else "",
            )
        )  # fmt: skip
    return told


def _own_domain(crawl: Crawl | None) -> str:
    """The registrable domain of the site that was read, "" where it stands on somebody else's."""
    host = host_of(crawl.visit.url) if crawl and crawl.visit.answered else ""
    return "" if not host or borrowed(host) else registrable_domain(host) or ""


def _contacts(conn: sqlite3.Connection, found: list[dict[str, Any]], own_domain: str) -> list[ContactTold]:
    known = verifications.known(conn, [item["value"] for item in found if item["kind"] == "email"])
    told = []
    for item in found:
        verdict = known.get(item["value"])
        is_mail = item["kind"] == "email"
        told.append(
            ContactTold(
                **item, nature=", ".join(nature(item["value"], own_domain)) if is_mail else "",
                verified=VerifiedTold.model_validate(verdict) if verdict else None,
            )
        )  # fmt: skip
    return told


def _people(
    conn: sqlite3.Connection, row: dict[str, Any], crawl: Crawl | None, contacts: list[dict[str, Any]], own_domain: str
) -> list[PersonTold]:
    said = [
        (person.value, person.how, "website")
        for page in (crawl.pages.all if crawl and crawl.pages else ())
        for person in page.content.people
    ]
    entry = companies.entry(conn, row["company_id"]) if row["company_id"] is not None else None
    if entry is not None:
        officers = officers_of(str(entry.listing.extra.get("officers") or ""))
        said += [(name, role, title_of(conn, entry.listing.source)) for name, role in officers]
    addresses = [item["value"] for item in contacts if item["kind"] == "email"]
    return [
        PersonTold(
            name=p.name, roles=[f"{role} ({where})" for role, where in p.roles], address=p.address, guessed=p.guessed
        )
        for p in people(said, addresses, own_domain)
    ]


def whole(conn: sqlite3.Connection, business_id: int) -> BusinessTold:
    """Gather the panel's content. Raises NotFound."""
    row = businesses.get_business(conn, business_id)
    _, fit, reach = Scorer(conn).inputs(row)
    audit = audits.evidence_of(conn, business_id)
    crawl = audit.crawl if audit else None
    findings, contacts = audits.findings_of(conn, business_id), audits.contacts_of(conn, business_id)
    own_domain = _own_domain(crawl)
    _, lists = businesses.groups_of(conn, [business_id])
    return BusinessTold(
        **{name: row[name] for name in COPIED},
        trade_label=trade_of(row["trade"]).label if row["trade"] else "trade not known",
        audit_seconds=crawl.seconds if crawl else None,
        chain=list(crawl.visit.chain) if crawl else [],
        cut_short=crawl.cut_short if crawl else "",
        opportunities=_opportunities(audits.opportunities_of(conn, business_id)),
        signals=[SignalTold.model_validate(signal) for signal in fit.signals],
        channels=[ChannelTold(kind=str(c.kind), value=c.value, chance=c.r, assumed=c.assumed) for c in reach.used],
        findings=_findings(findings),
        marks=[MarkTold.model_validate(mark) for mark in group_marks(all_checks(), findings)],
        found=audit.found if audit else "",
        pictures=dict(audits.pictures_of(conn, business_id)),
        contacts=_contacts(conn, contacts, own_domain),
        people=_people(conn, row, crawl, contacts, own_domain),
        facts=_facts(conn, business_id),
        shortlists=lists.get(business_id, []),
    )
