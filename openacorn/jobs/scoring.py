"""Scores from what the store holds: no network, so they can be made again whenever a rule or a peer changes."""

import sqlite3
from collections.abc import Iterable
from typing import Any

import orjson

from openacorn.core.audit.finding import Outcome
from openacorn.core.audit.verification import Result
from openacorn.core.scoring.fit import MIN_PEERS, Fit, fit_of
from openacorn.core.scoring.opportunity import best_offer, score_service
from openacorn.core.scoring.reach import CHANCE, Channel, ChannelKind, Reach, email_kind, phone_kind, reach_of
from openacorn.core.scoring.service import all_services
from openacorn.store import audits, businesses, verifications


class Scorer:
    """Scores businesses; what concerns a whole trade is read once and kept for the scorer's life."""

    def __init__(self, conn: sqlite3.Connection) -> None:
        self._conn = conn
        self._reviews: dict[str, list[int]] = {}
        self._usual_address: dict[str, float | None] = {}

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
        """Ways to reach a business: the listed phone, what its pages give, or the trade's average where none could be read."""
        found = [Channel(phone_kind(row["phone"]), row["phone"])] if row["phone"].startswith("+") else []
        contacts = audits.contacts_of(self._conn, row["id"])
        verdicts = verifications.known(self._conn, [c["value"] for c in contacts if c["kind"] == "email"])
        for contact in contacts:
            if contact["kind"] == "email":
                verdict = verdicts.get(contact["value"])
                if verdict is None or verdict.result is not Result.DEAD:  # a dead address reaches nobody
                    verified = verdict is not None and verdict.result is Result.VALID
                    found.append(Channel(email_kind(contact["value"], verified=verified), contact["value"]))
            elif contact["kind"] == "phone":
                found.append(Channel(phone_kind(contact["value"]), contact["value"]))
        if outcomes.get("email_found") is Outcome.UNKNOWN:
            usual = self._trade_address(row["trade"])
            if usual:
                found.append(Channel(ChannelKind.ROLE, "trade's average", assumed=True, chance=usual))
        return found

    def inputs(self, row: dict[str, Any]) -> tuple[dict[str, Outcome], Fit, Reach]:
        """Everything that goes into a business's scores."""
        outcomes = {check: Outcome(outcome) for check, outcome in orjson.loads(row["outcomes"]).items()}
        fit = fit_of(row["reviews"], self._peers(row["trade"]), row["staff_band"], row["price_band"])
        return outcomes, fit, reach_of(self.channels(row, outcomes))

    def score(self, ids: Iterable[int]) -> None:
        """Score businesses for every service and keep the result."""
        for row in businesses.get_businesses(self._conn, list(ids)):
            outcomes, fit, reach = self.inputs(row)
            opportunities = [score_service(service, outcomes, fit, reach) for service in all_services()]
            audits.save_opportunities(self._conn, row["id"], opportunities, best_offer(opportunities), reach.value)
