"""`./acorn bench audit`: how right the audit is on the coast, and how fast beside a ceiling and a general-purpose framework."""

import asyncio
import json
import statistics
import subprocess
import sys
import tempfile
from contextvars import ContextVar
from pathlib import Path
from typing import Any

from yarl import URL

from bench.accuracy import archetype_counts, measure_accuracy
from bench.accuracy_browser import measure_rendered
from bench.accuracy_listings import measure_listings
from openacorn.net.client import Answer, Client
from openacorn.net.probes.site import SiteProbe
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.site import PLACEHOLDERS
from openacorn.sim.sources import REGISTRY

SITES = 600
ROUNDS = 3
PROCESSES = 2
SLOW_S = 1.0


def answering_sites(world: Path, port: int) -> list[str]:
    """Sites that answer and hold pages, by their secure address with the port written out, so that all contenders reach them."""
    rows = json.loads((world / "sites.json").read_text(encoding="utf-8"))
    good = [
        r
        for r in rows
        if r["transport"] == "ok" and r["look"] not in PLACEHOLDERS and r["delay_s"] < SLOW_S and not r["redirect_to"]
    ]
    return [f"https://{row['host']}:{port}/" for row in good]


MADE: ContextVar[list[list[str]]] = ContextVar("MADE")
"""The requests of the visit under way."""


class _Recording(Client):
    """A client that writes down each request that it sends."""

    async def _one(self, target: URL, method: str, *rest: Any) -> Answer:
        MADE.get().append([method, str(target)])
        return await super()._one(target, method, *rest)


async def _requests(sites: list[str], settings: Settings) -> dict[str, list[list[str]]]:
    """Every request that the shipped probe makes for each site, for the ceiling to repeat."""
    limit = asyncio.Semaphore(60)
    async with _Recording(settings) as client:
        probe = SiteProbe(client, lambda _: settings.region)

        async def one(url: str) -> tuple[str, list[list[str]]]:
            made: list[list[str]] = []
            MADE.set(made)
            async with limit:
                await probe.visit(url)
            return url, made

        return dict(await asyncio.gather(*map(one, sites)))


def _race(kind: str, jobs: list[Path]) -> float:
    """Run one contender on all its processes at once; return sites a second, start-up left out."""
    command = [sys.executable, "-m", "bench.contenders", kind]
    running = [
        subprocess.Popen(
            [*command, str(job)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        )
        for job in jobs
    ]
    results = []
    for process in running:
        if process.stdout is None or process.stdout.readline().strip() != "ready":
            raise RuntimeError(f"the contender {kind} did not start")
    for process in running:
        assert process.stdin is not None
        process.stdin.write("go\n")
        process.stdin.flush()
    for process in running:
        out, _ = process.communicate()
        results.append(json.loads(out.strip().splitlines()[-1]))
    return float(sum(result["sites"] for result in results) / max(result["seconds"] for result in results))


def measure_throughput(world: Path, settings: Settings, folder: Path) -> dict[str, Any]:
    """Alternate the contenders over the same hosts; return their sites a second (median) and the ratios."""
    assert settings.world is not None
    sites = answering_sites(world, settings.world.https_port)[:SITES]
    requests = asyncio.run(_requests(sites, settings))
    jobs = []
    for number in range(PROCESSES):
        job = folder / f"job{number}.json"
        job.write_text(
            json.dumps({"settings": settings.model_dump(), "sites": sites[number::PROCESSES], "requests": requests})
        )
        jobs.append(job)
    rates: dict[str, list[float]] = {"own": [], "ceiling": [], "framework": []}
    for _ in range(ROUNDS):
        for kind, found in rates.items():
            found.append(_race(kind, jobs))
    middle = {kind: statistics.median(found) for kind, found in rates.items()}
    return {
        "sites": len(sites),
        "requests_a_site": round(sum(map(len, requests.values())) / len(requests), 2),
        "processes": PROCESSES,
        "sites_per_second": {kind: round(rate, 1) for kind, rate in middle.items()},
        "rounds": {kind: [round(rate, 1) for rate in found] for kind, found in rates.items()},
        "own_over_framework": round(middle["own"] / middle["framework"], 2),
        "own_over_ceiling": round(middle["own"] / middle["ceiling"], 2),
    }


def _as_text(figures: dict[str, Any]) -> str:
    head = (
        f"{'check':<18}{'decidable':>10}{'answered':>10}{'recall':>9}{'precision':>11}{'agree':>8}{'false claims':>14}"
    )
    lines = ["Findings against the coast's truth (a claim is a gap or partial)", head]
    for check, row in figures["accuracy"].items():
        lines.append(
            f"{check:<18}{row['decidable']:>10}{row['answered']:>10.3f}{row['recall']:>9.3f}{row['precision']:>11.3f}"
            f"{row['agree']:>8.3f}{row['false_claims']:>14}"
        )
        lines += [f"    {wrong}" for wrong in row["wrong"]]
    speed = figures["throughput"]
    rates = speed["sites_per_second"]
    lines += [
        "",
        f"Throughput over {speed['sites']} HTTPS sites, {speed['requests_a_site']} requests each, {speed['processes']} processes, "
        f"medians of {ROUNDS} alternating rounds",
        f"  own {rates['own']} sites/s · same fetches unread {rates['ceiling']} · general-purpose framework {rates['framework']}",
        f"  own is {speed['own_over_framework']} × the framework and {speed['own_over_ceiling']} of the ceiling",
    ]
    return "\n".join(lines)


def bench_audit() -> tuple[dict[str, Any], str]:
    """Measure accuracy and throughput on a fresh coast; return (figures, text)."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make_world(folder / "world")
        with running_world(folder / "world") as world:
            settings = Settings(region="AU", world=world, **REGISTRY)
            figures: dict[str, Any] = {
                "accuracy": measure_accuracy(folder / "world", settings)
                | measure_listings(folder / "world", settings, folder)
                | measure_rendered(folder / "world", settings),
                "throughput": measure_throughput(folder / "world", settings, folder),
                "archetypes": dict(archetype_counts(folder / "world")),
            }
    return figures, _as_text(figures)
