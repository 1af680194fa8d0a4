"""`./acorn bench opening`: from a start of the application to the table; find, a change; a browser's first load on a slow line."""

import json
import statistics
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any

from bench.filled import fill_businesses, get_json, running_on
from bench.first_load import first_load

SIZES = (100_000, 1_000_000)
TYPED = ("har", "harbour 77", "habour 7712", "lantern 9999", "b77123.example", "zzqq")
PAGE = "/api/businesses?sort=-value&limit=100"
ROUNDS = 5


def resident_mb(pid: int) -> int:
    """Memory of a process that is in use, in MB (Linux)."""
    status = Path(f"/proc/{pid}/status").read_text()
    return int(next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1]) // 1024


def _took_ms(url: str) -> float:
    started = time.perf_counter()
    get_json(url)
    return round((time.perf_counter() - started) * 1000, 1)


def _change_one(url: str, number: int) -> None:
    body = json.dumps({"kind": "tag", "word": "ask again", "ids": [number]}).encode()
    request = urllib.request.Request(f"{url}/api/actions", body, {"Content-Type": "application/json"})
    urllib.request.urlopen(request, timeout=60).read()


def _measure(folder: Path) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name in ("first", "second"):
        with running_on(folder) as (url, pid):
            found[f"{name}_start_ms"] = _took_ms(url + PAGE)
            found[f"{name}_start_counts_ms"] = _took_ms(f"{url}/api/businesses/facets")
            if name == "first":
                continue
            found["page_ms"] = statistics.median(
                _took_ms(f"{url}{PAGE}&trade={trade}") for trade in ("vets", "florists")
            )
            found["find_ms"] = {text: _find_ms(url, text) for text in TYPED}
            after = []
            for number in range(1, ROUNDS + 1):
                _change_one(url, number)
                after.append(_took_ms(url + PAGE))
            found["after_a_change_ms"] = statistics.median(after)
            found["resident_mb"] = resident_mb(pid)
    return found


def _find_ms(url: str, text: str) -> float:
    return statistics.median(_took_ms(f"{url}/api/find?q={text.replace(' ', '%20')}") for _ in range(ROUNDS))


def bench_opening() -> tuple[dict[str, Any], str]:
    """Measure at both sizes, the application in a process of its own; return (figures, text)."""
    figures: dict[str, Any] = {}
    lines = []
    for size in SIZES:
        with tempfile.TemporaryDirectory() as name:
            fill_businesses(Path(name), size)
            found = figures[str(size)] = _measure(Path(name))
        lines += [
            f"{size:,} businesses, over HTTP, from the moment the application answers",
            f"  first page: first start {found['first_start_ms']} ms, any other start {found['second_start_ms']} ms",
            f"  all counts after that: {found['second_start_counts_ms']} ms; a page of one trade {found['page_ms']} ms; "
            f"a page after a change {found['after_a_change_ms']} ms",
            "  find, a keystroke: " + ", ".join(f"“{text}” {ms} ms" for text, ms in found["find_ms"].items()),
            f"  memory in use {found['resident_mb']} MB",
        ]
    found = figures["first_load"] = first_load()
    said = found.get("missing") or f"{found['painted_ms']} ms (worst {found['worst_ms']}), {found['kilobytes']} kB"
    lines.append(f"the table's first rows in a browser that has nothing yet, at 1.6 Mbit/s and 40 ms: {said}")
    return figures, "\n".join(lines)
