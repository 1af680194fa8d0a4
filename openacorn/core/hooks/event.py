"""Events, and when a delivery that failed is tried again."""

TEST = "test"
EVENTS: dict[str, str] = {
    "run.finished": "A sweep or an audit has ended",
    "businesses.new": "A sweep found businesses that the one before had not",
    "businesses.changed": "A sweep found businesses changed",
    "businesses.gone": "Businesses are gone",
    "reply.received": "An owner answered",
    "message.bounced": "A message could not be delivered",
    "stage.changed": "A business moved to another stage",
    "proposal.accepted": "An owner accepted a proposal",
    "business.won": "A business was won",
    "business.lost": "A business was lost",
    "business.refused": "A business asked not to be contacted",
}
"""Type of event → what it means."""

AT_ONCE = 100
"""Businesses that one event names: a first sweep finds thousands."""

RESTS_S = (5, 300, 1800, 7200, 18_000, 36_000, 50_400, 72_000, 86_400)
"""Seconds after the first, second … failed attempt, about three days together (Standard Webhooks 1.0.0, "Retries")."""


def rest_after(attempts: int) -> int | None:
    """Seconds until a delivery is tried again, after so many failed attempts; None: it is given up."""
    return RESTS_S[attempts - 1] if attempts <= len(RESTS_S) else None
