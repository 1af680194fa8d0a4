"""Work on shortlists: where each business stands there, who has it, when to come back, and who did what."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from openacorn.business.store import shares
from openacorn.db.changes import touch
from openacorn.errors import NotFound

Stage = Literal["picked", "contacted", "talking", "proposed", "won", "lost", "parked"]
STAGES: tuple[str, ...] = get_args(Stage)
"""Stages of a business on a list, in the order of the work; off every list it is new."""

REACHED = frozenset({"contacted", "talking", "proposed", "won", "lost"})
"""Stages of a business that was spoken or written to."""

MEMBERS = """
SELECT business.id, name, town, trade, phone, offer, score, value, relationship, member.stage, owner, follow_up, added_at,
  coalesce(step.at, '') AS last_at, coalesce(step.by, '') AS last_by, coalesce(step.text, '') AS last_text
FROM member JOIN business ON business.id = member.business_id
LEFT JOIN step ON step.id = (
  SELECT id FROM step WHERE step.business_id = business.id ORDER BY at DESC, id DESC LIMIT 1
)
WHERE shortlist_id = ? ORDER BY value DESC, business.id LIMIT ?
"""
COUNT = "SELECT stage, count(*) AS members FROM member WHERE shortlist_id = ? GROUP BY stage"
NOW = "SELECT stage, owner, follow_up FROM member WHERE shortlist_id = ? AND business_id = ?"
SET = "UPDATE member SET stage = ?, owner = ?, follow_up = ? WHERE shortlist_id = ? AND business_id = ?"
ADD_STEP = "INSERT INTO step (business_id, at, by, text, kind) VALUES (?, ?, ?, ?, ?) RETURNING id"
STEPS = "SELECT id, at, by, text, kind FROM step WHERE business_id = ? ORDER BY at DESC, id DESC"
DROP_NOTE = "DELETE FROM step WHERE id = ? AND business_id = ? AND kind = 'note'"
LAST_SPOKEN = """
SELECT id, at, by, text, kind FROM step WHERE business_id = ? AND kind IN ('talk', 'mail') ORDER BY at DESC, id DESC LIMIT 1
"""
TO_CALL = f"""
SELECT business.id, business.name, town, phone, member.stage, owner, follow_up, coalesce(audited_at, '') AS looked_at,
  (SELECT count(*) FROM step WHERE business_id = business.id AND kind = 'attempt' AND at >= :midnight) AS tried_today
FROM member JOIN business ON business.id = member.business_id
JOIN shortlist ON shortlist.id = shortlist_id
WHERE {shares.seen("shortlist")} AND (:owner = '' OR owner = :owner)
  AND (shortlist_id = :list OR (:list = 0 AND follow_up != '')) AND relationship NOT IN ('refused', 'client')
  AND ((stage = 'picked' AND follow_up <= :today AND relationship = '')
    OR (stage IN ('contacted', 'talking', 'proposed') AND follow_up != '' AND follow_up <= :today))
GROUP BY business.id ORDER BY tried_today, follow_up = '', follow_up, value DESC, business.id
"""

PLACE = """
UPDATE member SET follow_up = coalesce(:day, follow_up),
  stage = CASE WHEN :stage = '' OR (:stage = 'contacted' AND stage IN ('talking', 'proposed', 'won')) THEN stage ELSE :stage END
WHERE business_id = :id
"""

StepKind = Literal["note", "move", "attempt", "talk", "mail", "page", "reply"]
"""A note; a change on a board; a call nobody took; spoken with; written to; an owner's page shared; the owner wrote."""


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
    relationship: str
    stage: str
    owner: str
    follow_up: str
    added_at: str
    last_at: str
    last_by: str
    last_text: str


@dataclass(frozen=True, slots=True)
class Activity:
    """Something done about a business: when (ISO 8601), who, what."""

    id: int
    at: str
    by: str
    text: str
    kind: StepKind


@dataclass(frozen=True, slots=True)
class Call:
    """Somebody to be called. looked_at: when their site was, "" if never; tried_today: calls that nobody took
    since midnight."""

    id: int
    name: str
    town: str
    phone: str
    stage: str
    owner: str
    follow_up: str
    looked_at: str
    tried_today: int


@dataclass(frozen=True, slots=True)
class Move:
    """What is to change of members; None leaves it as it is."""

    stage: str | None = None
    owner: str | None = None
    follow_up: str | None = None


def list_members(conn: sqlite3.Connection, shortlist_id: int, most: int) -> tuple[list[Member], dict[str, int]]:
    """(the `most` most valuable members of a list, stage → how many there are in all)."""
    rows = conn.execute(MEMBERS, (shortlist_id, most))
    found = [Member(**dict(row)) for row in rows]
    return found, {row["stage"]: row["members"] for row in conn.execute(COUNT, (shortlist_id,))}


def _words(before: sqlite3.Row, after: tuple[str, str, str]) -> str:
    answer = []
    if before["stage"] != after[0]:
        answer.append(f"{before['stage']} → {after[0]}")
    if before["owner"] != after[1]:
        answer.append(f"now with {after[1]}" if after[1] else "with nobody")
    if before["follow_up"] != after[2]:
        answer.append(f"to follow up on {after[2]}" if after[2] else "nothing to follow up")
    return ", ".join(answer)


def move_members(conn: sqlite3.Connection, shortlist_id: int, ids: Sequence[int], what: Move, by: str, at: str) -> int:
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
            spoken = before["stage"] != after[0] and after[0] in REACHED
            conn.execute(ADD_STEP, (business, at, by, text, "talk" if spoken else "move"))
            changed.append(business)
    if changed:
        touch(conn, changed)
    return len(changed)


def add_activity(
    conn: sqlite3.Connection, business_id: int, by: str, text: str, at: str, kind: StepKind = "note"
) -> int:
    """Note something done about a business; return the step's id."""
    touch(conn, [business_id])
    return int(conn.execute(ADD_STEP, (business_id, at, by, text, kind)).fetchone()[0])


def delete_note(conn: sqlite3.Connection, business_id: int, step_id: int) -> None:
    """Forget a note; what was done cannot be forgotten. Raises NotFound."""
    if conn.execute(DROP_NOTE, (step_id, business_id)).rowcount == 0:
        raise NotFound(f"business {business_id} has no note {step_id}")


def delete_activities(conn: sqlite3.Connection, ids: Sequence[int]) -> None:
    """Take steps back that an undone action had written."""
    conn.executemany("DELETE FROM step WHERE id = ?", ((step,) for step in ids))


def list_activities(conn: sqlite3.Connection, business_id: int) -> list[Activity]:
    """Everything done about a business, the latest first."""
    return [Activity(**dict(row)) for row in conn.execute(STEPS, (business_id,))]


def last_spoken(conn: sqlite3.Connection, business_id: int) -> Activity | None:
    """When somebody there was last spoken or written to, on whatever list."""
    row = conn.execute(LAST_SPOKEN, (business_id,)).fetchone()
    return None if row is None else Activity(**dict(row))


def list_calls(conn: sqlite3.Connection, shortlist_id: int, today: str, midnight: str, owner: str = "") -> list[Call]:
    """Businesses to call now: what is due first, then the picked, the most valuable first, those tried in vain today last.

    Nobody who refused, is a client, or is in conversation from another list. shortlist_id 0: everybody who is
    due on any list; today: the user's day, midnight: when it began (ISO 8601, UTC); owner: of one person's alone.
    """
    asked = {"list": shortlist_id, "today": today, "midnight": midnight, "owner": owner, **shares.reader()}
    return [Call(**dict(row)) for row in conn.execute(TO_CALL, asked)]


def memberships(conn: sqlite3.Connection, business_id: int) -> list[tuple[int, str, str]]:
    """(shortlist, stage, follow-up day) of every list that a business is on."""
    rows = conn.execute("SELECT shortlist_id, stage, follow_up FROM member WHERE business_id = ?", (business_id,))
    return [(int(row[0]), str(row[1]), str(row[2])) for row in rows]


def update_all_lists(conn: sqlite3.Connection, business_id: int, stage: str, follow_up: str | None) -> None:
    """Put a business at a stage ("": as it is) with a day to come back to it (None: as it is), on every list that it is on.

    A business in conversation is contacted already: that stage takes nobody back.
    """
    conn.execute(PLACE, {"stage": stage, "day": follow_up, "id": business_id})
    touch(conn, [business_id])


def restore_memberships(conn: sqlite3.Connection, business_id: int, before: Sequence[tuple[int, str, str]]) -> None:
    """Put a business back where it was on its lists."""
    query = "UPDATE member SET stage = ?, follow_up = ? WHERE shortlist_id = ? AND business_id = ?"
    conn.executemany(query, ((stage, day, shortlist, business_id) for shortlist, stage, day in before))
    touch(conn, [business_id])
