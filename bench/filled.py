"""A store full of businesses that were drawn, and the application running on it."""

import json
import os
import random
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import orjson

from openacorn.core.audit.check import all_checks
from openacorn.core.score.columns import OUTCOMES
from openacorn.db.database import Database
from openacorn.settings import Settings
from openacorn.settings_file import save_settings
from openacorn.sim.serve import free_ports

BATCH = 10_000
TRADES, TOWNS = ("vets", "florists", "opticians", "locksmiths"), tuple(f"Town {number:02d}" for number in range(40))
WORDS = ("Harbour", "Anchor", "Lantern", "Gannet")
OFFERS = ("new_website", "mobile_rebuild", "search_basics", "")
INSERT = """
INSERT INTO business (name, trade, town, website, offer, score, value, fit, reach, reviews, rating, distance_m, outcomes, changed)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1)
"""


def fill_businesses(folder: Path, count: int) -> None:
    """Make a data folder with `count` businesses, the same ones each time."""
    save_settings(folder, Settings())
    database = Database(folder / "acorn.db")
    rng = random.Random(4)
    checks, kinds = [check.id for check in all_checks()], [str(outcome) for outcome in OUTCOMES]
    for start in range(0, count, BATCH):
        rows = []
        for number in range(start, min(count, start + BATCH)):
            outcomes = dict(zip(checks, rng.choices(kinds, (2, 1, 4, 1, 2), k=len(checks)), strict=True))
            site = f"https://b{number}.example/" if rng.random() < 0.8 else ""
            drawn = (
                rng.choice(OFFERS),
                rng.randrange(100),
                rng.random() * 200,
                rng.random(),
                rng.random(),
                rng.randrange(500),
            )
            rows.append((
                f"{rng.choice(WORDS)} {number}", rng.choice(TRADES), rng.choice(TOWNS), site, *drawn, rng.random() * 5,
                rng.random() * 9e4, orjson.dumps(outcomes).decode(),
            ))  # fmt: skip
        with database.write() as conn:
            conn.executemany(INSERT, rows)
    with database.write() as conn:
        conn.execute("UPDATE change_counter SET number = 1")
    database.close()


def get_json(url: str) -> Any:
    """Ask the application."""
    with urllib.request.urlopen(url, timeout=600) as answer:
        return json.load(answer)


@contextmanager
def running_on(folder: Path) -> Iterator[tuple[str, int]]:
    """The application on a data folder, once it answers; gives (address, process id)."""
    port = free_ports(1)[0]
    command = [sys.executable, "-m", "openacorn.cli", "serve", "--data", str(folder), "--port", str(port)]
    server = subprocess.Popen(command, env=os.environ, stdout=subprocess.DEVNULL)
    try:
        for _ in range(6000):
            try:
                get_json(f"http://127.0.0.1:{port}/api/status")
                break
            except OSError:
                time.sleep(0.01)
        yield f"http://127.0.0.1:{port}", server.pid
    finally:
        server.terminate()
        server.wait(timeout=120)
