"""Schedules: the times they give, a run that begins by itself, and word of its end over real sockets."""

import http.server
import json
import threading
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any, ClassVar

import pytest
from aiosmtpd.controller import Controller

from openacorn.db.database import Database
from openacorn.runs.scheduling import ScheduleError, is_missed, next_times
from openacorn.runs.store import schedules
from openacorn.runs.store.schedules import Schedule
from openacorn.settings import MailSettings
from openacorn.sim.serve import free_ports
from tests.application import application
from tests.conftest import Coast, circle

TIMES = [
    ("once", "2999-03-31T07:30:00+11:00", ["2999-03-31T07:30:00+11:00"]),
    ("daily", "2999-12-31T07:30:00+00:00", ["2999-12-31T07:30:00+00:00", "3000-01-01T07:30:00+00:00"]),
    ("weekly", "2999-03-31T07:30:00+00:00", ["2999-03-31T07:30:00+00:00", "2999-04-07T07:30:00+00:00"]),
    (
        "monthly",
        "2999-01-31T07:30:00+00:00",
        ["2999-02-28T07:30:00+00:00", "2999-03-28T07:30:00+00:00"],
    ),  # a day every month has
]


@pytest.mark.parametrize(("every", "at", "expected"), TIMES, ids=[case[0] for case in TIMES])
def test_the_next_times(every: str, at: str, expected: list[str]) -> None:
    assert next_times(Schedule(1, every, at, "", ""), 2) == expected


def test_a_time_that_is_none_or_over() -> None:
    with pytest.raises(ScheduleError, match="no date and time"):
        next_times(Schedule(1, "daily", "tomorrow", "", ""), 1)
    assert next_times(Schedule(1, "once", "2001-01-01T00:00:00+00:00", "", ""), 1) == []


def test_a_year_that_is_out_of_range_is_refused() -> None:
    for year in ("0001", "9999", "1969"):
        with pytest.raises(ScheduleError, match="choose one from 1970 to 2999"):
            next_times(Schedule(1, "weekly", f"{year}-12-31T23:59", "", ""), 1)


NOON = datetime(2026, 11, 10, 12, tzinfo=UTC)
MISSED = [
    ("daily, the minute before it came back", "daily", "2026-01-01T11:59:00+00:00", "2026-11-09T12:00:00+00:00", True),
    ("daily, done already", "daily", "2026-01-01T11:59:00+00:00", "2026-11-10T11:59:00.5+00:00", False),
    (
        "daily, of three days only the last day's",
        "daily",
        "2026-01-01T13:00:00+00:00",
        "2026-11-07T12:00:00+00:00",
        True,
    ),
    ("weekly, two days ago", "weekly", "2026-11-08T11:00:00+00:00", "2026-11-02T12:00:00+00:00", False),
    ("monthly, this morning", "monthly", "2026-01-10T09:00:00+00:00", "2026-11-01T12:00:00+00:00", True),
    ("once, this morning", "once", "2026-11-10T09:00:00+00:00", "2026-11-01T12:00:00+00:00", True),
    ("once, done this morning", "once", "2026-11-10T09:00:00+00:00", "2026-11-10T09:00:00.1+00:00", False),
    ("once, long ago", "once", "2026-11-08T09:00:00+00:00", "2026-11-01T12:00:00+00:00", False),
    ("once, to come", "once", "2026-11-11T09:00:00+00:00", "2026-11-01T12:00:00+00:00", False),
    ("kept by an earlier version", "daily", "2026-01-01T11:59:00+00:00", "", False),
]


@pytest.mark.parametrize(
    ("every", "at", "done_to", "missed"), [case[1:] for case in MISSED], ids=[case[0] for case in MISSED]
)
def test_a_time_that_passed_while_the_application_was_off_is_made_up_for_once(
    every: str, at: str, done_to: str, missed: bool
) -> None:
    assert is_missed(Schedule(1, every, at, "", "", done_to), NOON) == missed


class Hook(http.server.BaseHTTPRequestHandler):
    received: ClassVar[list[Any]] = []

    def do_POST(self) -> None:
        Hook.received.append(json.loads(self.rfile.read(int(self.headers["Content-Length"]))))
        self.send_response(204)
        self.end_headers()

    def log_message(self, format: str, *args: Any) -> None:
        """Keep quiet."""


class Mailbox:
    def __init__(self) -> None:
        self.received: list[tuple[list[str], str]] = []

    async def handle_DATA(self, _server: Any, _session: Any, envelope: Any) -> str:
        self.received.append((envelope.rcpt_tos, envelope.content.decode()))
        return "250 OK"


@pytest.fixture
def hook() -> Iterator[str]:
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Hook)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_port}/done"
    server.shutdown()
    server.server_close()
    thread.join()


@pytest.mark.world
def test_a_sweep_runs_by_itself_and_tells_how_it_ended(coast: Coast, tmp_path: Path, hook: str) -> None:
    box = Mailbox()
    post = Controller(box, hostname="127.0.0.1", port=free_ports(1)[0])
    post.start()
    settings = coast.settings.model_copy(
        update={
            "trusted_hosts": ["127.0.0.1"],
            "mail": MailSettings(host="127.0.0.1", port=post.port, sender="acorn@wrenfold.example"),
        }
    )
    try:
        with application(tmp_path, settings, coast.read("places.json")) as app:
            plan = {"trades": ["boatyards"], "areas": [circle(-37.21, 160.115, 3000, "Thistle Head")]}
            first = app.wait_for_run(app.post("/api/sweeps", {"name": "Boats", "plan": plan})["run_id"])
            at = (datetime.now(UTC) + timedelta(seconds=2)).isoformat()
            result = app.put(
                f"/api/sweeps/{first['sweep_id']}/schedule",
                {"every": "once", "at": at, "webhook": hook, "email": "jem@wrenfold.example"},
            )
            assert result["next"] == [at]
            for _ in range(100):
                if Hook.received and box.received:
                    break
                time.sleep(0.2)
            (summary,) = Hook.received
            assert (summary["sweep"], summary["state"], summary["held"]) == ("Boats", "done", first["held"])
            assert summary["run"] > first["id"]
            ((to, text),) = box.received
            assert to == ["jem@wrenfold.example"]
            assert f"Boats finished: {first['held']} businesses in store" in text
            assert [notice["run_id"] for notice in app.get("/api/notices")] == [summary["run"], first["id"]]
            comparison = app.get(f"/api/runs/{summary['run']}/compare/{first['id']}")
            assert comparison["counts"] == {"new": 0, "gone": 0, "changed": 0}
            app.end()
            app.start()  # a sweep that ran once by its schedule does not run again, however soon the restart
            time.sleep(1)
            assert [run["id"] for run in app.get("/api/runs")] == [summary["run"], first["id"]]
            app.end()
            early = (datetime.now(UTC) - timedelta(minutes=1)).isoformat()
            database = Database(tmp_path / "acorn.db")
            with database.write() as conn:  # as if it had been off at the time
                before = (datetime.now(UTC) - timedelta(hours=1)).isoformat()
                schedules.upsert_schedule(conn, Schedule(first["sweep_id"], "daily", early, "", "", before))
            database.close()
            app.start()
            for _ in range(100):
                if len(app.get("/api/runs")) == 3:
                    break
                time.sleep(0.2)
            app.wait_for_run(summary["run"] + 1)
            app.end()
            app.start()
            time.sleep(1)
            assert len(app.get("/api/runs")) == 3
    finally:
        post.stop()
