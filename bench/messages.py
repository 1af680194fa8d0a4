"""`./acorn bench messages`: the queue's screen over 10,000 messages, and whether a month of the plan keeps each limit."""

import statistics
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from openacorn.core.outreach.message_template import Sentence
from openacorn.core.outreach.working_hours import zone_of
from openacorn.db.database import Database
from openacorn.outreach import queue
from openacorn.outreach.planning import planned
from openacorn.outreach.store import mailboxes, messages
from openacorn.outreach.store.mailboxes import Mailbox
from openacorn.settings import Settings

QUEUED, BOXES, A_DAY = 10_000, 5, 60
ZONES = ("Australia/Sydney", "Europe/Berlin", "America/New_York")
NOW = datetime(2026, 11, 30, 1, tzinfo=UTC)
ROUNDS = 40


def _fill(database: Database) -> None:
    at = NOW.isoformat()
    with database.write() as conn:
        conn.executemany(
            "INSERT INTO business (id, name, trade, changed) VALUES (?, ?, 'vets', 1)",
            ((number, f"Business {number}") for number in range(1, QUEUED + 1)),
        )
        for number in range(1, QUEUED + 1):
            messages.insert_message(conn, {
                "business_id": number, "kind": "email", "address": f"info@d{number % 3000}.example", "subject": "Hello",
                "text": "A text of some length. " * 20, "because": [Sentence("A text of some length.")], "state": "waiting",
                "zone": ZONES[number % len(ZONES)], "due_at": at, "made_at": at,
            })  # fmt: skip
        mailboxes.put_rules(conn, replace(mailboxes.get_rules(conn), post_address="4 Harbour Road, Port Ellery"))
        for number in range(BOXES):
            mailboxes.save_mailbox(
                conn, Mailbox(0, f"box{number}@agency.example", "Ada", "smtp.example", 465, daily_limit=A_DAY), at
            )


def _timed(work: Callable[[], object], rounds: int = ROUNDS) -> dict[str, float]:
    took = []
    for _ in range(rounds):
        begun = time.perf_counter()
        work()
        took.append((time.perf_counter() - begun) * 1000)
    took.sort()
    return {"median_ms": statistics.median(took), "p95_ms": took[int(len(took) * 0.95) - 1]}


def bench_messages() -> tuple[dict[str, Any], str]:
    """Times of the queue's pages, and the plan's days beside their limits."""
    settings = Settings(time_zone=ZONES[0])
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "acorn.db")
        _fill(database)
        warm = queue.PlanCache()
        with database.read() as conn:
            figures: dict[str, Any] = {
                "first page, nothing planned yet": _timed(
                    lambda: queue.waiting_lines(conn, settings, queue.PlanCache(), NOW, 0, 100)
                ),
                "first page": _timed(lambda: queue.waiting_lines(conn, settings, warm, NOW, 0, 100)),
                "page 90": _timed(lambda: queue.waiting_lines(conn, settings, warm, NOW, 9000, 100)),
                "what goes now": _timed(lambda: planned(conn, settings, NOW, NOW)),
                "plan of all": _timed(lambda: planned(conn, settings, NOW, NOW + queue.HORIZON), 5),
            }
            plan = planned(conn, settings, NOW, NOW + queue.HORIZON)
        database.close()
    days = Counter((item.box, item.at.astimezone(zone_of(ZONES[0])).date()) for item in plan)
    full = [count for (_, day), count in days.items() if day.weekday() < 5]
    figures["planned"] = len(plan)
    figures["most a mailbox and day"], figures["limit"] = max(days.values()), A_DAY
    lines = [f"{QUEUED:,} messages, {BOXES} mailboxes of {A_DAY} a day"]
    lines += [
        f"{name:34}{row['median_ms']:8.1f} ms  p95 {row['p95_ms']:8.1f}"
        for name, row in figures.items()
        if isinstance(row, dict)
    ]
    worked = f"most {max(days.values())}, median {statistics.median(full):.0f}, limit {A_DAY}"
    lines.append(f"planned {len(plan):,}; messages a mailbox and working day: {worked}")
    return figures, "\n".join(lines)
