"""Audits on other machines too: the same tasks, handed to a Dask cluster (extra `cluster`) instead of workers of our own.

The cluster is the user's: a scheduler and workers started with Dask's own commands, the same version of this program installed
on each machine. Dask gives a dead worker's tasks to the others; here stands only what is handed over and what comes back.
"""

import asyncio
import importlib.util
import threading
from collections.abc import Coroutine
from typing import Any

import orjson
import uvloop

from openacorn.audit.auditor import Auditor, AuditTask
from openacorn.audit.pool import AuditFailed, AuditPool, Pool, WorkerLost, decode
from openacorn.audit.worker import answer, open_auditor
from openacorn.business.store.audits import StoredAudit
from openacorn.errors import InvalidInput
from openacorn.settings import Settings

CONNECT_S = 10.0
LEFT_OUT = frozenset({"mail", "writing", "cluster"})
"""Settings that no audit needs; those that hold keys stay on this machine."""


class NoCluster(InvalidInput):
    """The settings name a cluster and the library for it is not installed."""

    where = "cluster"
    remedy = "install Dask (pip install 'distributed'), or empty the setting “Other computers for audits”"


class _There:
    """What a Dask worker keeps from one audit to the next: a loop in a thread of its own, with a client and an auditor."""

    def __init__(self, settings: Settings) -> None:
        self._settings, self._opened = settings, open_auditor(settings)
        self._loop = uvloop.new_event_loop()
        threading.Thread(target=self._loop.run_forever, name="audits", daemon=True).start()
        self._auditor: Auditor = self._done(self._opened.__aenter__())

    def _done(self, work: Coroutine[Any, Any, Any]) -> Any:
        return asyncio.run_coroutine_threadsafe(work, self._loop).result()

    def answer(self, task: bytes) -> bytes:
        """Make one audit; this thread waits for it."""
        answered: bytes = self._done(answer(self._auditor, self._settings, task))
        return answered


_there: dict[bytes, _There] = {}
_making = threading.Lock()


def audit_there(settings: bytes, task: bytes) -> bytes:
    """Make one audit in this process (a Dask worker's); the answer as an audit worker writes it. A thread an audit waits for it."""
    with _making:
        if settings not in _there:
            _there.clear()  # other settings than before: theirs are not needed any more
            _there[settings] = _There(Settings.model_validate_json(settings))
        there = _there[settings]
    return there.answer(task)


class ClusterPool:
    """Hands audits to the cluster of the settings. The same methods as `Pool`."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings
        self._body = settings.model_dump_json(exclude=set(LEFT_OUT)).encode()
        self._client: Any = None
        self._connecting = asyncio.Lock()
        self.capacity = settings.workers * settings.sites_in_flight

    async def audit(self, task: AuditTask) -> StoredAudit:
        """Have one business audited. Raises AuditFailed, WorkerLost if several workers in turn die of it."""
        from distributed import KilledWorker

        client = await self._connected()
        try:
            answer = await client.submit(audit_there, self._body, orjson.dumps(task), pure=False)
        except KilledWorker as error:
            raise WorkerLost(f"machines of the cluster ended while they had this audit: {error}") from error
        except Exception as error:  # whatever an audit there raised comes back as itself
            raise AuditFailed(f"{type(error).__name__}: {error}") from error
        return await asyncio.to_thread(decode, answer)

    async def _connected(self) -> Any:
        """The cluster. Raises AuditFailed where it is not there."""
        from distributed import Client

        async with self._connecting:
            if self._client is None or self._client.status not in {"running", "connecting"}:
                try:
                    self._client = await Client(self._settings.cluster, asynchronous=True, timeout=CONNECT_S)
                except (OSError, TimeoutError, ValueError) as error:
                    raise AuditFailed(f"the cluster at {self._settings.cluster} does not answer: {error}") from error
            threads = sum((await self._client.ncores()).values())
            self.capacity = max(threads, 1)
            if not threads:
                raise AuditFailed(
                    f"the cluster at {self._settings.cluster} has no workers: start some with dask worker"
                )
            return self._client

    def renew(self) -> None:
        """Later audits are made by the settings as they are then."""

    async def close(self) -> None:
        """Leave the cluster; it goes on for others."""
        if self._client is not None:
            await self._client.close()


def pool_for(settings: Settings) -> AuditPool:
    """The pool that the settings ask for: processes of this machine, or the cluster. Raises NoCluster."""
    if not settings.cluster:
        return Pool(settings)
    if importlib.util.find_spec("distributed") is None:
        raise NoCluster(f"audits are to be made by the cluster at {settings.cluster}, and Dask is not installed")
    return ClusterPool(settings)
