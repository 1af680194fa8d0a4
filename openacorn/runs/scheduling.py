"""Scheduled sweeps (APScheduler), and notices of how runs ended: in the application, by e-mail, to a webhook."""

import asyncio
from collections.abc import Awaitable, Callable
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import orjson
from apscheduler.schedulers.asyncio import AsyncIOScheduler
from apscheduler.triggers.base import BaseTrigger
from apscheduler.triggers.cron import CronTrigger
from apscheduler.triggers.date import DateTrigger

from openacorn.business.store import businesses
from openacorn.clock import now, utc_now
from openacorn.db.database import Database
from openacorn.errors import InvalidInput
from openacorn.net import webhook
from openacorn.net.mail import send_notice
from openacorn.runs.store import schedules, sweeps
from openacorn.runs.store.schedules import Schedule
from openacorn.runs.store.sweeps import Run
from openacorn.settings import Settings

LATE = timedelta(days=1)
"""A time that was missed because the application was not running is made up for within a day."""

INSTANT = timedelta(microseconds=1)
EARLIEST_YEAR, LATEST_YEAR = 1970, 2999
RETRY_EVERY_S = 30
"""How often it is looked whether a delivery that failed is due again."""

LAST_DAY = 28
"""A monthly sweep set to a later day runs on the last day that every month has."""


class ScheduleError(InvalidInput):
    """A schedule that cannot be kept; the message says why."""

    where = "at"
    remedy = "choose another time"


def trigger_of(item: Schedule, zone: str = "") -> BaseTrigger:
    """The scheduler's trigger; zone: in which a time without one is meant (IANA), "" for this computer's. Raises ScheduleError."""
    try:
        first = datetime.fromisoformat(item.at)
    except ValueError:
        raise ScheduleError(f"{item.at!r} is no date and time; write it like 2026-12-01T07:30") from None
    if not EARLIEST_YEAR <= first.year <= LATEST_YEAR:
        raise ScheduleError(f"the year {first.year} is out of range; choose one from {EARLIEST_YEAR} to {LATEST_YEAR}")
    if first.tzinfo is None:
        first = first.replace(tzinfo=ZoneInfo(zone)) if zone else first.astimezone()
    if item.every == "once":
        return DateTrigger(first)
    clock: dict[str, Any] = {
        "hour": first.hour, "minute": first.minute, "second": first.second, "timezone": first.tzinfo,
        "start_date": first.replace(microsecond=0),
    }  # fmt: skip
    if item.every == "weekly":
        return CronTrigger(day_of_week=first.weekday(), **clock)
    if item.every == "monthly":
        return CronTrigger(day=min(first.day, LAST_DAY), **clock)
    return CronTrigger(**clock)


def next_times(item: Schedule, count: int, zone: str = "") -> list[str]:
    """The next times it will run, ISO 8601. Raises ScheduleError."""
    trigger, found = trigger_of(item, zone), list[str]()
    last, moment = None, now()
    while len(found) < count:
        upcoming = trigger.get_next_fire_time(last, moment)
        if upcoming is None or upcoming < moment:
            break
        found.append(upcoming.isoformat())
        last, moment = upcoming, upcoming.astimezone(UTC)
    return found


def is_missed(item: Schedule, moment: datetime, zone: str = "") -> bool:
    """Return whether a time of the schedule passed, within the last day, that nothing was done for. Raises ScheduleError."""
    if not item.done_to:
        return False
    since = max(datetime.fromisoformat(item.done_to), moment - LATE)
    due = trigger_of(item, zone).get_next_fire_time(None, since + INSTANT)
    return due is not None and since < due <= moment


class Scheduling:
    """Keeps the store's schedules; `start` begins a run of a sweep."""

    def __init__(self, database: Database, settings: Settings, start: Callable[[int], int]) -> None:
        self._database, self._settings, self._start = database, settings, start
        self._scheduler = AsyncIOScheduler(timezone=UTC)
        self._telling: set[asyncio.Task[None]] = set()
        self.deliver: Callable[[], Awaitable[list[str]]] | None = None
        """Called after each run that was done; returns what went wrong, in words."""
        self.deliver_waiting: Callable[[], Awaitable[None]] | None = None
        """Called now and then, to try failed deliveries again."""

    async def begin(self) -> None:
        """Start the clock, make up for what was missed, and keep the schedules from now on."""
        self._scheduler.start()
        moment = now()
        for item in await asyncio.to_thread(self._kept, moment):
            if is_missed(item, moment, self._settings.time_zone):
                self._scheduler.add_job(self._run, args=[item.sweep_id], id=f"missed {item.sweep_id}")
            self.put(replace(item, done_to=moment.isoformat()))
        if self.deliver_waiting is not None:
            self._scheduler.add_job(
                self.deliver_waiting, "interval", seconds=RETRY_EVERY_S, id="deliveries", max_instances=1, coalesce=True
            )

    def _kept(self, moment: datetime) -> list[Schedule]:
        """All schedules; those kept by an earlier version begin now."""
        with self._database.write() as conn:
            found = schedules.list_schedules(conn)
            for item in found:
                if not item.done_to:
                    schedules.note_done(conn, item.sweep_id, moment.isoformat())
        return found

    def end(self) -> None:
        """Stop the clock."""
        self._scheduler.shutdown(wait=False)

    def put(self, item: Schedule) -> None:
        """Keep a sweep's schedule from now on; a single time that is over starts nothing. Raises ScheduleError."""
        self.drop(item.sweep_id)
        moment = now()
        trigger = trigger_of(item, self._settings.time_zone)
        due = trigger.get_next_fire_time(None, moment)
        if due is not None and due >= moment:
            self._scheduler.add_job(
                self._run, trigger, args=[item.sweep_id], id=str(item.sweep_id),
                misfire_grace_time=int(LATE.total_seconds()), coalesce=True, max_instances=1,
            )  # fmt: skip

    def drop(self, sweep_id: int) -> None:
        """A sweep runs only when started."""
        if self._scheduler.get_job(str(sweep_id)) is not None:
            self._scheduler.remove_job(str(sweep_id))

    async def _run(self, sweep_id: int) -> None:
        await asyncio.to_thread(self._run_unless_busy, sweep_id)

    def _run_unless_busy(self, sweep_id: int) -> None:
        moment = now().isoformat()
        with self._database.read() as conn:
            busy = any(sweeps.get_run(conn, run).sweep_id == sweep_id for run in sweeps.running(conn))
        if not busy:  # the last run of this sweep is still under way: two at once would ask everything twice
            self._start(sweep_id)
        with self._database.write() as conn:  # after the start: if we are killed in between, the run goes on
            schedules.note_done(conn, sweep_id, moment)

    def tell(self, run_id: int) -> None:
        """Tell how a run ended; never in the way of what comes next."""
        task = asyncio.create_task(self._tell(run_id))
        self._telling.add(task)
        task.add_done_callback(self._telling.discard)

    async def _tell(self, run_id: int) -> None:
        run, item, text, summary = await asyncio.to_thread(self._ended, run_id)
        await self._note(run_id, [text], trouble=run.state == "failed")  # first of all: nothing may prevent it
        if item is not None:
            await self._note(run_id, [fault for fault in await self._send(item, text, summary) if fault], trouble=True)
        if run.state == "done" and self.deliver is not None:
            await self._note(run_id, await self.deliver(), trouble=True)

    def _ended(self, run_id: int) -> tuple[Run, Schedule | None, str, dict[str, Any]]:
        """(a run that has ended, its sweep's schedule, how it ended in words, and as a webhook gets it)."""
        with self._database.read() as conn:
            run = sweeps.get_run(conn, run_id)
            item = schedules.schedule_of(conn, run.sweep_id)
            held, rejected = businesses.held_in_run(conn, run_id)
        word = {"done": "finished", "failed": "failed", "stopped": "stopped"}.get(run.state, run.state)
        gathered = f": {held:,} businesses in store" if held or rejected else ""  # audits and pages gather nothing
        text = f"{run.sweep} {word}{gathered}" + (f"; {run.why}" if run.why else "")
        summary = {
            "run": run_id, "sweep": run.sweep, "state": run.state, "why": run.why, "held": held, "rejected": sum(rejected.values()),
            "started_at": run.started_at, "ended_at": run.ended_at, "requests": run.requests,
        }  # fmt: skip
        return run, item, text, summary

    async def _note(self, run_id: int, texts: list[str], *, trouble: bool) -> None:
        await asyncio.to_thread(self._write_notes, run_id, texts, trouble)

    def _write_notes(self, run_id: int, texts: list[str], trouble: bool) -> None:
        with self._database.write() as conn:
            for text in texts:
                schedules.add_notice(conn, utc_now(), text, run_id, trouble=trouble)

    async def _send(self, item: Schedule, text: str, summary: dict[str, Any]) -> list[str]:
        """What went wrong with telling others, in words; empty texts where nothing did."""
        found = []
        if item.webhook:
            fault = await webhook.post(self._settings, item.webhook, orjson.dumps(summary), "application/json")
            found.append(f"the webhook {item.webhook} was not told: {fault}" if fault else "")
        if item.email:
            found.append(
                await asyncio.to_thread(send_notice, self._settings.mail, item.email, text.split(":")[0], text)
            )
        return found
