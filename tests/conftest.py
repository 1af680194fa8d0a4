"""Fixtures: a small coast with its servers, and an application over it."""

import fcntl
import gc
import hashlib
import json
import os
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import hypothesis
import pytest

from openacorn.collecting import collect_seldom, keep_for_good
from openacorn.db.database import Database
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import REGISTRY, world_sources
from tests.application import application, clear_away

# timings belong in the benches: on a busy machine a property must not fail by the clock
hypothesis.settings.register_profile("suite", deadline=None)
hypothesis.settings.register_profile("fast", deadline=None, max_examples=15)
hypothesis.settings.load_profile("suite")

PER_TRADE = 130
"""Businesses of a trade on the tests' coast: every trade exceeds the listing service's cap of 60."""

REQUEST_SECONDS = 2.5
"""What a site that never answers costs a test; the coast's slow ones need longer and count as not answering here."""


@dataclass(frozen=True, slots=True)
class Coast:
    """The running world: its files, its truth, and settings that point at its servers."""

    folder: Path
    settings: Settings

    def read(self, name: str) -> Any:
        """One of the world's files."""
        return json.loads((self.folder / name).read_text(encoding="utf-8"))


def circle(lat: float, lon: float, radius_m: float, name: str = "here") -> dict[str, Any]:
    """A circular area as plans hold it."""
    return {"name": name, "lat": lat, "lon": lon, "radius_m": radius_m}


def remake(world: Path, host: str, **changes: Any) -> None:
    """Change a simulated site as its owner might; its server reads its files again when started."""
    rows = json.loads((world / "sites.json").read_text())
    for row in rows:
        if row["host"] == host:
            row |= changes
    (world / "sites.json").write_text(json.dumps(rows))


LONGEST = (
    "test_clean_clone.py",
    "test_fuzz.py",
    "test_gatherer.py",
    "test_sequences.py",
    "test_importer.py",
    "test_odd_lines.py",
)
"""Files that take minutes: begun first, so that no worker is left alone with one at the end."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Order files by how long they take; within a file nothing changes."""
    items.sort(key=lambda item: LONGEST.index(item.path.name) if item.path.name in LONGEST else len(LONGEST))


@pytest.fixture(scope="session", autouse=True)
def what_is_shared_ends() -> Iterator[None]:
    yield
    clear_away()


@pytest.fixture(scope="session", autouse=True)
def garbage_is_seldom_collected() -> Iterator[None]:
    """What the tests themselves are made of stays: looking through it again and again took a fifth of their time."""
    collect_seldom()
    keep_for_good()
    yield
    gc.unfreeze()


@pytest.fixture(scope="module", autouse=True)
def nothing_left_open() -> Iterator[None]:
    """What a module's tests left open is told at their end, and not in whatever test the collector next runs in."""
    yield
    gc.collect()


@pytest.fixture(scope="session")
def coast(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Coast]:
    folder = tmp_path_factory.mktemp("coast")
    make_world(folder, per_trade=PER_TRADE)
    with running_world(folder) as world:
        yield Coast(
            folder,
            Settings(
                agency="Wrenfold Studio",
                region="AU",
                world=world,
                sources=world_sources(world),
                request_seconds=REQUEST_SECONDS,
                browser_looks=0,
                **REGISTRY,
            ),
        )


VETS: dict[str, Any] = {
    "trades": ["vets"], "areas": [circle(-37.02, 160.02, 5000.0)], "sources": ["listing_service"], "facts": ["website", "contacts"],
}  # fmt: skip
TWO_SOURCES = VETS | {"trades": ["vets", "photographers"], "sources": ["listing_service", "map_data"]}
"""Plans for tests that need some audited businesses and do not mind which: each is swept once in a run of the tests."""

Swept = Callable[[dict[str, Any], Path], None]
"""Puts the store of a sweep by a plan into a data folder."""


@pytest.fixture(scope="session")
def swept(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Swept:
    """Each plan is swept once, by whichever of the test processes asks first; whoever asks gets a copy of what was found."""
    shared = tmp_path_factory.getbasetemp()
    if "PYTEST_XDIST_WORKER" in os.environ:
        shared = shared.parent

    def put(plan: dict[str, Any], folder: Path) -> None:
        kept = shared / f"swept-{hashlib.sha256(json.dumps(plan, sort_keys=True).encode()).hexdigest()[:16]}"
        with kept.with_suffix(".lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if not (kept / "whole").exists():
                _sweep(plan, kept, coast)
        with (
            closing(sqlite3.connect(kept / "acorn.db")) as source,
            closing(sqlite3.connect(folder / "acorn.db")) as target,
        ):
            source.backup(target)

    return put


def _sweep(plan: dict[str, Any], folder: Path, coast: Coast) -> None:
    folder.mkdir()
    with application(folder, coast.settings, coast.read("places.json")) as running:
        running.wait_for_run(running.post("/api/sweeps", {"name": "All", "plan": plan})["run_id"])
    (folder / "whole").touch()


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    made = Database(tmp_path / "acorn.db")
    yield made
    made.close()
