"""Note what came of a contact, and learn the chance of winning anew from all of it."""

import sqlite3
from datetime import UTC, datetime, timedelta

from openacorn.core.scoring.winning import RIPE_DAYS, fit_odds
from openacorn.jobs.scoring import Scorer
from openacorn.store import businesses, outcomes
from openacorn.store.outcomes import Kept, Stage
from openacorn.store.sweeps import NotFound


class OutcomeError(ValueError):
    """An outcome that makes no sense; the message says why."""


def ripe_before() -> str:
    """The moment before which a contact without an answer counts as lost."""
    return (datetime.now(UTC) - timedelta(days=RIPE_DAYS)).isoformat(timespec="seconds")


def note(
    conn: sqlite3.Connection, business_id: int, service: str, stage: Stage, at: str, amount: float | None, reason: str
) -> None:
    """Keep an outcome with the score that the business had when first contacted. Raises NotFound, OutcomeError."""
    found, _, _ = Scorer(conn).opportunities(businesses.get_business(conn, business_id))
    offer = next((item for item in found if item.service == service), None)
    if offer is None:
        raise NotFound(f"there is no service {service!r}")
    if offer.score is None:
        raise OutcomeError(f"there was no score to learn from: {offer.reason}")
    outcomes.put(conn, business_id, Kept(service, offer.exact, at, stage, amount, reason))
    learn(conn)


def learn(conn: sqlite3.Connection) -> None:
    """Fit the odds to every outcome that can be learnt from."""
    trials = outcomes.trials(conn, ripe_before())
    outcomes.keep_odds(conn, fit_odds(trials) if trials else {})
