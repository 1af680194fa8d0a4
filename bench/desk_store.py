"""What the store adds to the desk's figures: a page far down, and a reader beside a writer going flat out."""

import sqlite3
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from openacorn.core.desk.filters import Filter
from openacorn.core.desk.grid_row import GridRow
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.db.database import Database

PAGE, ROUNDS = 100, 9
READS = 400
WRITER = """
import sys, time
from pathlib import Path
from openacorn.db.database import Database
database, until, written = Database(Path(sys.argv[1])), time.monotonic() + float(sys.argv[2]), 0
print("ready", flush=True)
while time.monotonic() < until:
    with database.write() as conn:
        conn.executemany(
            "UPDATE business SET score = ?, changed = changed + 1 WHERE id = ?",
            [(written % 100, written * 7 % 20000 + n) for n in range(200)],
        )
    written += 1
print(written)
"""


def deep_page(folder: Path, rows: Sequence[GridRow], grid: ScoredGrid) -> dict[str, Any]:
    """The last page of everything by value: the grid's kept order beside OFFSET over an index."""
    conn = sqlite3.connect(folder / "far.db")
    conn.execute("CREATE TABLE business (id INTEGER PRIMARY KEY, name TEXT, value REAL)")
    conn.executemany("INSERT INTO business VALUES (?, ?, ?)", ((r.id, r.name, r.numbers["value"]) for r in rows))
    conn.execute("CREATE INDEX by_value ON business (value DESC, id)")
    conn.execute("ANALYZE")
    mask = grid.select(Filter(state="all"))
    offset = int(mask.sum()) - PAGE
    grid.order(mask, "-value", 0, PAGE)  # whoever is at the end has seen the beginning
    own, by_offset = [], []
    for _ in range(ROUNDS):
        started = time.perf_counter()
        ours = grid.order(mask, "-value", offset, PAGE)
        own.append((time.perf_counter() - started) * 1000)
        started = time.perf_counter()
        theirs = conn.execute(
            "SELECT id FROM business ORDER BY value DESC, id LIMIT ? OFFSET ?", (PAGE, offset)
        ).fetchall()
        by_offset.append((time.perf_counter() - started) * 1000)
        if ours != [row[0] for row in theirs]:
            raise AssertionError("the last pages differ")
    conn.close()
    middle = statistics.median(own), statistics.median(by_offset)
    return {"own": round(middle[0], 4), "offset": round(middle[1], 2), "times": round(middle[1] / middle[0], 1)}


def _reads(database: Database) -> tuple[list[float], int]:
    """Milliseconds of reading pages of a hundred rows as the table does, and how often the store was busy."""
    times, busy = [], 0
    for number in range(READS):
        started = time.perf_counter()
        try:
            with database.read() as conn:
                conn.execute(
                    "SELECT * FROM business WHERE id BETWEEN ? AND ?", (number * 37 % 19000, number * 37 % 19000 + PAGE)
                ).fetchall()
        except sqlite3.OperationalError:
            busy += 1
        times.append((time.perf_counter() - started) * 1000)
    return times, busy


def reader_beside_writer() -> dict[str, Any]:
    """A reader's median alone, and beside a process that writes as fast as it can."""
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "acorn.db"
        database = Database(path)
        with database.write() as conn:
            conn.executemany(
                "INSERT INTO business (id, name, trade, town, changed) VALUES (?, ?, 'vets', 'Larch Flat', 1)",
                ((number, f"Business {number}") for number in range(20_000)),
            )
        alone, _ = _reads(database)
        command = [sys.executable, "-c", WRITER, str(path), "6"]
        writer = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        assert writer.stdout is not None
        writer.stdout.readline()
        beside, busy = _reads(database)
        written = int(writer.communicate()[0].strip() or 0)
        database.close()
    middle = statistics.median(alone), statistics.median(beside)
    return {
        "alone_ms": round(middle[0], 3), "beside_ms": round(middle[1], 3), "times": round(middle[1] / middle[0], 2), "busy": busy,
        "writes": written,
    }  # fmt: skip
