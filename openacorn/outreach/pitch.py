"""What a call, a page or a message to a business rests on: its claims, what to sell, how to begin, who to ask for."""

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from openacorn import clock
from openacorn.audit.reputation import PeerComparison, PeerGap, ReputationAuditor, compare_with_peers
from openacorn.business.snapshot import Snapshot
from openacorn.business.store import angles, audits, own_trades
from openacorn.business.store.audits import StoredEvidence
from openacorn.core.audit.check import all_checks, check_ids
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.people import Person
from openacorn.core.desk.angle import Angle, shipped_angles
from openacorn.core.desk.filters import parse_filter
from openacorn.core.languages.catalogue import ENGLISH, Translator
from openacorn.core.outreach.wording import best_angle, filled
from openacorn.core.report.claims import ClaimSet, line_holds, select_claims, too_old, weights
from openacorn.core.score.opportunity import Opportunity, best_offer
from openacorn.core.score.reach import Channel
from openacorn.core.score.service import Service
from openacorn.gather.sources._source import all_sources
from openacorn.outreach.people import people_at
from openacorn.outreach.store import texts
from openacorn.outreach.whereabouts import language_of_owner
from openacorn.score.scorer import Scorer, outcomes_of


def angles_of(
    conn: sqlite3.Connection, snapshot: Snapshot, ids: Iterable[int], now: datetime
) -> dict[int, list[Angle]]:
    """Business → the angles with an opening line that hold for it, whatever its state."""
    wanted = set(ids)
    found: dict[int, list[Angle]] = {business: [] for business in wanted}
    own = angles.own_angles(conn)
    with snapshot.current() as grid:
        for angle in filter(lambda item: item.line, (*shipped_angles(), *own)):
            mask = grid.select(parse_filter({**angle.filter, "state": "all"}, check_ids()), now.timestamp())
            for business in wanted.intersection(grid.ids[mask].tolist()):
                found[business].append(angle)
    return found


@dataclass(frozen=True, slots=True)
class Pitch:
    """One business's case. audit: what the site's latest visit gathered; offer: what to sell first, None if nothing is known
    to be needed; line: the opening line of an angle, else the first claim, "" for neither; stale: was the site last looked at
    too long ago to claim anything of it? language: of the owner (ISO 639-1)."""

    row: Mapping[str, Any]
    trade: str
    trades: str
    findings: Mapping[str, Finding]
    audit: StoredEvidence | None
    selected: ClaimSet
    offer: Opportunity | None
    service: Service | None
    channels: Sequence[Channel]
    people: Sequence[Person]
    peers: PeerComparison | None
    line: str
    stale: bool
    language: str = ENGLISH

    def service_title(self, words: Translator) -> str:
        """What is to be sold, as written in the middle of a sentence; "" if nothing is known to be needed."""
        if self.service is None:
            return ""
        title = words.text(self.service.title)
        return title if words.language == "de" else f"{title[:1].lower()}{title[1:]}"


def peer_sentence(pitch: Pitch, lack: PeerGap, topic: str, words: Translator) -> str:
    """How many of the nearest of the trade have what this one lacks. topic: of the check, for owners."""
    topic = f"{topic[0].lower()}{topic[1:]}" if words.language == ENGLISH else words.text(topic)
    return words.text(
        "{have} of {of} {trades} nearby have this: {topic}",
        have=lack.have, of=lack.of, trades=pitch.trades.lower() or "businesses", topic=topic,
    )  # fmt: skip


class Pitcher:
    """Makes pitches; what concerns a whole trade is read once and kept for the pitcher's life. now: with a time zone; region: the
    agency's country (ISO 3166), for businesses that do not show theirs."""

    def __init__(self, conn: sqlite3.Connection, now: datetime | None = None, region: str | None = None) -> None:
        self._conn, self._region = conn, region
        self._scorer, self._judge, self._trades = Scorer(conn), ReputationAuditor(conn), own_trades.trades_there(conn)
        self._sources = {source.id: source.title for source in all_sources().values()}
        self.now = now or clock.now()
        self.services = {service.id: service for service in self._scorer.services}

    def register_of(self, number: str) -> str:
        """On which register of who must not be called a number stands, "" for none."""
        return texts.registers_of(self._conn, number)

    def _findings(self, business_id: int) -> dict[str, Finding]:
        """What the audit found; evidence out of a listing names its source as people know it, not by its id."""
        result = {}
        for check, finding in audits.list_findings(self._conn, business_id).items():
            shown = tuple(replace(item, url=self._sources.get(item.url, item.url)) for item in finding.evidence)
            result[check] = replace(finding, evidence=shown)
        return result

    def pitch(self, row: dict[str, Any], holding: Sequence[Angle], lead: str = "") -> Pitch:
        """The case of one business. holding: angles that hold for it; lead: the service to speak of, "" for its best offer."""
        offers, _, _ = self._scorer.opportunities(row)
        best = best_offer(offers)
        offer = next((item for item in offers if item.service == lead), best)
        service = self.services.get(offer.service if offer else lead)
        findings = self._findings(row["id"])
        audit = audits.get_evidence(self._conn, row["id"])
        selected = select_claims(all_checks(), findings, weights(offers, lead), self.now)
        open_to = [a for a in holding if line_holds(_checks_of(a), findings, self.now)]
        angle = best_angle(open_to, service.id if service else "")
        trade = self._trades.of(row["trade"]) if row["trade"] else None
        language = language_of_owner(self._conn, row, audit, self._region)
        say = Translator(language).text
        words = {"name": row["name"], "town": row["town"], "trade": trade.label if trade else "business"}
        line = filled(say(angle.line), **words) if angle else next((say(claim.text) for claim in selected.claims), "")
        return Pitch(
            row=row, trade=trade.label if trade else "", trades=trade.plural if trade else "", findings=findings, audit=audit,
            selected=selected, offer=offer, service=service, channels=self._scorer.channels(row, outcomes_of(row)),
            people=people_at(self._conn, row, audit, audits.list_own_contacts(self._conn, row["id"])),
            peers=compare_with_peers(self._conn, row, self._judge.neighbours(row["trade"])),
            line=line, stale=too_old(audit.at if audit else "", self.now), language=language,
        )  # fmt: skip


def _checks_of(angle: Angle) -> list[str]:
    return [key.removeprefix("check.") for key in angle.filter if key.startswith("check.")]
