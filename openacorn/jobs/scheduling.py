"""Sweeps that run by themselves (APScheduler), and word of how they ended: in the application, by e-mail, to a webhook."""

import asyncio
from collections.abc import Awaitable, Callable
from datetime import UTC, datetime
from typing import Any

import aiohttp
import structlog
from apscheduler.schedulers.asyncio import AsyncIOScheduler
from apscheduler.triggers.base import BaseTrigger
from apscheduler.triggers.cron import CronTrigger
from apscheduler.triggers.date import DateTrigger

from openacorn.net.post import send_notice
from openacorn.net.probes.site import now
from openacorn.settings import Settings
from openacorn.store import businesses, schedules, sweeps
from openacorn.store.db import Database
from openacorn.store.schedules import Schedule

log = structlog.get_logger()
LATE_S = 24 * 3600
"""A time that was missed because the application was not running is made up for within a day."""

TELLING_S = 15
LAST_DAY = 28
"""A monthly sweep set to a later day runs on the last day that every month has."""


class ScheduleError(ValueError):
    """A schedule that cannot be kept; the message says why."""


def trigger_of(item: Schedule) -> BaseTrigger:
    """The scheduler's trigger. Raises ScheduleError."""
    try:
        first = datetime.fromisoformat(item.at)
    except ValueError:
        raise ScheduleError(f"{item.at!r} is no date and time; write it like 2026-12-01T07:30") from None
    if first.tzinfo is None:
        first = first.astimezone()
    if item.every == "once":
        return DateTrigger(first)
    clock: dict[str, Any] = {"hour": first.hour, "minute": first.minute, "timezone": first.tzinfo, "start_date": first}
    if item.every == "weekly":
        return CronTrigger(day_of_week=first.weekday(), **clock)
    if item.every == "monthly":
        return CronTrigger(day=min(first.day, LAST_DAY), **clock)
    return CronTrigger(**clock)


def next_times(item: Schedule, count: int) -> list[str]:
    """The next times it will run, ISO 8601. Raises ScheduleError."""
    trigger, found = trigger_of(item), list[str]()
    last, moment = None, datetime.now(UTC)
    while len(found) < count:
        upcoming = trigger.get_next_fire_time(last, moment)
        if upcoming is None or upcoming < moment:
            break
        found.append(upcoming.isoformat())
        last, moment = upcoming, upcoming.astimezone(UTC)
    return found


class Scheduling:
    """Keeps the store's schedules; `start` begins a run of a sweep."""

    def __init__(self, database: Database, settings: Settings, start: Callable[[int], int]) -> None:
        self._database, self._settings, self._start = database, settings, start
        self._scheduler = AsyncIOScheduler(timezone=UTC)
        self._telling: set[asyncio.Task[None]] = set()
        self.deliver: Callable[[], Awaitable[list[str]]] | None = None
        """Called after each run that was done; returns what went wrong, in words."""

    def begin(self) -> None:
        """Read the schedules and start the clock."""
        self._scheduler.start()
        with self._database.read() as conn:
            for item in schedules.list_schedules(conn):
                self.put(item)

    def end(self) -> None:
        """Stop the clock."""
        self._scheduler.shutdown(wait=False)

    def put(self, item: Schedule) -> None:
        """Keep a sweep's schedule from now on. Raises ScheduleError."""
        self._scheduler.add_job(
            self._run, trigger_of(item), args=[item.sweep_id], id=str(item.sweep_id), replace_existing=True,
            misfire_grace_time=LATE_S, coalesce=True, max_instances=1,
        )  # fmt: skip

    def drop(self, sweep_id: int) -> None:
        """A sweep runs only when told to."""
        if self._scheduler.get_job(str(sweep_id)) is not None:
            self._scheduler.remove_job(str(sweep_id))

    async def _run(self, sweep_id: int) -> None:
        with self._database.read() as conn:
            busy = any(sweeps.get_run(conn, run).sweep_id == sweep_id for run in sweeps.running(conn))
        if not busy:  # the last run of this sweep is still under way: two at once would ask everything twice
            self._start(sweep_id)

    def tell(self, run_id: int) -> None:
        """Tell how a run ended; never in the way of what comes next."""
        task = asyncio.create_task(self._tell(run_id))
        self._telling.add(task)
        task.add_done_callback(self._telling.discard)

    async def _tell(self, run_id: int) -> None:
        with self._database.read() as conn:
            run = sweeps.get_run(conn, run_id)
            item = schedules.schedule_of(conn, run.sweep_id)
            held, rejected = businesses.held_in_run(conn, run_id)
        word = {"done": "finished", "failed": "failed", "stopped": "stopped"}.get(run.state, run.state)
        text = f"{run.sweep} {word}: {held:,} businesses held" + (f"; {run.why}" if run.why else "")
        summary = {
            "run": run_id, "sweep": run.sweep, "state": run.state, "why": run.why, "held": held, "rejected": sum(rejected.values()),
            "started_at": run.started_at, "ended_at": run.ended_at, "requests": run.requests,
        }  # fmt: skip
        trouble = [] if item is None else [fault for fault in await self._send(item, text, summary) if fault]
        if run.state == "done" and self.deliver is not None:
            trouble += await self.deliver()
        with self._database.write() as conn:
            schedules.add_notice(conn, now(), text, run_id, trouble=run.state == "failed")
            for fault in trouble:
                schedules.add_notice(conn, now(), fault, run_id, trouble=True)

    async def _send(self, item: Schedule, text: str, summary: dict[str, Any]) -> list[str]:
        """What went wrong with telling others, in words; empty texts where nothing did."""
        found = []
        if item.webhook:
            try:
                timeout = aiohttp.ClientTimeout(total=TELLING_S)
                async with (
                    aiohttp.ClientSession(timeout=timeout) as session,
                    session.post(item.webhook, json=summary) as answer,
                ):
                    found.append(
                        "" if answer.status < 400 else f"the webhook {item.webhook} answered HTTP {answer.status}"
                    )
            except (aiohttp.ClientError, TimeoutError, ValueError) as error:
                found.append(f"the webhook {item.webhook} could not be reached: {error or type(error).__name__}")
        if item.email:
            found.append(
                await asyncio.to_thread(send_notice, self._settings.mail, item.email, text.split(":")[0], text)
            )
        return found
