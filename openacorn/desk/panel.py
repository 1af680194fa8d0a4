"""One business with everything that is known of it, for its panel."""

import sqlite3
from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from openacorn.audit.auditor import own_domain
from openacorn.audit.reputation import compare_with_peers
from openacorn.business.facts import facts_of
from openacorn.business.store import (
    audits,
    businesses,
    membership,
    outcomes,
    own_trades,
    pictures,
    verifications,
)
from openacorn.clock import now
from openacorn.core.audit.check import all_checks, check_titles
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.group_grades import group_marks
from openacorn.core.audit.people import Person
from openacorn.core.audit.verification import nature
from openacorn.core.score.opportunity import Opportunity
from openacorn.core.score.service import Service
from openacorn.desk.schemas.businesses import (
    BusinessResponse,
    ChannelResponse,
    ContactResponse,
    FactResponse,
    FindingResponse,
    OpportunityResponse,
    PeerResponse,
    PeersResponse,
    PersonResponse,
    TermResponse,
    VerifiedResponse,
)
from openacorn.gather.reach import title_of
from openacorn.outreach.people import people_at
from openacorn.outreach.schemas.results import OutcomeResponse
from openacorn.score.scorer import Scorer

PANEL_FIELDS = (
    "id", "name", "trade", "category", "street", "town", "postcode", "lat", "lon", "distance_m", "phone", "website", "rating",
    "reviews", "hours", "rejected", "relationship", "audited_at", "offer", "first_seen", "platform", "founded", "revenue_band",
)  # fmt: skip


FRESH_HALF_LIFE_DAYS = 90.0
"""Confidence in an audit halves in so many days (DESIGN §4, common practice: small sites change a few times a year)."""


def _freshness(audited_at: str | None) -> float | None:
    """1 for an audit of today, .5 after the half-life; None where there is none."""
    if not audited_at:
        return None
    days = (now() - datetime.fromisoformat(audited_at)).total_seconds() / 86_400
    return float(round(0.5 ** (max(0.0, days) / FRESH_HALF_LIFE_DAYS), 3))


def _opportunities(
    found: list[Opportunity], offered: Sequence[Service], freshness: float | None
) -> list[OpportunityResponse]:
    services = {service.id: service for service in offered}
    titles = check_titles()
    result = []
    for item in found:
        service = services[item.service]
        terms = [
            TermResponse(
                part=t.part, label=t.label, check=t.check, title=titles.get(t.check or "", t.label), points=t.points
            )
            for t in item.terms
        ]
        result.append(
            OpportunityResponse(
                service=item.service, title=service.title, state=str(item.state), reason=item.reason, score=item.score,
                value=item.value, p_win=item.p_win, margin=service.margin, need=item.need.value, need_upper=item.need.upper,
                known_share=item.need.known_share, confidence=round(item.need.known_share * (freshness or 0.0), 3),
                fit=item.fit, reach=item.reach, decided_by=titles.get(item.need.decided_by or ""), terms=terms,
            )
        )  # fmt: skip
    return sorted(result, key=lambda item: -(item.value or -1.0))


def _findings(found: Mapping[str, Finding]) -> list[FindingResponse]:
    return [
        FindingResponse(
            check=check.id, group=str(check.group), title=check.title, why=check.why, outcome=str(finding.outcome),
            value=finding.value, reason=finding.reason, crashed=finding.crashed,
            evidence=list(finding.evidence),
        )
        for check in all_checks()
        if (finding := found.get(check.id)) is not None
    ]  # fmt: skip


def _facts(conn: sqlite3.Connection, business_id: int, region: str | None) -> list[FactResponse]:
    return [
        FactResponse(
            field=fact.field, value=fact.value, others=list(fact.others), source=title_of(conn, fact.listing.listing.source),
            source_id=fact.listing.listing.source_id, seen_at=fact.listing.seen_at,
        )
        for fact in facts_of(conn, business_id, region)
    ]  # fmt: skip


def _contacts(conn: sqlite3.Connection, found: list[dict[str, Any]], domain: str) -> list[ContactResponse]:
    known = verifications.known(conn, [item["value"] for item in found if item["kind"] in {"email", "phone"}])
    result = []
    for item in found:
        verdict = known.get(item["value"])
        is_mail = item["kind"] == "email"
        result.append(
            ContactResponse(
                **item, nature=", ".join(nature(item["value"], domain)) if is_mail else "",
                verified=VerifiedResponse.model_validate(verdict) if verdict else None,
            )
        )  # fmt: skip
    return result


def _people(found: Sequence[Person]) -> list[PersonResponse]:
    return [
        PersonResponse(
            name=p.name,
            roles=[f"{role} ({where})" for role, where in p.roles],
            address=p.address,
            guessed=p.guessed,
            profile=p.profile,
        )
        for p in found
    ]


def _peers(conn: sqlite3.Connection, row: Mapping[str, Any]) -> PeersResponse | None:
    """The nearest of the trade beside this business, and what most of them have that it lacks."""
    beside = compare_with_peers(conn, row)
    if beside is None:
        return None
    return PeersResponse(
        count=beside.count, reviews_rank=beside.reviews, rating_rank=beside.rating,
        nearest=[PeerResponse.model_validate(peer) for peer in beside.nearest],
        lacks=list(beside.lacks),
    )  # fmt: skip


def outcomes_of(conn: sqlite3.Connection, business_id: int, offered: Sequence[Service]) -> list[OutcomeResponse]:
    """The results of contacting a business, the oldest first."""
    titles = {service.id: service.title for service in offered}
    return [
        OutcomeResponse(
            service=kept.service, title=titles.get(kept.service, kept.service),
            score=None if kept.score is None else round(kept.score, 1),
            contacted_at=kept.contacted_at, stage=kept.stage, amount=kept.amount, reason=kept.reason,
        )
        for kept in outcomes.get_outcome(conn, business_id)
    ]  # fmt: skip


def whole(conn: sqlite3.Connection, business_id: int, region: str | None) -> BusinessResponse:
    """Gather the panel's content. Raises NotFound."""
    row = businesses.get_business(conn, business_id)
    scorer = Scorer(conn)
    found, fit, reach = scorer.opportunities(row)
    freshness = _freshness(row["audited_at"])
    audit = audits.get_evidence(conn, business_id)
    crawl = audit.crawl if audit else None
    findings, contacts = audits.list_findings(conn, business_id), audits.list_contacts(conn, business_id)
    domain = own_domain(crawl)
    groups = membership.groups_of(conn, [business_id]).get(business_id, {})
    return BusinessResponse(
        **{name: row[name] for name in PANEL_FIELDS},
        trade_label=own_trades.trades_there(conn).of(row["trade"]).label if row["trade"] else "trade not known",
        audit_seconds=crawl.seconds if crawl else None,
        chain_name=row["chain"],
        chain=list(crawl.visit.chain) if crawl else [],
        cut_short=crawl.cut_short if crawl else "",
        opportunities=_opportunities(found, scorer.services, freshness),
        freshness=freshness,
        signals=list(fit.signals),
        channels=[ChannelResponse(kind=str(c.kind), value=c.value, chance=c.r, assumed=c.assumed) for c in reach.used],
        findings=_findings(findings),
        marks=list(group_marks(all_checks(), findings)),
        found=audit.found if audit else "",
        pictures=dict(pictures.list_pictures(conn, business_id)),
        contacts=_contacts(conn, contacts, domain),
        people=_people(people_at(conn, row, audit, contacts)),
        facts=_facts(conn, business_id, region),
        shortlists=[int(number) for number in groups.get("shortlist", ())],
        stages=groups.get("stage", ["new"]),
        outcomes=outcomes_of(conn, business_id, scorer.services),
        tags=groups.get("tag", []),
        peers=_peers(conn, row),
    )
