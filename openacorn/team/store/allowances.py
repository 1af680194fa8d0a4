"""What each person may do at most, and what they have done."""

import sqlite3
from collections.abc import Mapping

from openacorn.core.team.allowance import Allowance

SPENT = "SELECT coalesce(sum(requests), 0), coalesce(sum(cost), 0) FROM run WHERE account_id = ? AND started_at >= ?"
CONTACTS = """
SELECT count(*) FROM step WHERE by = (SELECT name FROM account WHERE id = ?) AND at >= ? AND kind IN ('attempt', 'talk', 'mail')
"""
EXPORTS = "SELECT count(*) FROM taken_out WHERE account_id = ? AND at >= ?"
BY_SOURCE = """
SELECT source, sum(lane_spend.requests) AS requests, sum(lane_spend.cost) AS cost FROM lane_spend JOIN run ON run.id = run_id
WHERE started_at >= ? GROUP BY source ORDER BY cost DESC, requests DESC
"""
BY_RUN = """
SELECT run.id, sweep.name AS sweep, started_at, run.requests, run.cost, coalesce(account.name, '') AS person
FROM run JOIN sweep ON sweep.id = sweep_id LEFT JOIN account ON account.id = run.account_id
WHERE started_at >= ? AND run.requests > 0 ORDER BY run.cost DESC, run.requests DESC, run.id DESC LIMIT ?
"""
WON = "SELECT count(DISTINCT business_id), coalesce(sum(amount), 0) FROM outcome WHERE stage = 'won' AND contacted_at >= ?"


def get_limits(conn: sqlite3.Connection, account: int) -> dict[Allowance, float]:
    """What somebody may do at most."""
    rows = conn.execute("SELECT what, most FROM allowance WHERE account_id = ?", (account,))
    return {Allowance(what): float(most) for what, most in rows if what in list(Allowance)}


def set_limits(conn: sqlite3.Connection, account: int, limits: Mapping[Allowance, float]) -> None:
    """Set what somebody may do at most; what is not named is without a limit."""
    conn.execute("DELETE FROM allowance WHERE account_id = ?", (account,))
    rows = ((account, what, most) for what, most in limits.items())
    conn.executemany("INSERT INTO allowance (account_id, what, most) VALUES (?, ?, ?)", rows)


def used(conn: sqlite3.Connection, account: int, month: str, midnight: str) -> dict[Allowance, float]:
    """What somebody has used. month, midnight: when the month and the day began (ISO 8601, UTC)."""
    requests, cost = conn.execute(SPENT, (account, month)).fetchone()
    return {
        Allowance.REQUESTS: float(requests),
        Allowance.COST: float(cost),
        Allowance.CONTACTS: float(conn.execute(CONTACTS, (account, midnight)).fetchone()[0]),
        Allowance.EXPORTS: float(conn.execute(EXPORTS, (account, month)).fetchone()[0]),
    }


def note_taken_out(conn: sqlite3.Connection, account: int, what: str, at: str) -> None:
    """Note that somebody took a file out."""
    conn.execute("INSERT INTO taken_out (at, account_id, what) VALUES (?, ?, ?)", (at, account, what))


def spent_by_source(conn: sqlite3.Connection, month: str) -> list[tuple[str, int, float]]:
    """(source, requests, cost) since a moment, the dearest first."""
    return [(str(row[0]), int(row[1]), float(row[2])) for row in conn.execute(BY_SOURCE, (month,))]


def spent_by_run(conn: sqlite3.Connection, month: str, most: int) -> list[sqlite3.Row]:
    """The dearest runs since a moment: id, sweep, started_at, requests, cost, person."""
    return conn.execute(BY_RUN, (month, most)).fetchall()


def won_since(conn: sqlite3.Connection, month: str) -> tuple[int, float]:
    """(businesses won that the agency first contacted since a moment, for how much in all)."""
    businesses, amount = conn.execute(WON, (month,)).fetchone()
    return int(businesses), float(amount)
