"""Reading plans of directories."""

import sqlite3
from dataclasses import dataclass

from openacorn.core.reading import ReadingPlan, dump, load
from openacorn.store.shortlists import NameTaken
from openacorn.store.sweeps import NotFound


@dataclass(frozen=True, slots=True)
class KeptPlan:
    """A reading plan with its id; a sweep names it "directory:<id>"."""

    id: int
    title: str
    plan: ReadingPlan
    made_at: str


def _kept(row: sqlite3.Row) -> KeptPlan:
    return KeptPlan(row["id"], row["title"], load(row["body"]), row["made_at"])


def list_plans(conn: sqlite3.Connection) -> list[KeptPlan]:
    """All reading plans, oldest first."""
    return [_kept(row) for row in conn.execute("SELECT id, title, body, made_at FROM reading_plan ORDER BY id")]


def get_plan(conn: sqlite3.Connection, plan_id: int) -> KeptPlan:
    """One reading plan. Raises NotFound."""
    row = conn.execute("SELECT id, title, body, made_at FROM reading_plan WHERE id = ?", (plan_id,)).fetchone()
    if row is None:
        raise NotFound(f"there is no reading plan {plan_id}")
    return _kept(row)


def add_plan(conn: sqlite3.Connection, plan: ReadingPlan, at: str) -> int:
    """Keep a plan; return its id. Raises NameTaken."""
    try:
        row = conn.execute(
            "INSERT INTO reading_plan (title, body, made_at) VALUES (?, ?, ?) RETURNING id",
            (plan.title, dump(plan), at),
        ).fetchone()
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a reading plan called {plan.title!r} already; choose another name") from None
    return int(row[0])


def change_plan(conn: sqlite3.Connection, plan_id: int, plan: ReadingPlan) -> None:
    """Replace a plan. Raises NotFound or NameTaken."""
    get_plan(conn, plan_id)
    try:
        conn.execute("UPDATE reading_plan SET title = ?, body = ? WHERE id = ?", (plan.title, dump(plan), plan_id))
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a reading plan called {plan.title!r} already; choose another name") from None
