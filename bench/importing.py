"""`./acorn bench import`: rows a second read from a file into the store, and listings a second merged into what is held."""

import csv
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from bench.noisy_listings import EASY, noisy_listings
from openacorn.business.store.listings import put_listings
from openacorn.core.gather.file_columns import read_row
from openacorn.core.gather.listing import Listing
from openacorn.db.batches import batches
from openacorn.db.database import Database
from openacorn.gather.importer import FileLane, folder_of
from openacorn.gather.store import imports
from openacorn.match.merging import merge_new_listings
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings

ROWS = 100_000
"""Rows of the file that is read."""

HELD, NEW, PIECE = (10_000, 100_000), 2_000, 400
"""Listings that are held when NEW others, PIECE in a transaction, are merged into them."""

FIELDS = ("name", "category", "street", "town", "postcode", "phone", "website", "lat", "lon")


def _listings(count: int) -> list[Listing]:
    rows, _ = noisy_listings(count, EASY)
    columns = {name: name for name in (*FIELDS, "source")} | {"source_id": "id"}
    return [read_row(row, columns, "", "") for row in rows]


def reading(folder: Path) -> float:
    """Rows a second, from a CSV file to listings in the store, ready to be merged."""
    rows, _ = noisy_listings(ROWS, EASY)
    database = Database(folder / "read.db")
    with database.write() as conn:
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, "file", "{}", "now"), "now")
        number = imports.add_import(conn, "rows", "rows.csv", "now")
        imports.set_columns(conn, number, {name: name for name in FIELDS} | {"source_id": "id"}, "rows", "")
        source = imports.get_import(conn, number).source
        tasks.add_tasks(conn, run, "query", [(source, source)], lane=source)
    path = folder_of(database) / str(number)
    path.parent.mkdir(exist_ok=True)
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.DictWriter(file, [*FIELDS, "id"], extrasaction="ignore")
        writer.writeheader()
        writer.writerows(rows)
    lane = FileLane(run, source, Plan((), ()), database, Settings(region="AU"), lambda: False)
    started = time.perf_counter()
    lane.read()
    took = time.perf_counter() - started
    database.close()
    return ROWS / took


def merging(folder: Path) -> dict[str, float]:
    """Listings held → listings a second merged into them, PIECE in a transaction, each of another firm or of one held."""
    settings, database = Settings(region="AU"), Database(folder / "merge.db")
    listings, found = _listings(max(HELD) + NEW), {}
    with database.write() as conn:
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, "file", "{}", "now"), "now")
    done = 0
    for held in HELD:
        _merge(database, run, listings[done:held], settings)
        started = time.perf_counter()
        _merge(database, run, listings[held : held + NEW], settings)
        found[str(held)] = NEW / (time.perf_counter() - started)
        done = held + NEW
    database.close()
    return found


def _merge(database: Database, run: int, listings: Sequence[Listing], settings: Settings) -> None:
    for piece in batches(listings, PIECE):
        with database.write() as conn:
            stored = put_listings(conn, run, "", piece, "2026-01-01T00:00:00+00:00")
            merge_new_listings(conn, stored.to_merge, settings)


def bench_import() -> tuple[dict[str, Any], str]:
    """Measure both; return (figures, text)."""
    with tempfile.TemporaryDirectory() as name:
        read, merged = reading(Path(name)), merging(Path(name))
    figures = {"rows_a_second": round(read), "merged_a_second": {held: round(rate) for held, rate in merged.items()}}
    lines = [f"{ROWS:,} rows of a CSV file into the store: {read:,.0f} a second"]
    lines += [f"{NEW:,} listings merged into {int(held):,} held: {rate:,.0f} a second" for held, rate in merged.items()]
    return figures, "\n".join(lines)
