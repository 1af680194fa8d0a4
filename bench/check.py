"""`./acorn bench --check`: ratios of one run beside those that are on record; one that fell by more than 15 % is a failure.

A ratio is ours beside a peer or a ceiling that runs in turn with it, so that it holds on any machine. `python -m bench.check`
puts the ratios of this machine on record.
"""

import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import orjson

from bench.audit import measure_throughput
from bench.desk import SIZES, measure_queries
from bench.rerank import measure_rerank
from openacorn.core.audit.extract.phone_numbers import parse_phone, read_by_library
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import REGISTRY

RECORD = Path(__file__).parent / "ratios.json"
FALL = 0.15
NUMBERS, ROUNDS = 3_000, 5


def _audit() -> dict[str, float]:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make_world(folder / "world")
        with running_world(folder / "world") as world:
            found = measure_throughput(folder / "world", Settings(region="AU", world=world, **REGISTRY), folder)
    return {
        "audit, sites a second, over a general-purpose framework": found["own_over_framework"],
        "audit, sites a second, over the same fetches unread": found["own_over_ceiling"],
    }


def _table() -> dict[str, float]:
    times = measure_queries(SIZES[0])
    found = {f"table, {query}: polars' time over ours": row["polars"] / row["own"] for query, row in times.items()}
    return found | {"re-ranking: polars' time over ours": measure_rerank(SIZES[0])["times"]}


def _numbers() -> dict[str, float]:
    raw = [f"(03) 5550 {number:04d}" for number in range(NUMBERS)]
    readers: dict[str, Callable[[str], str | None]] = {
        "own": lambda text: parse_phone(text, "AU"),
        "library": lambda text: read_by_library(text, "AU"),
    }
    times: dict[str, list[float]] = {name: [] for name in readers}
    for _ in range(ROUNDS):
        parse_phone.cache_clear()
        for name, read in readers.items():
            started = time.perf_counter()
            for text in raw:
                read(text)
            times[name].append(time.perf_counter() - started)
    middle = {name: statistics.median(found) for name, found in times.items()}
    return {"telephone numbers: the library's time over ours": middle["library"] / middle["own"]}


def measure_ratios() -> dict[str, float]:
    """Every ratio, the larger the better."""
    found = _numbers() | _table() | _audit()
    return {name: round(ratio, 2) for name, ratio in found.items()}


def fallen(now: dict[str, float], before: dict[str, float]) -> list[str]:
    """Names of the ratios that fell by more than FALL, or that are not measured any more."""
    return [name for name, ratio in before.items() if now.get(name, 0.0) < ratio * (1 - FALL)]


def bench_check() -> tuple[dict[str, Any], str, bool]:
    """Measure; return (figures, text, whether no ratio fell)."""
    now, before = measure_ratios(), orjson.loads(RECORD.read_bytes())
    lost = fallen(now, before)
    width = max(map(len, now))
    lines = [
        f"{name:<{width}}{before.get(name, float('nan')):>8.2f}{ratio:>8.2f}{'  fell' if name in lost else ''}"
        for name, ratio in now.items()
    ]
    lines.insert(0, f"{'':<{width}}{'before':>8}{'now':>8}")
    lines.append(f"{len(lost)} fell by more than {FALL:.0%}" if lost else f"none fell by more than {FALL:.0%}")
    return {"now": now, "before": before, "fallen": lost}, "\n".join(lines), not lost


if __name__ == "__main__":
    RECORD.write_bytes(orjson.dumps(measure_ratios(), option=orjson.OPT_INDENT_2) + b"\n")
