"""The pool of audit workers: the same answers as in this process, and a dead worker is noticed and replaced."""

import asyncio
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import replace
from pathlib import Path

import pytest

from openacorn.audit.auditor import Auditor, AuditTask
from openacorn.audit.pool import AuditFailed, Pool, WorkerLost, _Worker
from openacorn.audit.spawner import Spawner
from openacorn.business.store.audits import StoredAudit
from openacorn.core.audit.warm_up import warm_up
from openacorn.core.trades.catalogue import made_trade
from openacorn.net.client import Client
from tests.conftest import Coast

pytestmark = pytest.mark.world
AT = "2026-09-01T00:00:00+00:00"


def tasks(coast: Coast, archetype: str, count: int) -> list[AuditTask]:
    rows = [row for row in coast.read("truth.json")["businesses"] if row["archetype"] == archetype][:count]
    return [AuditTask(row["id"], row["name"], row["website"], "s", AT) for row in rows]


def arguments_of(process_id: int) -> bytes:
    return Path(f"/proc/{process_id}/cmdline").read_bytes()


@asynccontextmanager
async def at_work(coast: Coast) -> AsyncIterator[tuple[Pool, _Worker, AuditTask]]:
    """(a pool, its one worker, the audit that it has made)."""
    pool = Pool(coast.settings.model_copy(update={"workers": 1}))
    (task,) = tasks(coast, "modern", 1)
    try:
        await pool.audit(task)
        (worker,) = pool._workers
        yield pool, worker, task
    finally:
        await pool.close()


def outcomes(result: StoredAudit) -> dict[str, str]:
    return {check: str(finding.outcome) for check, finding in result.findings.items()}


def test_workers_say_what_this_process_would(coast: Coast) -> None:
    wanted = tasks(coast, "modern", 8)

    async def run() -> None:
        pool = Pool(coast.settings)
        try:
            theirs = await asyncio.gather(*(pool.audit(task) for task in wanted))
        finally:
            await pool.close()
        warm_up()  # as the workers do: else what is loaded meanwhile counts as time lost
        async with Client(coast.settings) as client:
            auditor = Auditor(client, coast.settings, client)
            for task, result in zip(wanted, theirs, strict=True):
                mine = await auditor.audit(task)
                assert outcomes(mine) == outcomes(result)
                assert [contact[:3] for contact in mine.contacts] == [tuple(contact[:3]) for contact in result.contacts]
                assert len(mine.pages) == len(result.pages) > 0

    asyncio.run(run())


def test_a_trade_of_the_users_own_is_judged_by_the_workers_as_here(coast: Coast) -> None:
    """The check on a page's title asks for the trade's words."""
    own = made_trade("Lantern keeper", "Lantern keepers", ("keeper of lanterns",), "", ())
    (task,) = (replace(task, trade=own.id, town="Nowhere Bay", own_trades=(own,)) for task in tasks(coast, "modern", 1))

    async def run() -> None:
        pool = Pool(coast.settings.model_copy(update={"workers": 1}))
        try:
            theirs = await asyncio.wait_for(pool.audit(task), 60)
        finally:
            await pool.close()
        async with Client(coast.settings) as client:
            mine = await Auditor(client, coast.settings, client).audit(task)
        assert outcomes(theirs)["trade_and_town"] == outcomes(mine)["trade_and_town"] == "gap"

    asyncio.run(run())


def test_two_runs_may_audit_the_same_business_at_once(coast: Coast) -> None:
    async def run() -> None:
        pool = Pool(coast.settings.model_copy(update={"workers": 1}))
        (task,) = tasks(coast, "old_cms", 1)
        try:
            first, second = await asyncio.wait_for(asyncio.gather(pool.audit(task), pool.audit(task)), 20)
        finally:
            await pool.close()
        assert outcomes(first) == outcomes(second)

    asyncio.run(run())


def test_an_audit_that_raises_is_answered_at_once_and_the_worker_goes_on(coast: Coast) -> None:
    async def run() -> None:
        pool = Pool(coast.settings.model_copy(update={"workers": 1}))
        (sound,) = tasks(coast, "modern", 1)
        broken = replace(sound, website=5)  # type: ignore[arg-type]  # what no store holds, so that the audit itself raises
        try:
            with pytest.raises(AuditFailed, match=r"^\w+Error: "):
                await asyncio.wait_for(pool.audit(broken), 30)
            (worker,) = pool._workers
            assert outcomes(await asyncio.wait_for(pool.audit(sound), 30))["answers"] == "ok"
            assert pool._workers == [worker]
        finally:
            await pool.close()

    asyncio.run(run())


def test_what_a_dead_worker_had_in_hand_is_tried_once_more_elsewhere(coast: Coast) -> None:
    async def run() -> None:
        pool = Pool(coast.settings.model_copy(update={"workers": 1}))
        slow = tasks(coast, "timeout", 2)
        (quick,) = tasks(coast, "modern", 1)
        try:
            waiting = [asyncio.create_task(pool.audit(task)) for task in slow]
            await pool.audit(quick)
            (worker,) = pool._workers
            # every user of the machine can read a process's arguments, and settings hold keys
            assert b"source_ports" not in arguments_of(worker.pid)
            os.kill(worker.pid, signal.SIGKILL)
            lone = await other_than(worker, pool)
            os.kill(lone.pid, signal.SIGKILL)  # it is the first one's fault, as far as the pool can tell
            answer = await asyncio.wait_for(asyncio.gather(*waiting, return_exceptions=True), 120)
            assert [type(one) for one in answer] == [WorkerLost, StoredAudit]
            assert "ended" in str(answer[0])
            assert outcomes(await asyncio.wait_for(pool.audit(quick), 60))["answers"] == "ok"
            assert pool._workers != [worker]
            assert pool._lone is None
        finally:
            await pool.close()

    asyncio.run(run())


async def other_than(worker: _Worker, pool: Pool) -> _Worker:
    """The worker that tries again what `worker` left, once it has work."""
    for _ in range(1200):
        if pool._lone is not None and pool._lone is not worker and pool._lone.busy:
            return pool._lone
        await asyncio.sleep(0.05)
    raise AssertionError("nobody tries it again")


class Wrong(Spawner):
    """Makes workers that are not: each writes something and ends."""

    def __init__(self, program: str) -> None:
        self._program, self._made = program, dict[int, subprocess.Popen[bytes]]()

    def spawn(self) -> tuple[int, socket.socket]:
        mine, theirs = socket.socketpair()
        with theirs:
            made = subprocess.Popen(["sh", "-c", self._program], stdin=theirs.fileno(), stdout=theirs.fileno())
        self._made[made.pid] = made
        return made.pid, mine

    def exit_status(self, worker: int) -> int:
        return self._made[worker].wait()

    def close(self) -> None:
        """Nothing is left of it."""


@pytest.mark.parametrize("answer", ['7 {"business_id"', '1 {"business_id"', "1 nonsense\n", "\n", "one {}\n"])
def test_a_worker_killed_while_it_wrote_leaves_nobody_waiting(coast: Coast, answer: str) -> None:
    """Half an answer, or none of ours, on its way out."""

    async def run() -> None:
        pool = Pool(coast.settings)
        pool._spawner = Wrong(f"read settings; read task; printf '%s' '{answer}'")
        try:
            with pytest.raises(WorkerLost, match=r"exit (0|-9)"):
                await asyncio.wait_for(pool.audit(tasks(coast, "modern", 1)[0]), 30)
        finally:
            await pool.close()

    asyncio.run(run())


def test_audits_go_on_when_what_makes_workers_was_killed(coast: Coast) -> None:
    async def run() -> None:
        async with at_work(coast) as (pool, worker, task):
            os.kill(parent_of(worker.pid), signal.SIGKILL)
            assert outcomes(await asyncio.wait_for(pool.audit(task), 60))["answers"] == "ok"
            assert pool._workers == [worker]  # it does not need what made it
            os.kill(worker.pid, signal.SIGKILL)
            assert outcomes(await asyncio.wait_for(pool.audit(task), 60))["answers"] == "ok"

    asyncio.run(run())


def test_a_pool_ends_though_what_makes_workers_stands_still(coast: Coast) -> None:
    async def run() -> None:
        async with at_work(coast) as (pool, worker, _):
            assert pool._spawner is not None
            pool._spawner._control.settimeout(1.0)
            os.kill(parent_of(worker.pid), signal.SIGSTOP)
            await asyncio.wait_for(pool.close(), 60)
            assert not worker.alive

    asyncio.run(run())


PREPARED = """
import os, sys
from openacorn.audit.spawner import get_spawner, prepare
lock = open(sys.argv[1], "w")
prepare()
spawner = get_spawner()
for _ in range(2):
    pid, end = spawner.spawn()
    print(pid, flush=True)
print(os.getpid(), flush=True)
sys.stdin.read()
"""


def test_workers_of_a_process_that_was_killed_end(tmp_path: Path) -> None:
    """Also those that were forked off the process itself."""
    command = [sys.executable, "-c", PREPARED, str(tmp_path / "lock")]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as owner:
        assert owner.stdout is not None
        first, second, own = (int(owner.stdout.readline()) for _ in range(3))
        made_by = parent_of(first)
        assert made_by == parent_of(second) != own
        assert parent_of(made_by) == own
        assert arguments_of(made_by) == arguments_of(own)  # a fork, no program of its own
        held = [str(path.readlink()) for path in Path(f"/proc/{made_by}/fd").iterdir()]
        assert not [name for name in held if name.endswith("/lock")]  # that stays with its owner
        owner.kill()
    until = time.monotonic() + 30
    while any(Path(f"/proc/{pid}/fd/0").exists() for pid in (made_by, first, second)):
        assert time.monotonic() < until
        time.sleep(0.05)


def parent_of(pid: int) -> int:
    return int(Path(f"/proc/{pid}/stat").read_text().rsplit(") ", 1)[1].split()[1])


def test_workers_end_with_the_pool(coast: Coast) -> None:
    async def run() -> list[int]:
        pool = Pool(coast.settings)
        await pool.audit(tasks(coast, "modern", 1)[0])
        pids = [worker.pid for worker in pool._workers]
        await pool.close()
        return pids

    for pid in asyncio.run(run()):
        with pytest.raises(ProcessLookupError):
            os.kill(pid, 0)


def test_a_worker_that_stands_still_is_ended_and_its_work_done_elsewhere(coast: Coast) -> None:
    async def run() -> None:
        async with at_work(coast) as (pool, worker, task):
            worker._standstill_s = 5.0  # for this one alone: starting again may take longer on a busy machine
            os.kill(worker.pid, signal.SIGSTOP)
            assert outcomes(await asyncio.wait_for(pool.audit(task), 300))["answers"] == "ok"
            assert not worker.alive

    asyncio.run(run())
