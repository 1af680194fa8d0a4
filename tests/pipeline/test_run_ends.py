"""Runs that end badly: on a full disk, with a worker killed; each says so, and each can go on without a restart."""

import asyncio
import dataclasses
import os
import signal
import sqlite3
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from openacorn.audit.auditor import AuditTask
from openacorn.audit.pool import Pool, WorkerLost
from openacorn.business.store.audits import StoredAudit
from openacorn.db.database import Database
from openacorn.gather.sources._source import Reading, source_of
from openacorn.pipeline.runs import Runs
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan, Run
from tests.conftest import Coast, circle

pytestmark = pytest.mark.world


class House:
    """A store with its runs, in this process, so that the disk can be filled under them."""

    def __init__(self, coast: Coast, folder: Path, sources: tuple[str, ...] = ("listing_service",)) -> None:
        self.database = Database(folder / "acorn.db")
        self.pool = Pool(coast.settings)
        self.runs = Runs(self.database, coast.settings, self.pool)
        plan = Plan(("locksmiths",), (circle(-37.02, 160.02, 8000),), sources)
        with self.database.write() as conn:
            self.sweep = sweeps.add_sweep(conn, "test", sweeps.plan_to_json(plan), "now")

    def run(self, run_id: int) -> Run:
        with self.database.read() as conn:
            return self.runs.as_it_stands(sweeps.get_run(conn, run_id))

    def done(self, run_id: int, kind: str) -> int:
        with self.database.read() as conn:
            return tasks.counts(conn, run_id).get((kind, "done"), 0)

    def fill_disk(self, *, full: bool) -> None:
        """SQLite's own limit of pages: a write that needs one more fails with SQLITE_FULL, as on a full disk."""
        with self.database._lock:
            pages = self.database._writer.execute("PRAGMA page_count").fetchone()[0]
            self.database._writer.execute(f"PRAGMA max_page_count = {pages if full else 2**30}")

    async def until(self, condition: Callable[[], Any], seconds: float = 60) -> None:
        for _ in range(int(seconds / 0.05)):
            if condition():
                return
            await asyncio.sleep(0.05)
        raise AssertionError("it never came to that")

    async def close(self) -> None:
        await self.runs.close()
        await self.pool.close()
        self.database.close()


def test_a_disk_full_during_a_run_is_told_and_the_run_goes_on_once_there_is_space(coast: Coast, tmp_path: Path) -> None:
    async def scene() -> None:
        house = House(coast, tmp_path)
        try:
            run_id = house.runs.start(house.sweep)
            await house.until(lambda: house.done(run_id, "query") > 1)
            house.fill_disk(full=True)
            await house.until(lambda: house.run(run_id).state != "running")
            assert (house.run(run_id).why, house.run(run_id).remedy) == (
                "the disk is full",
                "free some space, then resume the run",
            )
            left = [repr(task.get_coro()) for task in asyncio.all_tasks()]
            assert not [one for one in left if "CarryOut" in one or "Lane" in one], left
            house.fill_disk(full=False)
            house.runs.resume(run_id)
            await house.until(lambda: house.run(run_id).state != "running")
            assert (house.run(run_id).state, house.run(run_id).why) == ("done", "")
            assert house.done(run_id, "audit") > 20
        finally:
            await house.close()

    asyncio.run(scene())


def test_an_end_that_could_not_be_written_down_is_told_all_the_same(
    coast: Coast, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The disk is so full that not even the run's state fits: stop, end and resume still do what they say."""
    full = False

    def set_state(conn: sqlite3.Connection, *_: Any, **__: Any) -> None:
        if full:
            conn.execute("PRAGMA max_page_count = 1")
            conn.execute("CREATE TABLE too_much AS SELECT randomblob(1000000)")

    async def scene() -> None:
        nonlocal full
        house = House(coast, tmp_path)
        try:
            run_id = house.runs.start(house.sweep)
            await house.until(lambda: house.done(run_id, "query") > 1)
            with monkeypatch.context() as patch:
                patch.setattr(sweeps, "set_state", set_state)
                full = True
                house.fill_disk(full=True)
                await house.until(lambda: house.run(run_id).state == "failed")
                with house.database.read() as conn:
                    assert sweeps.get_run(conn, run_id).state == "running"
                house.runs.stop(run_id)
                with pytest.raises(sqlite3.OperationalError, match="full"):
                    house.runs.resume(run_id)
                assert house.run(run_id).why == "the disk is full"
                full = False
            house.fill_disk(full=False)
            await house.runs.end(run_id)
            assert house.run(run_id).why.startswith("ended by you")
            house.runs.resume(run_id)
            await house.until(lambda: house.run(run_id).state != "running")
            assert house.run(run_id).state == "done"
        finally:
            await house.close()

    asyncio.run(scene())


def test_a_run_is_resumed_at_the_moment_at_which_its_end_is_written(
    coast: Coast, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Who sees that it has failed may resume it, also while its task is about to end."""
    ends = list[str]()

    async def scene() -> None:
        house = House(coast, tmp_path)
        save_end = house.runs._save_end

        def save_and_resume(run_id: int, ending: Any) -> bool:
            saved = save_end(run_id, ending)
            ends.append(ending[0])
            if len(ends) == 1:
                house.fill_disk(full=False)
                house.runs.resume(run_id)
            return saved

        monkeypatch.setattr(house.runs, "_save_end", save_and_resume)
        try:
            run_id = house.runs.start(house.sweep)
            await house.until(lambda: house.done(run_id, "query") > 1)
            house.fill_disk(full=True)
            await house.until(lambda: len(ends) == 2)
            assert (ends, house.run(run_id).state) == (["failed", "done"], "done")
        finally:
            await house.close()

    asyncio.run(scene())


def test_a_run_whose_worker_was_killed_loses_nothing(coast: Coast, tmp_path: Path) -> None:
    async def scene() -> None:
        house = House(coast, tmp_path)
        try:
            run_id = house.runs.start(house.sweep)
            await house.until(lambda: house.pool._workers and house.pool._workers[0].busy)
            os.kill(house.pool._workers[0].pid, signal.SIGKILL)
            await house.until(lambda: house.run(run_id).state != "running", 180)
            assert (house.run(run_id).state, house.run(run_id).why) == ("done", "")
        finally:
            await house.close()

    asyncio.run(scene())


def test_a_run_says_how_many_audits_failed_and_resume_tries_only_those(
    coast: Coast, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    async def scene() -> None:
        house = House(coast, tmp_path)
        tried = []

        async def failing(task: AuditTask) -> StoredAudit:
            tried.append(task.business_id)
            if len(tried) <= 2:
                raise WorkerLost("an audit worker ended")
            return await audit(task)

        audit = house.pool.audit
        monkeypatch.setattr(house.pool, "audit", failing)
        try:
            run_id = house.runs.start(house.sweep)
            await house.until(lambda: house.run(run_id).state != "running")
            answer = house.run(run_id)
            assert (answer.why, answer.remedy) == ("2 audits failed", "resume the run to try only those again")
            first = list(tried)
            house.runs.resume(run_id)
            await house.until(lambda: house.run(run_id).state != "running")
            assert house.run(run_id).why == ""
            assert sorted(tried[len(first) :]) == sorted(first[:2])
        finally:
            await house.close()

    asyncio.run(scene())


def test_a_source_that_raises_fails_that_question_alone(
    coast: Coast, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A fault of ours in one source: the others' rows are there, the run ends, and says what failed."""

    def raising(*_: object) -> Reading:
        raise KeyError("elements")

    faulty = dataclasses.replace(source_of("map_data"), read=raising)
    monkeypatch.setattr(
        "openacorn.gather.gatherer.source_in",
        lambda _conn, source: faulty if source == "map_data" else source_of(source),
    )

    async def scene() -> None:
        house = House(coast, tmp_path, sources=("listing_service", "map_data"))
        try:
            run_id = house.runs.start(house.sweep)
            await house.until(lambda: house.run(run_id).state != "running")
            answer = house.run(run_id)
            assert (answer.state, answer.why) == ("done", "1 question to the sources failed")
            with house.database.read() as conn:
                notes, _ = sweeps.list_notes(conn, run_id, 10)
            assert any("its answer could not be read (KeyError: 'elements')" in note.text for note in notes)
            assert house.done(run_id, "audit") > 20
        finally:
            await house.close()

    asyncio.run(scene())


def test_a_fault_of_ours_is_logged_with_its_place_and_without_what_variables_hold(
    coast: Coast, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capfd: Any, caplog: pytest.LogCaptureFixture
) -> None:
    def settle(*_: object) -> None:
        key = "".join(("sk-", "not-for-", "logs"))
        raise RuntimeError(f"{len(key)} letters")

    async def scene() -> None:
        house = House(coast, tmp_path)
        try:
            run_id = house.runs.start(house.sweep)
            await house.until(lambda: house.run(run_id).state != "running")
            assert (house.run(run_id).state, house.run(run_id).why) == ("failed", "RuntimeError: 15 letters")
        finally:
            await house.close()

    monkeypatch.setattr("openacorn.pipeline.executor.recluster_run", settle)
    asyncio.run(scene())
    assert "sk-not-for-logs" not in "".join(capfd.readouterr()) + caplog.text
    assert "run 1 failed" in caplog.text
    assert "in settle" in caplog.text
