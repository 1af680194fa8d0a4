"""Carry out one run: ask the source tile by tile, merge what comes, audit what was merged, stop whenever told to."""

import asyncio
import sqlite3
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

import orjson

from openacorn.core.planning import Query
from openacorn.jobs.judging import AuditTask
from openacorn.jobs.merging import absorb
from openacorn.jobs.pool import Pool, WorkerLost
from openacorn.jobs.queries import decode_query, encode_query, follow_up, parse_plan
from openacorn.jobs.scoring import Scorer
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.net.probes.site import now
from openacorn.settings import Settings
from openacorn.sources._source import Endpoint, Reading, SourceFailure, all_sources
from openacorn.store import audits, businesses, listings, sweeps, units
from openacorn.store.audits import StoredAudit
from openacorn.store.db import Database
from openacorn.store.units import Unit

ASKING = 4
"""Questions to a source in flight: enough to keep its pace while answers travel."""

FAILURES_IN_A_ROW = 4
"""After this many failed questions on end the source is taken to be down, and the rest is left for later."""

FRESH = timedelta(days=14)
"""An audit younger than this is not made again (DESIGN: facts are claimed for 14 days)."""

SAVE_EVERY_S = 0.25


class CarryOut:
    """One run: gathering and auditing side by side."""

    def __init__(
        self, run_id: int, stop: asyncio.Event, database: Database, settings: Settings, pool: Pool, pace: Pace
    ) -> None:
        self._id, self._stop, self._database, self._settings, self._pool = run_id, stop, database, settings, pool
        self._pace = pace
        with database.read() as conn:
            self._plan = parse_plan(sweeps.get_run(conn, run_id).plan)
        self._source = all_sources()[self._plan.source]
        service = settings.listing_service
        self._endpoint = Endpoint(service.endpoint, service.key, service.pace_s)
        self._gathered = asyncio.Event()
        self._enough = False
        self._failures = 0
        self._down: SourceFailure | None = None

    async def carry_out(self) -> tuple[str, str, str]:
        """Do all there is to do; return (state, why, remedy)."""
        if not self._endpoint.url:
            return "failed", "the listing service is not set up", "enter its address and key in settings.json"
        auditing = asyncio.create_task(self._audit())
        try:
            await self._gather()
        finally:
            self._gathered.set()
        await auditing
        await asyncio.to_thread(self._score_all)
        return self._ending()

    def _ending(self) -> tuple[str, str, str]:
        if self._down is not None:
            return "failed", str(self._down), self._down.remedy
        if self._stop.is_set():
            return "stopped", "stopped by you", "resume it to do the rest"
        if self._enough:
            return "done", f"stopped at your number, {self._plan.wanted}", "raise the number wanted to get the rest"
        with self._database.read() as conn:
            failed = units.counts(conn, self._id).get(("query", "failed"), 0)
        if failed:
            return "done", f"{failed} questions to the source failed", "resume the run to try only those again"
        return "done", "", ""

    @property
    def _ends(self) -> bool:
        return self._stop.is_set() or self._enough or self._down is not None

    # Gathering

    async def _gather(self) -> None:
        async with Client(self._settings, allow_private=self._settings.world is not None) as client:
            asker = Asker(client, self._pace)
            await asyncio.gather(*(self._ask_on(asker) for _ in range(ASKING)))
            await asyncio.to_thread(self._count_requests, asker)
        if self._enough:
            await asyncio.to_thread(self._skip_queries)

    def _count_requests(self, asker: Asker) -> None:
        with self._database.write() as conn:
            sweeps.add_requests(conn, self._id, asker.tally.requests, asker.tally.retries)

    def _skip_queries(self) -> None:
        with self._database.write() as conn:
            units.skip_rest(conn, self._id, "query")

    async def _ask_on(self, asker: Asker) -> None:
        """Take question after question; an empty queue is the end only when nobody is asking any more."""
        while not self._ends:
            unit = await asyncio.to_thread(self._claim_query)
            if unit is None:
                if await asyncio.to_thread(self._all_asked):
                    return
                await asyncio.sleep(0.05)
                continue
            await self._ask_one(asker, unit)

    def _claim_query(self) -> Unit | None:
        with self._database.write() as conn:
            return next(iter(units.claim(conn, self._id, "query", 1)), None)

    def _all_asked(self) -> bool:
        with self._database.read() as conn:
            found = units.counts(conn, self._id)
        return not found.get(("query", "ready")) and not found.get(("query", "doing"))

    async def _ask_one(self, asker: Asker, unit: Unit) -> None:
        query = decode_query(unit.payload)
        try:
            body = await asker.ask(self._source.ask(query, self._endpoint))
            reading = self._source.read(query, body)
        except SourceFailure as failure:
            self._failures += 1
            await asyncio.to_thread(self._note_failure, unit, failure)
            if self._failures >= FAILURES_IN_A_ROW:
                self._down = failure
            return
        self._failures = 0
        await asyncio.to_thread(self._keep, unit, query, reading)

    def _note_failure(self, unit: Unit, failure: SourceFailure) -> None:
        with self._database.write() as conn:
            units.fail(conn, unit.id, str(failure), failure.remedy)
            sweeps.add_note(
                conn, self._id, now(), "failed", f"{self._source.title}, {unit.key}: {failure}", failure.remedy
            )

    def _keep(self, unit: Unit, query: Query, reading: Reading) -> None:
        """Store an answer, what follows from it, and that it is done, all at once."""
        after, full, cut = follow_up(query, reading, self._source, self._plan)
        with self._database.write() as conn:
            put = listings.put_listings(conn, self._id, query.trade, reading.listings, now())
            merged = absorb(conn, self._plan, put.to_merge, self._settings) if put.to_merge else []
            self._queue_audits(conn, [*merged, *put.seen_again])
            units.add_units(conn, self._id, "query", ((item.key, encode_query(item)) for item in after))
            units.finish(conn, unit.id, len(reading.listings), full=full)
            if cut is not None:
                where = cut.query.tile.centre
                more = f"more than {self._source.cap} within {cut.side_m:.0f} m"
                text = f"{query.trade} near {where.lat:.4f}, {where.lon:.4f}: {more}"
                sweeps.add_note(conn, self._id, now(), "cut short", text, "add a second source for this spot")
            if reading.unreadable:
                sweeps.add_note(
                    conn, self._id, now(), "failed", f"{unit.key}: {reading.unreadable} rows could not be read"
                )
            if self._plan.wanted and businesses.held_in_run(conn, self._id)[0] >= self._plan.wanted:
                self._enough = True

    def _queue_audits(self, conn: sqlite3.Connection, ids: Sequence[int]) -> None:
        oldest = (datetime.now(UTC) - FRESH).isoformat()
        wanted = []
        for row in businesses.get_businesses(conn, ids):
            latest = audits.audited_website(conn, row["id"])
            if row["rejected"] or (latest and latest[0] == row["website"] and latest[1] > oldest):
                continue
            wanted.append((f"{row['id']} {row['website']}", orjson.dumps(row["id"]).decode()))
        units.add_units(conn, self._id, "audit", wanted)

    # Auditing

    async def _audit(self) -> None:
        """Keep the workers busy until nothing is left; results are stored in batches."""
        running: dict[asyncio.Task[StoredAudit], Unit] = {}
        while True:
            room = self._pool.capacity - len(running)
            if room > 0 and not self._stop.is_set():
                for unit, task in await asyncio.to_thread(self._claim_audits, room):
                    running[asyncio.create_task(self._pool.audit(task))] = unit
            if not running:
                if self._stop.is_set() or (self._gathered.is_set() and await asyncio.to_thread(self._all_audited)):
                    return
                await asyncio.sleep(0.05)
                continue
            await asyncio.wait(running, timeout=SAVE_EVERY_S)
            finished = [(task, running.pop(task)) for task in list(running) if task.done()]
            if finished:
                await asyncio.to_thread(self._save, finished)
            if self._stop.is_set():
                for audit in running:
                    audit.cancel()
                await asyncio.gather(*running, return_exceptions=True)
                return

    def _claim_audits(self, count: int) -> list[tuple[Unit, AuditTask]]:
        with self._database.write() as conn:
            claimed = units.claim(conn, self._id, "audit", count)
            rows = {row["id"]: row for row in businesses.get_businesses(conn, [int(unit.payload) for unit in claimed])}
            tasks = []
            for unit in claimed:
                row = rows.get(int(unit.payload))
                # merged away, or its website changed since: another unit stands for it
                if row is None or unit.key != f"{row['id']} {row['website']}":
                    units.finish(conn, unit.id)
                    continue
                tasks.append((unit, AuditTask(row["id"], row["name"], row["website"], self._source.title, now())))
            return tasks

    def _all_audited(self) -> bool:
        with self._database.read() as conn:
            return not units.counts(conn, self._id).get(("audit", "ready"))

    def _save(self, finished: Sequence[tuple["asyncio.Task[StoredAudit]", Unit]]) -> None:
        with self._database.write() as conn:
            scored = []
            for task, unit in finished:
                error = task.exception()
                if isinstance(error, WorkerLost):
                    units.fail(conn, unit.id, str(error), "resume the run to try it again")
                    sweeps.add_note(
                        conn, self._id, now(), "failed", f"audit of business {unit.payload}: {error}", "resume the run"
                    )
                    continue
                result = task.result()
                if businesses.get_businesses(conn, [result.business_id]):
                    audits.save_audit(conn, result)
                    scored.append(result.business_id)
                units.finish(conn, unit.id)
                for check, finding in result.findings.items():
                    if finding.crashed:
                        sweeps.add_note(
                            conn,
                            self._id,
                            now(),
                            "failed",
                            f"{result.website}: {check}: {finding.reason}",
                            "report this to us",
                        )
            Scorer(conn).score(scored)

    def _score_all(self) -> None:
        """Once everybody is there: scores again, as the peers they were compared with have grown."""
        with self._database.write() as conn:
            Scorer(conn).score(businesses.ids_of_run(conn, self._id))
