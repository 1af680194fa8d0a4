"""Rules of who gets businesses, how much each has, and what is theirs today."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.business.store import shares
from openacorn.errors import NotFound

RULES = """
SELECT trade, territory_id, coalesce(territory.name, '') AS territory, people, coalesce(territory.areas, '[]') AS areas
FROM assignment_rule LEFT JOIN territory ON territory.id = territory_id ORDER BY place
"""
LOAD = """
SELECT owner, count(DISTINCT business_id) FROM member WHERE owner != '' AND stage NOT IN ('won', 'lost', 'parked') GROUP BY owner
"""
NOBODYS = """
SELECT business.id, trade, lat, lon FROM member JOIN business ON business.id = business_id
WHERE shortlist_id = ? AND owner = '' AND stage NOT IN ('won', 'lost') ORDER BY value DESC, business.id
"""
HOLDERS = """
SELECT business_id, min(owner) FROM member
WHERE owner != '' AND business_id IN (SELECT value FROM json_each(?)) GROUP BY business_id
"""
NEW = f"""
SELECT business.id, business.name, town, phone, offer, score, shortlist.id AS shortlist, shortlist.name AS list
FROM member JOIN business ON business.id = business_id JOIN shortlist ON shortlist.id = shortlist_id
WHERE owner = :name AND stage = 'picked' AND follow_up = '' AND relationship = '' AND rejected = '' AND {shares.seen("shortlist")}
GROUP BY business.id ORDER BY value DESC, business.id LIMIT :most
"""
ANSWERS = """
SELECT incoming.id, incoming.at, incoming.name, incoming.subject, business.id AS business_id, business.name AS business
FROM incoming JOIN business ON business.id = incoming.business_id
WHERE done = 0 AND kind IN ('reply', 'refusal') AND EXISTS (SELECT 1 FROM member WHERE business_id = business.id AND owner = :name)
ORDER BY incoming.at LIMIT :most
"""
PAGE_REPLIES = """
SELECT reply.id, reply.at, reply.name, '' AS subject, business.id AS business_id, business.name AS business
FROM reply JOIN owner_page ON owner_page.id = page_id JOIN business ON business.id = owner_page.business_id
WHERE done = 0 AND suspect = '' AND EXISTS (SELECT 1 FROM member WHERE business_id = business.id AND owner = :name)
ORDER BY reply.at LIMIT :most
"""


@dataclass(frozen=True, slots=True)
class StoredRule:
    """One rule as it is kept. trade: "" for any; territory_id None: anywhere; areas: the territory's."""

    trade: str
    territory_id: int | None
    territory: str
    people: tuple[str, ...]
    areas: tuple[dict[str, Any], ...] = ()


@dataclass(frozen=True, slots=True)
class NewForYou:
    """A business that somebody has and has not begun with."""

    id: int
    name: str
    town: str
    phone: str
    offer: str
    score: int | None
    shortlist: int
    list: str


@dataclass(frozen=True, slots=True)
class AnswerForYou:
    """What somebody's business wrote and nobody has answered."""

    id: int
    at: str
    name: str
    subject: str
    business_id: int
    business: str


def list_rules(conn: sqlite3.Connection) -> list[StoredRule]:
    """The rules in their order."""
    return [
        StoredRule(
            row["trade"], row["territory_id"], row["territory"], tuple(orjson.loads(row["people"])),
            tuple(orjson.loads(row["areas"])),
        )
        for row in conn.execute(RULES)
    ]  # fmt: skip


def replace_rules(conn: sqlite3.Connection, rules: Sequence[StoredRule]) -> None:
    """Replace the rules by these. Raises NotFound for an unknown territory."""
    conn.execute("DELETE FROM assignment_rule")
    for rule in rules:
        if rule.territory_id is not None and not shares.may_see(conn, "territory", rule.territory_id):
            raise NotFound(f"there is no territory {rule.territory_id}")
    rows = ((rule.trade, rule.territory_id, orjson.dumps(rule.people).decode()) for rule in rules)
    conn.executemany("INSERT INTO assignment_rule (trade, territory_id, people) VALUES (?, ?, ?)", rows)


def open_by_person(conn: sqlite3.Connection) -> dict[str, int]:
    """Person → businesses they have that are neither won, lost nor parked."""
    return {str(name): int(count) for name, count in conn.execute(LOAD)}


def nobodys(conn: sqlite3.Connection, shortlist_id: int) -> list[tuple[int, str, float | None, float | None]]:
    """(business, trade, latitude, longitude) of members that nobody has, the most valuable first."""
    return [tuple(row) for row in conn.execute(NOBODYS, (shortlist_id,))]


def holders(conn: sqlite3.Connection, ids: Sequence[int]) -> dict[int, str]:
    """Business → who has it, on whatever list."""
    rows = conn.execute(HOLDERS, (orjson.dumps(list(ids)).decode(),))
    return {int(business): str(owner) for business, owner in rows}


def new_for(conn: sqlite3.Connection, name: str, most: int) -> list[NewForYou]:
    """What somebody has and has not begun with, the most valuable first."""
    return [NewForYou(**dict(row)) for row in conn.execute(NEW, {"name": name, "most": most, **shares.reader()})]


def answers_for(conn: sqlite3.Connection, name: str, most: int, *, on_pages: bool) -> list[AnswerForYou]:
    """What somebody's businesses wrote, by e-mail or on their pages, the oldest first."""
    query = PAGE_REPLIES if on_pages else ANSWERS
    return [AnswerForYou(**dict(row)) for row in conn.execute(query, {"name": name, "most": most})]
