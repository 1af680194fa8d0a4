"""Carry out one run: ask the sources, merge what comes, audit what was merged, settle, score, stop when asked."""

import asyncio
import sqlite3
import time
from collections.abc import Sequence
from dataclasses import replace

from openacorn.audit.auditor import AuditTask, audit_task, audit_task_key
from openacorn.audit.pool import AuditFailed, AuditPool
from openacorn.audit.reaudit import add_look, queue_looks, replace_audit
from openacorn.audit.reputation import ReputationAuditor
from openacorn.business.store import businesses, listings, own_trades
from openacorn.business.store.audits import StoredAudit
from openacorn.clock import utc_now
from openacorn.core.audit.address import host_of
from openacorn.core.match.relevance import reads_pages
from openacorn.db.batches import batches
from openacorn.db.database import Database
from openacorn.db.secrets import SealBroken
from openacorn.gather.gatherer import Lane
from openacorn.gather.importer import FileLane
from openacorn.gather.look_ups import LookUp, own_look_ups
from openacorn.match.merging import rebuild_businesses
from openacorn.match.recluster import recluster_run, refresh_relevance
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.net.probes.browser_session import browser_paths
from openacorn.outreach import owner_pages
from openacorn.runs.aside import aside, together
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.tasks import Task
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

SAVE_EVERY_S = 0.25
KEPT_S = 5.0
"""While audits come in, the peers of a trade are read again so often."""

PAGES_AT_ONCE = 25
SCORED_AT_ONCE = 100
"""Businesses a transaction: it takes about a quarter of a second."""

FAILED_WORK = (
    ("query", "question to the sources", "questions to the sources"),
    ("audit", "audit", "audits"),
    ("look", "look in a browser", "looks in a browser"),
)
"""Kinds of work that may fail one by one, in the singular and the plural."""


class RunExecutor:
    """One run: gathering and auditing side by side."""

    def __init__(
        self, run_id: int, stop: asyncio.Event, database: Database, settings: Settings, pool: AuditPool, pace: Pace
    ) -> None:
        self._id, self._stop, self._database, self._settings, self._pool = run_id, stop, database, settings, pool
        self._pace = pace
        with database.read() as conn:
            self._plan = sweeps.plan_from_json(sweeps.get_run(conn, run_id).plan)
        self._lanes = [self._lane(source) for source in self._plan.sources]
        self._gathered = asyncio.Event()
        self._kept: tuple[ReputationAuditor, Scorer] | None = None
        self._kept_until = 0.0
        self._own_look_ups: tuple[LookUp, ...] | None = None

    def _lane(self, source: str) -> Lane | FileLane:
        kind = FileLane if source.startswith("file:") else Lane
        return kind(self._id, source, self._plan, self._database, self._settings, self._ends)

    async def carry_out(self) -> tuple[str, str, str]:
        """Do all there is to do; return (state, why, remedy)."""
        await together(self._audit("audit"), self._gather_and_settle())
        await aside(self._score_all)
        if self._lanes and not self._stop.is_set() and await aside(self._queue_looks):
            await self._audit("look")
        while not self._stop.is_set() and await aside(self._make_pages):
            pass
        return await aside(self._ending)

    async def _gather_and_settle(self) -> None:
        try:
            await self._gather()
            # late listings can change what was merged before; the answer must not hang on which came first
            if self._lanes:
                await aside(recluster_run, self._database, self._id, self._settings)
        finally:
            self._gathered.set()

    def _ending(self) -> tuple[str, str, str]:
        down = [(lane, lane.down) for lane in self._lanes if lane.down is not None]
        if down and len(down) == len(self._lanes):
            return "failed", str(down[0][1]), down[0][1].remedy
        if self._stop.is_set():
            return "stopped", "stopped by you", "resume it to do the rest"
        if any(lane.enough for lane in self._lanes):
            return "done", f"stopped at your number, {self._plan.wanted}", "raise the number wanted to get the rest"
        with self._database.read() as conn:
            counts = tasks.counts(conn, self._id)
        failed = [
            f"{count:,} {one if count == 1 else many} failed"
            for kind, one, many in FAILED_WORK
            if (count := counts.get((kind, "failed"), 0))
        ]
        if failed:
            return "done", " and ".join(failed), "resume the run to try only those again"
        return "done", "", ""

    def _ends(self) -> bool:
        return self._stop.is_set() or any(lane.enough for lane in self._lanes)

    async def _gather(self) -> None:
        async with Client(self._settings, allow_private=self._settings.world is not None) as client:
            # a source that fails does not stop the others: a lane raises only what stops them all, as a full disk does
            await together(*(lane.gather(client, self._pace) for lane in self._lanes))
        if any(lane.enough for lane in self._lanes):
            await aside(self._skip_queries)

    def _skip_queries(self) -> None:
        with self._database.write() as conn:
            tasks.skip_rest(conn, self._id, "query")

    # Auditing

    async def _audit(self, kind: str) -> None:
        """Keep the workers busy until no unit of the kind is left; results are stored in batches."""
        running: dict[asyncio.Task[StoredAudit], Task] = {}
        try:
            while not self._stop.is_set():
                room = self._pool.capacity - len(running)
                for unit, task in await aside(self._claim_audits, kind, room) if room > 0 else ():
                    running[asyncio.create_task(self._pool.audit(task))] = unit
                if not running:
                    if self._gathered.is_set() and await aside(self._all_done, kind):
                        return
                    await asyncio.sleep(0.05)
                    continue
                await asyncio.wait(running, timeout=SAVE_EVERY_S)
                finished = [(task, running.pop(task)) for task in list(running) if task.done()]
                if finished:
                    await aside(self._save, finished)
        finally:
            for audit in running:
                audit.cancel()
            await asyncio.gather(*running, return_exceptions=True)

    def _claim_audits(self, kind: str, count: int) -> list[tuple[Task, AuditTask]]:
        with self._database.write() as conn:
            claimed = tasks.claim(conn, self._id, kind, count)
            rows = {row["id"]: row for row in businesses.get_businesses(conn, [int(unit.payload) for unit in claimed])}
            own = own_trades.trades_there(conn).own
            audit_tasks = []
            for unit in claimed:
                row = rows.get(int(unit.payload))
                # merged away, or its website changed since: another unit stands for it
                if row is None or unit.key != audit_task_key(row)[0]:
                    tasks.finish(conn, unit.id)
                    continue
                email, look_ups = listings.listed_email(conn, row["id"]), self._look_ups(conn)
                task = audit_task(row, email, self._plan.facts, own, look_ups)
                audit_tasks.append((unit, replace(task, look=row["website"]) if kind == "look" else task))
            return audit_tasks

    def _look_ups(self, conn: sqlite3.Connection) -> tuple[LookUp, ...]:
        """The plan's APIs that are asked about one business at a time; a key that cannot be opened is said once."""
        if self._own_look_ups is None:
            try:
                self._own_look_ups = own_look_ups(conn, self._database.path.parent, self._plan.sources)
            except SealBroken as broken:
                self._own_look_ups = ()
                sweeps.add_note(conn, self._id, utc_now(), "failed", str(broken), "enter the key again in its recipe")
        return self._own_look_ups

    def _queue_looks(self) -> bool:
        """Have a browser open the best sites; chosen once a run, and none without a browser."""
        with self._database.write() as conn:
            chosen = any(kind == "look" for kind, _ in tasks.counts(conn, self._id))
            if chosen or not self._settings.browser_looks:
                return chosen
            if browser_paths() is None:
                sweeps.add_note(
                    conn, self._id, utc_now(), "info", "no site was opened in a browser, as none is installed"
                )
                return False
            return queue_looks(conn, self._id, self._settings.browser_looks) > 0

    def _all_done(self, kind: str) -> bool:
        with self._database.read() as conn:
            return not tasks.counts(conn, self._id).get((kind, "ready"))

    def _save(self, finished: Sequence[tuple["asyncio.Task[StoredAudit]", Task]]) -> None:
        with self._database.write() as conn:
            scored = []
            for task, unit in finished:
                error = task.exception()
                if isinstance(error, AuditFailed):
                    tasks.fail(conn, unit.id, str(error), "resume the run to try it again")
                    text = f"{unit.kind} at business {unit.payload}: {error}"
                    sweeps.add_note(conn, self._id, utc_now(), "failed", text, "resume the run")
                    continue
                result = task.result()
                for row in businesses.get_businesses(conn, [result.business_id]):
                    if unit.kind == "look":
                        add_look(conn, result, own_trades.trades_there(conn).own)
                    else:
                        replace_audit(conn, result)
                    scored.append(result.business_id)
                    if result.site_name and row["name"] == host_of(row["website"]):
                        rebuild_businesses(conn, [result.business_id], self._settings)
                tasks.finish(conn, unit.id)
                for check, finding in result.findings.items():
                    if finding.crashed:
                        text = f"{result.website}: {check}: {finding.reason}"
                        sweeps.add_note(conn, self._id, utc_now(), "failed", text, "report this to us")
            judge, scorer = self._judges(conn)
            judge.judge(scored)
            scorer.score(scored)

    def _judges(self, conn: sqlite3.Connection) -> tuple[ReputationAuditor, Scorer]:
        """Who judges and who scores. What they have read of a trade is good for some seconds: at the end all is done again."""
        moment = time.monotonic()
        if self._kept is None or moment > self._kept_until:
            self._kept, self._kept_until = (ReputationAuditor(conn), Scorer(conn)), moment + KEPT_S
        return self._kept

    def _make_pages(self) -> bool:
        """Make some of the owners' pages that the run was asked for; False once none is left."""
        with self._database.write() as conn:
            claimed = tasks.claim(conn, self._id, "page", PAGES_AT_ONCE)
            for text in owner_pages.create_page(conn, [unit.payload for unit in claimed], self._settings.region):
                sweeps.add_note(conn, self._id, utc_now(), "info", text)
            for unit in claimed:
                tasks.finish(conn, unit.id)
        return bool(claimed)

    def _score_all(self) -> None:
        """Once everybody is there: scores again, as the peers they were compared with have grown.

        A piece at a time: other writers have their turn after each.
        """
        if reads_pages(self._plan.rules):
            refresh_relevance(self._database, self._settings)  # only now are the pages there that the rules ask about
        with self._database.write() as conn:
            ids = businesses.ids_of_run(conn, self._id)
            judge, scorer = (
                ReputationAuditor(conn),
                Scorer(conn),
            )  # what they read of a trade serves for all of its businesses
        for piece in batches(ids, SCORED_AT_ONCE):
            with self._database.write():
                judge.judge(piece)
                scorer.score(piece)
