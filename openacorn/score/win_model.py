"""Learn the win probability from the results of contacts."""

import sqlite3
from dataclasses import replace
from datetime import timedelta

from openacorn.business.store import businesses, outcomes
from openacorn.business.store.outcomes import SalesOutcome
from openacorn.clock import now
from openacorn.core.score.winning import RIPE_DAYS, fit
from openacorn.score.scorer import Scorer


def ripe_before() -> str:
    """The moment before which a contact without an answer counts as lost."""
    return (now() - timedelta(days=RIPE_DAYS)).isoformat(timespec="seconds")


def save_trained(conn: sqlite3.Connection, business_id: int, kept: SalesOutcome, scorer: Scorer) -> None:
    """Keep an outcome with the score that the business had at first contact; today's, if this is the first.

    Without a score for the service nothing can be learnt, but the result is kept all the same. `learn` comes after.
    """
    if all(earlier.service != kept.service for earlier in outcomes.get_outcome(conn, business_id)):
        found, _, _ = scorer.opportunities(businesses.get_business(conn, business_id))
        offer = next((item for item in found if item.service == kept.service and item.score is not None), None)
        kept = replace(kept, score=offer.exact if offer else None)
    outcomes.upsert_outcome(conn, business_id, kept)


def learn(conn: sqlite3.Connection) -> None:
    """Fit the odds to every outcome that can be learnt from."""
    trials = outcomes.trials(conn, ripe_before())
    outcomes.save_model(conn, fit(trials) if trials else None)
