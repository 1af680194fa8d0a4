"""When sweeps run by themselves, and what the user is notified of."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Schedule:
    """every: once, daily, weekly or monthly; at: the first time (ISO 8601), whose clock time and day the later ones keep.

    done_to: its times up to this moment (ISO 8601) are accounted for, "" if nothing was noted yet.
    """

    sweep_id: int
    every: str
    at: str
    webhook: str
    email: str
    done_to: str = ""


@dataclass(frozen=True, slots=True)
class Notice:
    """Something that happened while nobody looked."""

    id: int
    at: str
    text: str
    run_id: int | None
    trouble: bool
    seen: bool


def upsert_schedule(conn: sqlite3.Connection, item: Schedule) -> None:
    """Set a sweep's schedule, replacing the one it had."""
    conn.execute(
        "INSERT OR REPLACE INTO schedule (sweep_id, every, at, webhook, email, done_to) VALUES (?, ?, ?, ?, ?, ?)",
        (item.sweep_id, item.every, item.at, item.webhook, item.email, item.done_to),
    )


def note_done(conn: sqlite3.Connection, sweep_id: int, moment: str) -> None:
    """Note that a schedule's times up to `moment` (ISO 8601) are accounted for."""
    conn.execute("UPDATE schedule SET done_to = ? WHERE sweep_id = ?", (moment, sweep_id))


def delete_schedule(conn: sqlite3.Connection, sweep_id: int) -> None:
    """A sweep runs only when started."""
    conn.execute("DELETE FROM schedule WHERE sweep_id = ?", (sweep_id,))


def list_schedules(conn: sqlite3.Connection) -> list[Schedule]:
    """Every schedule."""
    found = conn.execute("SELECT sweep_id, every, at, webhook, email, done_to FROM schedule ORDER BY sweep_id")
    return [Schedule(**dict(row)) for row in found]


def schedule_of(conn: sqlite3.Connection, sweep_id: int) -> Schedule | None:
    """One sweep's schedule."""
    return next((item for item in list_schedules(conn) if item.sweep_id == sweep_id), None)


def add_notice(conn: sqlite3.Connection, at: str, text: str, run_id: int | None, *, trouble: bool) -> None:
    """Tell the user something."""
    conn.execute("INSERT INTO notice (at, text, run_id, trouble) VALUES (?, ?, ?, ?)", (at, text, run_id, int(trouble)))


def unseen_notices(conn: sqlite3.Connection) -> list[Notice]:
    """What the user has not put away yet, newest first."""
    found = conn.execute(
        "SELECT id, at, text, run_id, trouble, seen FROM notice WHERE seen = 0 ORDER BY id DESC LIMIT 50"
    )
    return [
        Notice(row["id"], row["at"], row["text"], row["run_id"], bool(row["trouble"]), bool(row["seen"]))
        for row in found
    ]


def dismiss_notice(conn: sqlite3.Connection) -> None:
    """The user has seen all notices."""
    conn.execute("UPDATE notice SET seen = 1 WHERE seen = 0")
