"""All runs of this process: start, stop, resume, and go on after a crash."""

import asyncio
import contextlib
import logging
import sqlite3
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial

from openacorn.acting import acting_account
from openacorn.audit.pool import AuditPool
from openacorn.audit.reaudit import queue_again
from openacorn.clock import utc_now
from openacorn.core.team.allowance import Allowance
from openacorn.db.database import Database, disk_is_full
from openacorn.gather.queries import encode_query, first_queries
from openacorn.net.pace import Pace
from openacorn.outreach.owner_pages import PageOrder, queue_pages
from openacorn.pipeline.executor import RunExecutor
from openacorn.runs.aside import aside
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Run
from openacorn.settings import Settings
from openacorn.team.allowances import check_allowance

log = logging.getLogger(__name__)
SAVE_AGAIN_S = 5.0
"""While the disk is full the end of a run is written down again and again, this often."""

Ending = tuple[str, str, str]
"""State, why, remedy."""

DISK_FULL: Ending = ("failed", "the disk is full", "free some space, then resume the run")


@dataclass(slots=True)
class _Active:
    """A run under way."""

    task: asyncio.Task[None]
    stop: asyncio.Event


class Runs:
    """All runs of this process. Made on the event loop that carries them out; `start`, `resume` and so on block, for threads."""

    def __init__(
        self,
        database: Database,
        settings: Settings,
        pool: AuditPool,
        *,
        ended: Callable[[int], None] = lambda _run: None,
    ) -> None:
        """`ended` is called with the id of each run that ends, on the loop."""
        self.ended = ended
        self._loop, self._thread = asyncio.get_running_loop(), threading.get_ident()
        self._database = database
        self._settings = settings
        self._pool = pool
        self._pace = Pace()
        self._active: dict[int, _Active] = {}
        self._unsaved: dict[int, Ending] = {}
        """Ends of runs that could not be written down yet."""
        self._writing: set[int] = set()
        """Runs that write businesses now: no longer those whose end is all that is left to be written."""

    def as_it_stands(self, run: Run) -> Run:
        """A stored run with the end that it came to but that could not be written down yet."""
        if run.id not in self._unsaved:
            return run
        state, why, remedy = self._unsaved[run.id]
        return replace(run, state=state, why=why, remedy=remedy)

    def recover(self) -> None:
        """After a start: go on with the runs that were under way when the last process ended."""
        with self._database.write() as conn:
            interrupted = sweeps.running(conn)
            for run_id in interrupted:
                tasks.requeue(conn, run_id, failed=False)
        for run_id in interrupted:
            self._launch(run_id)

    def start(self, sweep_id: int) -> int:
        """Begin a run of a sweep; return its id. Raises AllowanceReached."""
        with self._database.write() as conn:
            check_allowance(conn, acting_account(), (Allowance.REQUESTS, Allowance.COST))
            run_id = sweeps.add_run(conn, sweep_id, utc_now())
            plan = sweeps.plan_from_json(sweeps.get_run(conn, run_id).plan)
            for source in plan.sources:
                first = ((query.key, encode_query(query)) for query in first_queries(conn, plan, source))
                tasks.add_tasks(conn, run_id, "query", first, lane=source)
        self._launch(run_id)
        return run_id

    def audit_again(
        self, ids: Sequence[int], *, rendered: bool = False, whole: bool = False, held_back: bool = False
    ) -> int:
        """Begin a run that audits these businesses again; return its id. Raises NothingToAudit."""
        with self._database.write() as conn:
            run_id = queue_again(conn, ids, rendered=rendered, whole=whole, held_back=held_back)
        self._launch(run_id)
        return run_id

    def make_pages(self, ids: Sequence[int], wanted: PageOrder) -> int:
        """Begin a run that makes owners' pages; return its id. Raises PageError."""
        with self._database.write() as conn:
            run_id = queue_pages(conn, ids, wanted)
        self._launch(run_id)
        return run_id

    def resume(self, run_id: int, lane: str | None = None) -> None:
        """Go on with a stopped or failed run: what failed (of one source, or of all) is tried again, what was skipped is done."""
        with self._database.write() as conn:
            run = sweeps.get_run(conn, run_id)
            if run.state == "running" and run_id in self._active and run_id not in self._unsaved:
                return
            tasks.requeue(conn, run_id, failed=True, lane=lane)
            if run.state == "stopped":
                tasks.unskip(conn, run_id)
            sweeps.set_state(conn, run_id, "running", at=None)
        self._forget_unsaved(run_id)
        self._launch(run_id)

    def stop(self, run_id: int) -> None:
        """Ask a run to pause soon; what it has is kept, and it can go on."""
        active = self._active.get(run_id)
        if active is not None:
            self._on_loop(active.stop.set)

    async def end(self, run_id: int) -> None:
        """Finish a run for good with what it has; what was left to do is skipped and the run says how much that was."""
        active = self._active.get(run_id)
        if active is not None and run_id not in self._unsaved:
            active.stop.set()
            await asyncio.gather(active.task, return_exceptions=True)
        if await aside(self._end_for_good, run_id):
            self._forget_unsaved(run_id)

    def _end_for_good(self, run_id: int) -> bool:
        with self._database.write() as conn:
            if self.as_it_stands(sweeps.get_run(conn, run_id)).state not in {"stopped", "failed"}:
                return False
            left = sum(tasks.skip_rest(conn, run_id, kind) for kind in ("query", "merge", "audit", "look", "page"))
            why = f"ended by you with {left:,} steps left out"
            sweeps.set_state(conn, run_id, "done", at=utc_now(), why=why, remedy="run the sweep again for the rest")
        return True

    def renew_workers(self) -> None:
        """Have later audits made under the settings as they are now."""
        self._on_loop(self._pool.renew)

    async def close(self) -> None:
        """End without finishing: the runs stay marked as running and go on at the next start."""
        for active in list(self._active.values()):
            active.task.cancel()
        await asyncio.gather(*(active.task for active in self._active.values()), return_exceptions=True)

    def _on_loop(self, work: Callable[[], object]) -> None:
        """Have something done on the loop, from whatever thread."""
        if threading.get_ident() == self._thread:
            work()
            return

        async def then() -> None:
            work()

        asyncio.run_coroutine_threadsafe(then(), self._loop).result()

    def _launch(self, run_id: int) -> None:
        self._on_loop(partial(self._launch_here, run_id))

    def _launch_here(self, run_id: int) -> None:
        stop = asyncio.Event()
        active = _Active(asyncio.create_task(self._carry_out(run_id, stop)), stop)
        self._active[run_id] = active

        def ended(_: asyncio.Task[None]) -> None:
            if self._active.get(run_id) is active:  # it may have been resumed since
                del self._active[run_id]

        active.task.add_done_callback(ended)

    def _forget_unsaved(self, run_id: int) -> None:
        """The run's row says something newer now: stop trying to write its end down."""

        def forget() -> None:
            if self._unsaved.pop(run_id, None) is not None:
                self._active.pop(run_id).task.cancel()

        self._on_loop(forget)

    def under_way(self) -> bool:
        """Does any run write businesses now?"""
        return bool(self._writing)

    async def _carry_out(self, run_id: int, stop: asyncio.Event) -> None:
        self._writing.add(run_id)
        try:
            parts = (run_id, stop, self._database, self._settings, self._pool, self._pace)
            ending = await (await aside(RunExecutor, *parts)).carry_out()
        except asyncio.CancelledError:
            raise
        except Exception as error:
            # kept on the row and seen by the user; a run must never end in silence
            ending = DISK_FULL if disk_is_full(error) else _own_fault(error)
            if ending is not DISK_FULL:
                log.exception("run %d failed", run_id)
        finally:
            self._writing.discard(run_id)
        while not await aside(self._save_end, run_id, ending):
            self._unsaved[run_id] = ending
            await asyncio.sleep(SAVE_AGAIN_S)
        self._unsaved.pop(run_id, None)
        self.ended(run_id)

    def _save_end(self, run_id: int, ending: Ending) -> bool:
        """Write the end of a run down; False if the database cannot take it now."""
        with contextlib.suppress(sqlite3.OperationalError), self._database.write() as conn:
            sweeps.set_state(conn, run_id, ending[0], at=utc_now(), why=ending[1], remedy=ending[2])
            return True
        return False


def _own_fault(error: Exception) -> Ending:
    return "failed", f"{type(error).__name__}: {error}", "this is our fault; try to resume the run"
