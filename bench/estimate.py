"""How long a plan's estimate takes in a store of 100,000 businesses after 50 runs, read from the store as the screen does."""

import random
import sqlite3
import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from openacorn.business import snapshot
from openacorn.core.trades.catalogue import OWN
from openacorn.db.database import Database
from openacorn.gather.estimate import estimate, held_points
from openacorn.gather.store import places
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings

BUSINESSES, RUNS, TOWNS, ROUNDS = 100_000, 50, 1_500, 9
TRADES = tuple(trade.id for trade in OWN[:6])
SOUTH, WEST, WIDE = -38.0, 160.0, 2.0
"""A square of degrees that holds everything."""
AT = "2026-09-01T00:00:00+00:00"


def _spot(rng: random.Random) -> tuple[float, float]:
    return SOUTH + WIDE * rng.random(), WEST + WIDE * rng.random()


def _areas(rng: random.Random) -> tuple[dict[str, Any], ...]:
    """One to three circles, of a town or of a district."""
    return tuple(
        {"name": "area", "lat": lat, "lon": lon, "radius_m": rng.choice((8_000, 40_000, 120_000))}
        for lat, lon in (_spot(rng) for _ in range(rng.randint(1, 3)))
    )


def _rows(rng: random.Random) -> Iterator[tuple[Any, ...]]:
    for number in range(1, BUSINESSES + 1):
        site = f"https://firm{number}.example/" if rng.random() < 0.8 else ""
        yield (number, f"Firm {number}", rng.choice(TRADES), *_spot(rng), site, AT, '{"search_rank": "ok"}')


def _fill(conn: sqlite3.Connection, rng: random.Random) -> None:
    towns = (("Town", *_spot(rng)) for _ in range(TOWNS))
    places.replace_places(
        conn,
        [
            {"name": f"{name} {number}", "within": "", "kind": "town", "lat": lat, "lon": lon, "residents": 3_000, "radius_km": 3.0}
            for number, (name, lat, lon) in enumerate(towns)
        ],
    )  # fmt: skip
    conn.executemany(
        "INSERT INTO business (id, name, trade, lat, lon, website, audited_at, outcomes, changed)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, 1)",
        _rows(rng),
    )
    numbers = range(1, BUSINESSES + 1)
    conn.executemany(
        "INSERT INTO listing (id, source, source_id, trade, body, seen_at, business_id) VALUES (?, 'map_data', ?, '', '{}', ?, ?)",
        ((number, str(number), AT, number) for number in numbers),
    )
    around = '{"people": {"people": [{"name": "A. Person"}]}}'
    conn.executemany(
        "INSERT INTO audit (business_id, website, at, seconds, around) VALUES (?, '', ?, 1, ?)",
        ((number, AT, around) for number in numbers),
    )
    conn.executemany(
        "INSERT INTO contact VALUES (?, 'email', ?, 'page', '', '')",
        ((number, f"info@firm{number}.example") for number in numbers),
    )
    for number in range(RUNS):
        plan = Plan(tuple(rng.sample(TRADES, 3)), _areas(rng))
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, f"Sweep {number}", sweeps.plan_to_json(plan), AT), AT)
        sweeps.set_state(conn, run, "done", at=AT)


def measure_estimate() -> dict[str, float]:
    """Milliseconds of an estimate, median and longest, each of another plan."""
    rng = random.Random(5)
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "acorn.db")
        try:
            with database.write() as conn:
                _fill(conn, rng)
            following = snapshot.Snapshot(database, lambda: ("search_rank",))
            following.warm()
            times = []
            for _ in range(ROUNDS):
                plan = Plan(tuple(rng.sample(TRADES, 3)), _areas(rng))
                started = time.perf_counter()
                with following.current() as grid:
                    held = held_points(grid)
                with database.read() as conn:
                    found = estimate(conn, plan, Settings(), held)
                times.append((time.perf_counter() - started) * 1000)
                if not found.rows:
                    raise AssertionError("there is nothing in the estimate")
        finally:
            database.close()
    return {"median_ms": round(statistics.median(times), 1), "max_ms": round(max(times), 1)}
