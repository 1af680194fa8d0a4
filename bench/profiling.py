"""`./acorn bench profile`: which functions an audit and a run spend their time in.

Python's own profiler, which makes calls look dearer than they are: the order tells, the seconds do not.
"""

import asyncio
import cProfile
import pstats
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from bench.audit import answering_sites
from bench.coast import gather_coast
from openacorn.audit.worker import get_ready
from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import ListingFacts
from openacorn.demo.agency import demo_settings
from openacorn.net.client import Client
from openacorn.net.probes.site import SiteProbe
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world

SITES, IN_FLIGHT, SHOWN = 300, 60, 25
SOURCES = ("listing_service", "map_data", "social_pages", "directory:1")
HERE = "openacorn/"


async def _audit(settings: Settings, sites: list[str]) -> None:
    limit = asyncio.Semaphore(IN_FLIGHT)
    async with Client(settings) as client:
        probe = SiteProbe(client, lambda _: settings.region)

        async def one(url: str) -> None:
            async with limit:
                crawl, _ = await probe.visit(url)
            run_checks(assemble(ListingFacts(url, url, "bench", ""), crawl))

        await asyncio.gather(*map(one, sites))


def _top(work: Callable[[], None]) -> list[dict[str, Any]]:
    """The functions with most time of their own: where, calls, seconds of their own and with what they call."""
    profile = cProfile.Profile()
    profile.runcall(work)
    stats: Any = pstats.Stats(profile)
    rows = [
        {"where": _name(*where), "calls": calls, "own_s": round(own, 3), "with_callees_s": round(whole, 3)}
        for where, (_, calls, own, whole, _) in stats.stats.items()
    ]
    return sorted(rows, key=lambda row: -float(row["own_s"]))[:SHOWN]


def _name(file: str, line: int, function: str) -> str:
    if file == "~":
        return function
    start = file.find(HERE)
    shown = file[start:] if start >= 0 else "/".join(Path(file).parts[-2:])
    return f"{shown}:{line} {function}"


def bench_profile() -> tuple[dict[str, Any], str]:
    """Profile both on a fresh coast; return (figures, text)."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make_world(folder / "world")
        with running_world(folder / "world") as world:
            settings = demo_settings(folder, world)
            get_ready()
            sites = answering_sites(folder / "world", world.https_port)[:SITES]
            figures = {
                "audit": _top(lambda: asyncio.run(_audit(settings, sites))),
                "gather_and_merge": _top(lambda: gather_coast(folder, folder / "world", settings, SOURCES)),
            }
    titles = {
        "audit": f"An audit of {SITES} sites",
        "gather_and_merge": f"The coast from {len(SOURCES)} sources, merged",
    }
    lines = []
    for part, rows in figures.items():
        lines.append(f"{titles[part]}: seconds of its own, with what it calls, calls")
        lines += [
            f"{row['own_s']:>9.3f}{row['with_callees_s']:>9.3f}{row['calls']:>10,}  {row['where']}" for row in rows
        ]
    return figures, "\n".join(lines)
