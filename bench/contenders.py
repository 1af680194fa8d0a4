"""One contender of the throughput bench, as a process: `python -m bench.contenders KIND JOB`.

It loads, says "ready", waits for a line, works through its sites and prints what it did as JSON. JOB is a JSON file:
settings, sites, and for the ceiling the requests to make.
"""

import asyncio
import contextlib
import json
import sys
import time
from collections.abc import Awaitable, Callable
from pathlib import Path
from typing import Any

from openacorn.settings import Settings

IN_FLIGHT = 100


def _go(work: Callable[[], Awaitable[dict[str, Any]]]) -> None:
    import uvloop

    print("ready", flush=True)
    sys.stdin.readline()
    started = time.perf_counter()
    result = uvloop.run(work())
    print(json.dumps({**result, "seconds": time.perf_counter() - started}), flush=True)


def own(job: dict[str, Any]) -> None:
    """The shipped probe: visit, extract, judge."""
    from openacorn.audit.worker import get_ready
    from openacorn.core.audit.assemble import assemble
    from openacorn.core.audit.check import run_checks
    from openacorn.core.audit.evidence import ListingFacts
    from openacorn.net.client import Client
    from openacorn.net.probes.site import SiteProbe

    settings = Settings.model_validate(job["settings"])
    get_ready()  # as a worker does before its first audit

    async def work() -> dict[str, Any]:
        limit, read = asyncio.Semaphore(IN_FLIGHT), 0
        async with Client(settings) as client:
            probe = SiteProbe(client, lambda _: settings.region)

            async def one(url: str) -> None:
                nonlocal read
                async with limit:
                    crawl, _ = await probe.visit(url)
                findings = run_checks(assemble(ListingFacts(url, url, "bench", ""), crawl))
                read += bool(findings) and crawl.pages is not None

            await asyncio.gather(*map(one, job["sites"]))
        return {"sites": read}

    _go(work)


def ceiling(job: dict[str, Any]) -> None:
    """The same requests by the same client, with nothing read out of the answers."""
    from openacorn.net.client import Client
    from openacorn.net.errors import FetchError

    settings = Settings.model_validate(job["settings"])

    async def work() -> dict[str, Any]:
        limit, read = asyncio.Semaphore(IN_FLIGHT), 0
        async with Client(settings) as client:

            async def one(requests: list[list[str]]) -> None:
                nonlocal read
                async with limit:
                    for method, url in requests:
                        with contextlib.suppress(FetchError):
                            await client.fetch(url, method=method)
                read += 1

            await asyncio.gather(*(one(job["requests"][url]) for url in job["sites"]))
        return {"sites": read}

    _go(work)


def framework(job: dict[str, Any]) -> None:
    """The general-purpose crawling framework (Scrapy), with its own selectors, the same pages and the same files asked for."""
    from bench.framework import crawl

    crawl(job["sites"], IN_FLIGHT)


if __name__ == "__main__":
    {"own": own, "ceiling": ceiling, "framework": framework}[sys.argv[1]](json.loads(Path(sys.argv[2]).read_text()))
