"""Results of contacting businesses, and the win probability learnt from them."""

import sqlite3
from collections.abc import Iterable
from dataclasses import astuple, dataclass
from typing import Literal

from openacorn.core.score.winning import Odds, Trial, WinModel
from openacorn.db.changes import touch

PUT = """
INSERT INTO outcome (business_id, service, score, contacted_at, stage, amount, reason, channel) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
ON CONFLICT (business_id, service) DO UPDATE SET stage = excluded.stage, amount = excluded.amount, reason = excluded.reason
WHERE NOT (outcome.stage = 'won' AND excluded.stage = 'contacted')
"""
OF = """
SELECT service, score, contacted_at, stage, amount, reason, channel FROM outcome WHERE business_id = ? ORDER BY contacted_at
"""
TRIALS = """
SELECT service, score, stage = 'won' AS won, channel FROM outcome
WHERE score IS NOT NULL AND (stage != 'contacted' OR contacted_at <= ?)
"""


Stage = Literal["contacted", "won", "lost"]


@dataclass(frozen=True, slots=True)
class SalesOutcome:
    """One outcome. stage: contacted, won or lost; score: what it was at first contact, None where there was none to learn from;
    amount in the agency's currency; channel: by what the first contact was made, "" if that is not known."""

    service: str
    score: float | None
    contacted_at: str
    stage: Stage
    amount: float | None
    reason: str
    channel: str = ""


def upsert_outcome(conn: sqlite3.Connection, business_id: int, kept: SalesOutcome) -> None:
    """Record a result; the score, day and channel of the first contact stay. A sale is not undone by speaking with them again."""
    conn.execute(PUT, (business_id, *astuple(kept)))
    touch(conn, [business_id])


def restore_outcome(conn: sqlite3.Connection, business_id: int, before: Iterable[SalesOutcome]) -> None:
    """Set a business's outcomes back to what they were."""
    conn.execute("DELETE FROM outcome WHERE business_id = ?", (business_id,))
    for kept in before:
        upsert_outcome(conn, business_id, kept)


def get_outcome(conn: sqlite3.Connection, business_id: int) -> list[SalesOutcome]:
    """Everything that came of contacting a business, the oldest first."""
    return [SalesOutcome(**dict(row)) for row in conn.execute(OF, (business_id,))]


def trials(conn: sqlite3.Connection, ripe: str) -> list[Trial]:
    """What can be learnt from: closed, or contacted by the moment `ripe` (ISO 8601)."""
    rows = conn.execute(TRIALS, (ripe,))
    return [Trial(row["service"], row["score"], bool(row["won"]), row["channel"]) for row in rows]


def earned(conn: sqlite3.Connection) -> dict[str, float]:
    """Service → what was sold of it in all, in the agency's currency."""
    rows = conn.execute(
        "SELECT service, sum(amount) FROM outcome WHERE stage = 'won' AND amount IS NOT NULL GROUP BY service"
    )
    return {str(service): float(total) for service, total in rows}


def save_model(conn: sqlite3.Connection, learnt: WinModel | None) -> None:
    """Keep what was learnt in place of what was; None: nothing was."""
    conn.execute("DELETE FROM odds")
    conn.execute("DELETE FROM channel_odds")
    if learnt is not None:
        rows = ((service, odds.intercept, odds.slope) for service, odds in learnt.services.items())
        conn.executemany("INSERT INTO odds (service, intercept, slope) VALUES (?, ?, ?)", rows)
        conn.executemany("INSERT INTO channel_odds (channel, shift) VALUES (?, ?)", learnt.channels.items())


def channel_shifts(conn: sqlite3.Connection) -> dict[str, float]:
    """Channel → what it adds to the log odds, as last learnt."""
    return {row["channel"]: row["shift"] for row in conn.execute("SELECT channel, shift FROM channel_odds")}


def win_probability(conn: sqlite3.Connection) -> dict[str, Odds]:
    """Service → odds as last learnt; "" → those of any other; nothing before the first outcome."""
    rows = conn.execute("SELECT service, intercept, slope FROM odds")
    return {row["service"]: Odds(row["intercept"], row["slope"]) for row in rows}


def select_model(conn: sqlite3.Connection, *, learnt: bool) -> None:
    """Let values go by what was learnt, or by the prior."""
    conn.execute("INSERT OR REPLACE INTO odds_choice (one, learnt) VALUES (1, ?)", (int(learnt),))


def use_learnt_model(conn: sqlite3.Connection) -> bool:
    """Do values go by what was learnt? Not before the user has said so."""
    row = conn.execute("SELECT learnt FROM odds_choice").fetchone()
    return row is not None and bool(row["learnt"])
