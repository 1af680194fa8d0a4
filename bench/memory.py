"""`./acorn bench memory`: what one audit worker holds in memory while it reads 20,000 sites."""

import asyncio
import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from openacorn.settings import Settings

SITES, MARKS, IN_FLIGHT = 20_000, (1_000, 2_500, 5_000, 10_000, 15_000, 20_000), 60


def resident_mb() -> float:
    """Memory of this process that is in use, in MB (Linux: /proc/self/statm, in pages)."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


async def _read(settings: Settings, hosts: list[str]) -> dict[int, float]:
    """Audit SITES sites as a worker does, coming round to the coast's again and again; return sites done → MB."""
    from openacorn.audit.auditor import Auditor, AuditTask
    from openacorn.audit.worker import encode
    from openacorn.net.client import Client

    found: dict[int, float] = {}
    done, wanted = 0, iter(range(SITES))
    async with Client(settings) as client:
        auditor = Auditor(client, settings, client)

        async def one_after_another() -> None:
            nonlocal done
            for number in wanted:
                url = hosts[number % len(hosts)]
                encode(await auditor.audit(AuditTask(number, f"Business {number % len(hosts)}", url, "bench", "")))
                done += 1
                if done in MARKS:
                    found[done] = round(resident_mb(), 1)

        await asyncio.gather(*(one_after_another() for _ in range(IN_FLIGHT)))
    return found


def bench_memory() -> tuple[dict[str, Any], str]:
    """Measure on a fresh coast, the worker in a process of its own; return (figures, text)."""
    from bench.audit import answering_sites
    from openacorn.sim.generate import make_world
    from openacorn.sim.run import running_world
    from openacorn.sim.sources import REGISTRY

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make_world(folder)
        with running_world(folder) as world:
            job = json.dumps(
                {
                    "settings": Settings(region="AU", world=world, **REGISTRY).model_dump(),
                    "sites": answering_sites(folder, world.https_port),
                }
            )
            command = [sys.executable, "-m", "bench.memory"]
            out = subprocess.run(command, input=job, capture_output=True, text=True, check=True).stdout
    marks = {int(count): mb for count, mb in json.loads(out).items()}
    figures = {"sites": SITES, "in_flight": IN_FLIGHT, "resident_mb": marks}
    lines = [f"One worker, {IN_FLIGHT} sites in flight: sites read → MB in use"]
    return figures, "\n".join([*lines, *(f"  {count:>6,}  {mb:.0f}" for count, mb in marks.items())])


if __name__ == "__main__":
    import uvloop

    asked = json.load(sys.stdin)
    print(json.dumps(uvloop.run(_read(Settings.model_validate(asked["settings"]), asked["sites"]))))
