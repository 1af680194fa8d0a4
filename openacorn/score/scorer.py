"""Scores from what the store holds: no network, so they can be made again whenever a rule or a peer changes."""

import sqlite3
from collections.abc import Iterable, Mapping
from typing import Any

import numpy as np
import orjson

from openacorn.business.snapshot import Snapshot
from openacorn.business.store import audits, businesses, listings, services, verifications
from openacorn.business.store.audits import ScoreSummary
from openacorn.clock import now
from openacorn.core.audit.finding import Outcome
from openacorn.core.audit.verification import Line, VerificationResult
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.core.score.fit import MIN_PEERS, Fit, Means, fit_of
from openacorn.core.score.opportunity import Opportunity, best_offer, score_service
from openacorn.core.score.reach import CHANCE, Channel, ChannelKind, Reach, email_kind, flags_of, phone_kind, reach_of
from openacorn.core.score.service import Service
from openacorn.db.database import Database

REFUSED = "refused"
AT_ONCE = 2000


def outcomes_of(row: Mapping[str, Any]) -> dict[str, Outcome]:
    """Check id → outcome, as a business's wide row has them."""
    return {check: Outcome(outcome) for check, outcome in orjson.loads(row["outcomes"]).items()}


class Scorer:
    """Scores businesses; what concerns a whole trade, and the services, are read once and kept for the scorer's life."""

    def __init__(self, conn: sqlite3.Connection) -> None:
        self._conn = conn
        self._services = services.list_services(conn)
        self._year = now().year
        self._reviews: dict[str, list[int]] = {}
        self._usual_address: dict[str, float | None] = {}

    @property
    def services(self) -> tuple[Service, ...]:
        """What is offered now."""
        return self._services

    def _peers(self, trade: str) -> list[int]:
        if trade not in self._reviews:
            self._reviews[trade] = businesses.peer_reviews(self._conn, trade)
        return self._reviews[trade]

    def _trade_address(self, trade: str) -> float | None:
        """The trade's average chance by e-mail, over businesses whose pages could be read; None below 8 of them."""
        if trade not in self._usual_address:
            found = audits.addresses_by_business(self._conn, trade)
            best = [
                max((CHANCE[email_kind(address)] for address in addresses), default=0.0) for addresses in found.values()
            ]
            self._usual_address[trade] = sum(best) / len(best) if len(best) >= MIN_PEERS else None
        return self._usual_address[trade]

    def channels(self, row: dict[str, Any], outcomes: dict[str, Outcome]) -> list[Channel]:
        """Ways to reach a business: the listed phone, what its pages give, or the trade's average where none could be read.

        Nobody is reached who refused.
        """
        if row["relationship"] == REFUSED:
            return []
        contacts = audits.list_own_contacts(self._conn, row["id"])
        values = [(c["kind"], c["value"]) for c in contacts if c["kind"] in {"email", "phone"}]
        if row["phone"].startswith("+"):
            values.insert(0, ("phone", row["phone"]))
        verdicts = verifications.known(self._conn, [value for _, value in values])
        found = []
        for kind, value in values:
            verdict = verdicts.get(value)
            if verdict is not None and verdict.result is VerificationResult.DEAD:
                continue  # it reaches nobody
            verified = verdict is not None and verdict.result is VerificationResult.VALID
            line = verdict.line if verdict is not None else Line.UNSTATED
            channel = email_kind(value, verified=verified) if kind == "email" else phone_kind(value, line)
            found.append(Channel(channel, value))
        if outcomes.get("contact_form") is Outcome.OK:
            found.append(Channel(ChannelKind.FORM, "the form on their site"))
        if page := listings.page_taking_messages(self._conn, row["id"]):
            found.append(Channel(ChannelKind.PAGE_MESSAGE, page))
        if outcomes.get("email_found") is Outcome.UNKNOWN:
            usual = self._trade_address(row["trade"])
            if usual:
                found.append(Channel(ChannelKind.ROLE, "trade's average", assumed=True, chance=usual))
        return found

    def inputs(self, row: dict[str, Any]) -> tuple[dict[str, Outcome], Fit, Reach]:
        """Everything that goes into a business's scores."""
        outcomes = outcomes_of(row)
        ads = {Outcome.OK: True, Outcome.GAP: False}.get(outcomes.get("social_ads", Outcome.UNKNOWN))
        means = Means(
            row["reviews"], row["staff_band"], row["price_band"], row["founded"], row["revenue_band"], row["chain"], ads
        )
        fit = fit_of(means, self._peers(row["trade"]), self._year)
        return outcomes, fit, reach_of(self.channels(row, outcomes))

    def opportunities(self, row: dict[str, Any]) -> tuple[list[Opportunity], Fit, Reach]:
        """(every service's opportunity for one business, its fit, its reach)."""
        outcomes, fit, reach = self.inputs(row)
        return [score_service(service, outcomes, fit, reach) for service in self._services], fit, reach

    def score(self, ids: Iterable[int]) -> None:
        """Score businesses for every service; keep the best offer and what it was made of."""
        for row in businesses.get_businesses(self._conn, list(ids)):
            found, fit, reach = self.opportunities(row)
            best = best_offer(found)
            offer = (best.service, best.score, best.value) if best else ("", None, None)
            channels = flags_of(reach, named_person=self._has_person(row))
            audits.save_score_summary(self._conn, row["id"], ScoreSummary(fit.value, reach.value, channels, *offer))

    def _has_person(self, row: dict[str, Any]) -> bool:
        outcomes = orjson.loads(row["outcomes"])
        answer = outcomes.get("people_named") == Outcome.OK and outcomes.get("site_ownership") != Outcome.GAP
        return answer or row["company_id"] is not None or audits.has_directory_people(self._conn, row["id"])


def score_unscored(database: Database) -> int:
    """Score businesses last scored by an older version; return how many that were."""
    scored = 0
    while True:
        with database.write() as conn:
            ids = businesses.unscored(conn, AT_ONCE // 4)
            if not ids:
                return scored
            Scorer(conn).score(ids)
            scored += len(ids)


def best_now(grid: ScoredGrid, offered: tuple[Service, ...]) -> list[tuple[int, str, int | None, float | None]]:
    """(business, best offer or "", score, value) of everybody, by what the grid holds."""
    offers = grid.offers(offered)
    known = np.flatnonzero(grid.scorable())
    chosen = offers.service[known]
    names = [*(service.id for service in offered), ""]
    scores = np.round(np.nan_to_num(offers.exact[known])).astype(int).tolist()
    found = zip(grid.ids[known].tolist(), chosen.tolist(), scores, offers.value[known].tolist(), strict=True)
    return [(at, names[of], score, value) if of >= 0 else (at, "", None, None) for at, of, score, value in found]


def rescore(database: Database, snapshot: Snapshot, offered: tuple[Service, ...]) -> int:
    """Make everybody's best offer again after a rule changed; return how many changed.

    The table is held only while the offers are computed; they are written a piece at a time.
    """
    with snapshot.current(exact=True) as grid:
        offers = best_now(grid, offered)
    written = 0
    for start in range(0, len(offers), AT_ONCE):
        with database.write() as conn:
            written += audits.save_offers(conn, offers[start : start + AT_ONCE])
    return written
