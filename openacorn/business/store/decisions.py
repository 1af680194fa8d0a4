"""Doubtful pairs of listings, and what the user decided of pairs."""

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import orjson

Pair = tuple[int, int]

DROP_PAIRS = "DELETE FROM doubt WHERE {side} IN (SELECT value FROM json_each(?)){more}"
AMONG = " AND b IN (SELECT value FROM json_each(?))"
ADD_PAIR = "INSERT OR REPLACE INTO doubt (a, b, probability) VALUES (?, ?, ?)"
OPEN = """
SELECT max(doubt.probability) AS probability, doubt.a, doubt.b,
       min(one.business_id, two.business_id) AS first, max(one.business_id, two.business_id) AS second
FROM doubt JOIN listing AS one ON one.id = doubt.a JOIN listing AS two ON two.id = doubt.b
LEFT JOIN decision ON decision.a = doubt.a AND decision.b = doubt.b
JOIN business AS left_one ON left_one.id = one.business_id JOIN business AS right_one ON right_one.id = two.business_id
WHERE one.business_id != two.business_id AND decision.verdict IS NULL AND left_one.rejected = '' AND right_one.rejected = ''
GROUP BY first, second
"""
LIST_OPEN = OPEN + " ORDER BY 1 DESC, doubt.a, doubt.b LIMIT ?"
COUNT_OPEN = f"SELECT count(*) FROM ({OPEN})"
DECIDE = "INSERT OR REPLACE INTO decision (a, b, verdict, at) VALUES (?, ?, ?, ?)"
OF_LISTINGS = """
SELECT a, b, verdict FROM decision WHERE a IN (SELECT value FROM json_each(?1))
UNION SELECT a, b, verdict FROM decision WHERE b IN (SELECT value FROM json_each(?1))
"""
OF_BUSINESS = """
SELECT a, b, verdict, decision.at, one.business_id AS left_business, two.business_id AS right_business FROM decision
JOIN listing AS one ON one.id = a JOIN listing AS two ON two.id = b WHERE one.business_id = ?1 OR two.business_id = ?1
ORDER BY decision.at DESC
"""


@dataclass(frozen=True, slots=True)
class PossibleDuplicate:
    """Two businesses that may be one: the pair of listings that says so, and how likely it is."""

    probability: float
    a: int
    b: int
    first: int
    second: int


def replace_pairs(
    conn: sqlite3.Connection, fresh: Iterable[int], among: Iterable[int], pairs: Iterable[tuple[int, int, float]]
) -> None:
    """Replace what was doubtful about the listings `fresh`, and among the listings `among`."""
    new, ids = orjson.dumps(list(fresh)).decode(), orjson.dumps(list(among)).decode()
    for side in ("a", "b"):
        conn.execute(DROP_PAIRS.format(side=side, more=""), (new,))
    conn.execute(DROP_PAIRS.format(side="a", more=AMONG), (ids, ids))
    conn.executemany(ADD_PAIR, pairs)


def open_pairs(conn: sqlite3.Connection, limit: int) -> list[PossibleDuplicate]:
    """Pairs of businesses to ask about, the likeliest first, each once."""
    return [PossibleDuplicate(**dict(row)) for row in conn.execute(LIST_OPEN, (limit,))]


def count_open(conn: sqlite3.Connection) -> int:
    """How many pairs of businesses are to be asked about."""
    return int(conn.execute(COUNT_OPEN).fetchone()[0])


def _ordered(a: int, b: int) -> Pair:
    return (a, b) if a < b else (b, a)


def decide(conn: sqlite3.Connection, one: Sequence[int], other: Sequence[int], verdict: str, at: str) -> None:
    """Keep a verdict on every pair between two sets of listings: "one" business or "two"."""
    conn.executemany(DECIDE, ((*_ordered(a, b), verdict, at) for a in one for b in other if a != b))


def undecide(conn: sqlite3.Connection, one: Sequence[int], other: Sequence[int]) -> None:
    """Forget the verdicts between two sets of listings."""
    conn.executemany(
        "DELETE FROM decision WHERE a = ? AND b = ?", (_ordered(a, b) for a in one for b in other if a != b)
    )


def decisions_of(conn: sqlite3.Connection, listings: Iterable[int]) -> tuple[frozenset[Pair], frozenset[Pair]]:
    """(pairs to keep apart, pairs to keep together) that touch one of `listings`."""
    found = conn.execute(OF_LISTINGS, (orjson.dumps(list(listings)).decode(),)).fetchall()
    return (
        frozenset((int(a), int(b)) for a, b, verdict in found if verdict == "two"),
        frozenset((int(a), int(b)) for a, b, verdict in found if verdict == "one"),
    )


def decided_about(conn: sqlite3.Connection, business_id: int) -> list[dict[str, object]]:
    """What the user decided about a business's listings, newest first."""
    return [dict(row) for row in conn.execute(OF_BUSINESS, (business_id,))]
