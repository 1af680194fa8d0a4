"""`./acorn bench desk`: filter, sort, count and facets at 100,000 businesses, beside general-purpose dataframes."""

import random
import statistics
import tempfile
import time
from collections.abc import Callable
from typing import Any

import duckdb
import polars as pl

from openacorn.core.audit.finding import Outcome
from openacorn.core.filters import Filter
from openacorn.core.grid import OUTCOMES, Grid, GridRow

ROWS = 100_000
ROUNDS = 15
PAGE = 100
CHECKS = tuple(f"check_{number:02d}" for number in range(17))
TRADES = tuple(f"trade-{number:02d}" for number in range(12))
TOWNS = tuple(f"Town {number:02d}" for number in range(40))
OFFERS = ("", "new_website", "mobile_rebuild", "search_basics", "ads_tracking")

QUERIES: dict[str, Filter] = {
    "narrow": Filter(trades=("trade-03",), towns=("Town 07",), checks={"check_04": (Outcome.GAP,)}),
    "broad": Filter(checks={"check_02": (Outcome.GAP, Outcome.PARTIAL, Outcome.OK)}),
    "text": Filter(text="harbour 77"),
    "none": Filter(),
}


def synthetic_rows(count: int = ROWS, seed: int = 1) -> list[GridRow]:
    """Businesses for measuring; the same ones for the same seed."""
    rng = random.Random(seed)
    kinds = list(OUTCOMES)
    return [
        GridRow(
            id=number, name=f"{rng.choice(('Harbour', 'Anchor', 'Lantern', 'Gannet'))} {number}", trade=rng.choice(TRADES),
            town=rng.choice(TOWNS), website="https://a.example/" if rng.random() < 0.8 else "", offer=rng.choice(OFFERS),
            rejected=rng.random() < 0.05,
            numbers={"score": float(rng.randrange(101)), "value": rng.random() * 200, "reviews": float(rng.randrange(500)),
                     "rating": rng.random() * 5, "distance": rng.random() * 9e4, "audited": 1.7e9},
            outcomes=dict(zip(CHECKS, rng.choices(kinds, weights=(2, 1, 4, 1, 2), k=len(CHECKS)), strict=True)),
        )
        for number in range(1, count + 1)
    ]  # fmt: skip


def _frame(rows: list[GridRow]) -> pl.DataFrame:
    columns: dict[str, list[Any]] = {
        "id": [r.id for r in rows], "text": [f"{r.name}\t{r.town}\t{r.website}".lower() for r in rows], "trade": [r.trade for r in rows],
        "town": [r.town for r in rows], "offer": [r.offer for r in rows], "website": [bool(r.website) for r in rows],
        "rejected": [r.rejected for r in rows], "value": [r.numbers["value"] for r in rows],
    }  # fmt: skip
    columns |= {check: [str(r.outcomes[check]) for r in rows] for check in CHECKS}
    frame = pl.DataFrame(columns)
    return frame.with_columns(pl.col(["trade", "town", "offer", *CHECKS]).cast(pl.Categorical))


FACETS = ("trade", "town", "offer", "website", *CHECKS)
Answer = tuple[int, list[int]]


def _own(grid: Grid, chosen: Filter) -> Answer:
    mask = grid.select(chosen)
    grid.facets(chosen)
    return int(mask.sum()), grid.order(mask, "-value", 0, PAGE)


def _polars(frame: pl.DataFrame, chosen: Filter) -> Answer:
    wanted = ~pl.col("rejected")
    for name, values in (("trade", chosen.trades), ("town", chosen.towns)):
        if values:
            wanted &= pl.col(name).is_in(list(values))
    for check, outcomes in chosen.checks.items():
        wanted &= pl.col(check).is_in([str(outcome) for outcome in outcomes])
    if chosen.text:
        wanted &= pl.col("text").str.contains(chosen.text, literal=True)
    found = frame.filter(wanted)
    for facet in FACETS:
        found[facet].value_counts()
    return found.height, found.top_k(PAGE, by="value")["id"].to_list()


def _duckdb(connection: Any, chosen: Filter) -> Answer:
    parts = ["NOT rejected"]
    for name, values in (("trade", chosen.trades), ("town", chosen.towns)):
        if values:
            parts.append(f"{name} IN ({', '.join(repr(value) for value in values)})")
    for check, outcomes in chosen.checks.items():
        parts.append(f"{check} IN ({', '.join(repr(str(outcome)) for outcome in outcomes)})")
    if chosen.text:
        parts.append(f"contains(text, '{chosen.text}')")
    where = " AND ".join(parts)
    sets = ", ".join(f"({facet})" for facet in FACETS)
    columns = ", ".join(FACETS)
    connection.execute(f"SELECT {columns}, count(*) FROM rows WHERE {where} GROUP BY GROUPING SETS ({sets})").fetchall()
    total = connection.execute(f"SELECT count(*) FROM rows WHERE {where}").fetchone()[0]
    page = connection.execute(f"SELECT id FROM rows WHERE {where} ORDER BY value DESC LIMIT {PAGE}").fetchall()
    return int(total), [row[0] for row in page]


def bench_desk() -> tuple[dict[str, Any], str]:
    """Time the same queries alternately; return (figures, text). Answers are compared before anything is timed."""
    rows = synthetic_rows()
    grid = Grid(CHECKS)
    grid.put(rows)
    frame = _frame(rows)
    connection = duckdb.connect()
    with tempfile.NamedTemporaryFile(suffix=".csv") as file:
        frame.write_csv(file.name)
        connection.execute(f"CREATE TABLE rows AS SELECT * FROM read_csv('{file.name}', quote='\"')")
    contenders: dict[str, Callable[[Filter], Answer]] = {
        "own": lambda chosen: _own(grid, chosen),
        "polars": lambda chosen: _polars(frame, chosen),
        "duckdb": lambda chosen: _duckdb(connection, chosen),
    }
    figures: dict[str, Any] = {"rows": ROWS, "milliseconds": {}}
    for name, chosen in QUERIES.items():
        answers = {kind: run(chosen) for kind, run in contenders.items()}
        if len({(total, tuple(page)) for total, page in answers.values()}) != 1:
            raise AssertionError(f"the contenders disagree on {name}: {[answer[0] for answer in answers.values()]}")
        times: dict[str, list[float]] = {kind: [] for kind in contenders}
        for _ in range(ROUNDS):
            for kind, run in contenders.items():
                grid.select(Filter(website="none"))  # the grid remembers its last filter: make it forget this one
                started = time.perf_counter()
                run(chosen)
                times[kind].append((time.perf_counter() - started) * 1000)
        figures["milliseconds"][name] = {kind: round(statistics.median(found), 2) for kind, found in times.items()}
    lines = [f"Page of {PAGE} + count + facets over {ROWS:,} businesses, medians of {ROUNDS} alternating rounds, ms"]
    lines += [
        f"  {name:<8}" + "".join(f"{kind} {ms:>8.2f}   " for kind, ms in row.items())
        for name, row in figures["milliseconds"].items()
    ]
    return figures, "\n".join(lines)
