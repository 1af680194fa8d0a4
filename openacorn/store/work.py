"""Work on shortlists: where each business stands there, who has it, when to come back, and what was done, by whom."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from openacorn.store.changes import touch
from openacorn.store.sweeps import NotFound

Stage = Literal["picked", "contacted", "talking", "proposed", "won", "lost", "parked"]
STAGES: tuple[str, ...] = get_args(Stage)
"""Stages of a business on a list, in the order of the work; off every list it is new."""

MEMBERS = """
SELECT business.id, name, town, trade, phone, offer, score, value, standing, member.stage, owner, follow_up, added_at,
  coalesce(step.at, '') AS last_at, coalesce(step.by, '') AS last_by, coalesce(step.text, '') AS last_text
FROM member JOIN business ON business.id = member.business_id
LEFT JOIN step ON step.id = (SELECT max(id) FROM step WHERE step.business_id = business.id)
WHERE shortlist_id = ? ORDER BY value DESC, business.id LIMIT ?
"""
COUNT = "SELECT stage, count(*) AS members FROM member WHERE shortlist_id = ? GROUP BY stage"
NOW = "SELECT stage, owner, follow_up FROM member WHERE shortlist_id = ? AND business_id = ?"
SET = "UPDATE member SET stage = ?, owner = ?, follow_up = ? WHERE shortlist_id = ? AND business_id = ?"
ADD_STEP = "INSERT INTO step (business_id, at, by, text) VALUES (?, ?, ?, ?)"
STEPS = "SELECT id, at, by, text FROM step WHERE business_id = ? ORDER BY id DESC"


@dataclass(frozen=True, slots=True)
class Member:
    """A business on a list. follow_up: a day (ISO 8601), "" for none; last_*: the last thing done about it on any list, "" before
    the first."""

    id: int
    name: str
    town: str
    trade: str
    phone: str
    offer: str
    score: int | None
    value: float | None
    standing: str
    stage: str
    owner: str
    follow_up: str
    added_at: str
    last_at: str
    last_by: str
    last_text: str


@dataclass(frozen=True, slots=True)
class Step:
    """Something done about a business: when (ISO 8601), by whom, what."""

    id: int
    at: str
    by: str
    text: str


@dataclass(frozen=True, slots=True)
class Move:
    """What is to change of members; None leaves it as it is."""

    stage: str | None = None
    owner: str | None = None
    follow_up: str | None = None


def members(conn: sqlite3.Connection, shortlist_id: int, most: int) -> tuple[list[Member], dict[str, int]]:
    """(the `most` most valuable members of a list, stage → how many there are in all)."""
    rows = conn.execute(MEMBERS, (shortlist_id, most))
    found = [Member(**dict(row)) for row in rows]
    return found, {row["stage"]: row["members"] for row in conn.execute(COUNT, (shortlist_id,))}


def _words(before: sqlite3.Row, after: tuple[str, str, str]) -> str:
    said = []
    if before["stage"] != after[0]:
        said.append(f"{before['stage']} → {after[0]}")
    if before["owner"] != after[1]:
        said.append(f"now with {after[1]}" if after[1] else "with nobody")
    if before["follow_up"] != after[2]:
        said.append(f"to follow up on {after[2]}" if after[2] else "nothing to follow up")
    return ", ".join(said)


def move(conn: sqlite3.Connection, shortlist_id: int, ids: Sequence[int], what: Move, by: str, at: str) -> int:
    """Change members and note it in their history; return how many changed. Raises NotFound for who is not on the list."""
    changed = []
    for business in ids:
        before = conn.execute(NOW, (shortlist_id, business)).fetchone()
        if before is None:
            raise NotFound(f"business {business} is not on shortlist {shortlist_id}")
        after = tuple(
            before[name] if wanted is None else wanted
            for name, wanted in (("stage", what.stage), ("owner", what.owner), ("follow_up", what.follow_up))
        )
        if text := _words(before, (after[0], after[1], after[2])):
            conn.execute(SET, (*after, shortlist_id, business))
            conn.execute(ADD_STEP, (business, at, by, text))
            changed.append(business)
    if changed:
        touch(conn, changed)
    return len(changed)


def add_step(conn: sqlite3.Connection, business_id: int, by: str, text: str, at: str) -> None:
    """Note something done about a business."""
    conn.execute(ADD_STEP, (business_id, at, by, text))


def steps(conn: sqlite3.Connection, business_id: int) -> list[Step]:
    """Everything done about a business, the latest first."""
    return [Step(**dict(row)) for row in conn.execute(STEPS, (business_id,))]
