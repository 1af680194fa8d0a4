"""Audits by a Dask cluster: two workers on machines of their own, one of them killed in mid-run, say what this machine says.

The machines are network namespaces, which reach the coast and the scheduler through a wire to this one alone; where none can be
made (that takes rights), the workers are processes beside one another.
"""

import asyncio
import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

import pytest

from openacorn.audit.auditor import AuditTask
from openacorn.audit.cluster import ClusterPool, NoCluster, pool_for
from openacorn.audit.pool import AuditFailed, AuditPool, Pool
from openacorn.settings import Settings
from openacorn.sim.serve import free_ports
from tests.audit.test_pool import AT, outcomes
from tests.conftest import Coast

pytestmark = pytest.mark.world
PYTHON = sys.executable
RELAY = Path(__file__).with_name("relay.py")
THREADS = 8


def _ip(*words: str) -> bool:
    try:
        return subprocess.run(["ip", *words], capture_output=True, check=False).returncode == 0
    except OSError:
        return False


@contextmanager
def process(*command: str, ready: str = "") -> Iterator[subprocess.Popen[str]]:
    running = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, env=os.environ)
    try:
        assert running.stdout is not None
        while ready and ready not in (line := running.stdout.readline()):
            assert line, f"{command} ended"
        yield running
    finally:
        running.kill()
        running.communicate()


def _wired(name: str, wire: str, here: str, there: str) -> bool:
    """Make a network namespace with a wire to this machine; False where that cannot be done."""
    return (
        _ip("netns", "add", name)
        and _ip("link", "add", wire, "type", "veth", "peer", "name", "out", "netns", name)
        and _ip("addr", "add", f"{here}/30", "dev", wire)
        and _ip("link", "set", wire, "up")
        and _ip("-n", name, "addr", "add", f"{there}/30", "dev", "out")
        and _ip("-n", name, "link", "set", "out", "up")
        and _ip("-n", name, "link", "set", "lo", "up")
    )


@contextmanager
def machine(number: int, ports: list[int]) -> Iterator[tuple[list[str], str]]:
    """(what to run a command by there, the address of this machine as seen from there)."""
    name, here, there = f"acorn{os.getpid()}{number}", f"10.213.77.{number * 4 + 1}", f"10.213.77.{number * 4 + 2}"
    inside, wanted = ["ip", "netns", "exec", name], [str(port) for port in ports]
    try:
        if not _wired(name, f"acorn{number}w{os.getpid() % 10_000}", here, there):
            yield [], "127.0.0.1"
            return
        with (
            process(PYTHON, str(RELAY), here, "127.0.0.1", *wanted, ready="ready"),
            process(*inside, PYTHON, str(RELAY), "127.0.0.1", here, *wanted, ready="ready"),
        ):
            yield inside, here
    finally:
        _ip("netns", "del", name)


@contextmanager
def cluster(coast: Coast, workers: int = 2) -> Iterator[tuple[str, list[subprocess.Popen[str]]]]:
    world = coast.settings.world
    assert world is not None
    port = free_ports(1)[0]
    dask = [PYTHON, "-m", "distributed.cli"]
    with ExitStack() as stack:
        scheduler = [f"{dask[-1]}.dask_scheduler", "--host", "0.0.0.0", "--port", str(port), "--no-dashboard"]
        stack.enter_context(process(*dask[:-1], *scheduler, ready="Scheduler at"))
        started = []
        for number in range(workers):
            inside, here = stack.enter_context(machine(number, [world.http_port, world.https_port, world.dns_port]))
            worker = [
                f"{dask[-1]}.dask_worker",
                f"tcp://{here}:{port}",
                "--nthreads",
                str(THREADS),
                "--no-nanny",
                "--no-dashboard",
            ]
            started.append(stack.enter_context(process(*inside, *dask[:-1], *worker, ready="Registered to")))
        yield f"tcp://127.0.0.1:{port}", started


def some_tasks(coast: Coast) -> list[AuditTask]:
    rows = [row for row in coast.read("truth.json")["businesses"] if row["website"]]
    return [AuditTask(row["id"], row["name"], row["website"], "s", AT) for row in rows[:: len(rows) // 36]][:36]


async def audited(pool: AuditPool, tasks: list[AuditTask]) -> list[dict[str, str]]:
    try:
        return [outcomes(result) for result in await asyncio.gather(*(pool.audit(task) for task in tasks))]
    finally:
        await pool.close()


def test_two_machines_say_what_one_says_also_when_one_of_them_dies_in_mid_run(coast: Coast) -> None:
    tasks = some_tasks(coast)
    expected = asyncio.run(audited(Pool(coast.settings), tasks))

    async def run(address: str, victim: subprocess.Popen[str]) -> list[dict[str, str]]:
        pool = pool_for(coast.settings.model_copy(update={"cluster": address}))
        assert isinstance(pool, ClusterPool)
        try:
            asked = [asyncio.create_task(pool.audit(task)) for task in tasks]
            await asyncio.wait(asked, return_when=asyncio.FIRST_COMPLETED)
            assert pool.capacity == 2 * THREADS
            victim.kill()
            return [outcomes(result) for result in await asyncio.wait_for(asyncio.gather(*asked), 240)]
        finally:
            await pool.close()

    with cluster(coast) as (address, workers):
        found = asyncio.run(run(address, workers[0]))
    moody = {"server_wait", "load_time"}  # seconds, which two processes on a busy machine measure each for itself
    for task, ours, theirs in zip(tasks, expected, found, strict=True):
        assert {c: o for c, o in ours.items() if c not in moody} == {
            c: o for c, o in theirs.items() if c not in moody
        }, task.website


def test_a_cluster_that_is_not_there_or_has_no_workers_is_said(coast: Coast, monkeypatch: pytest.MonkeyPatch) -> None:
    nowhere = coast.settings.model_copy(update={"cluster": f"tcp://127.0.0.1:{free_ports(1)[0]}"})
    monkeypatch.setattr("openacorn.audit.cluster.CONNECT_S", 1.0)
    (task, *_) = some_tasks(coast)
    with pytest.raises(AuditFailed, match="does not answer"):
        asyncio.run(audited(ClusterPool(nowhere), [task]))
    with cluster(coast, workers=0) as (address, _), pytest.raises(AuditFailed, match="has no workers"):
        asyncio.run(audited(ClusterPool(coast.settings.model_copy(update={"cluster": address})), [task]))
    monkeypatch.setattr("importlib.util.find_spec", lambda _name: None)
    with pytest.raises(NoCluster, match="Dask is not installed"):
        pool_for(Settings(cluster="tcp://10.0.0.5:8786"))


def test_keys_that_no_audit_needs_stay_on_this_machine() -> None:
    settings = Settings.model_validate({"cluster": "tcp://10.0.0.5:8786", "mail": {"password": "s3cret-word"}})
    assert b"s3cret-word" not in ClusterPool(settings)._body
