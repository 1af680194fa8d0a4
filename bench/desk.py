"""`./acorn bench desk`: filter, sort, count, facets and re-ranking at 100,000 and 1,000,000 businesses, beside general-purpose
dataframes; a page far down beside one by offset; a reader beside a writer."""

import gc
import random
import statistics
import tempfile
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import duckdb
import polars as pl

from bench.desk_busy import READERS, table_while_busy
from bench.desk_screen import facet_click
from bench.desk_store import deep_page, reader_beside_writer
from bench.estimate import BUSINESSES, RUNS, measure_estimate
from bench.rerank import measure_rerank
from openacorn.core.desk.filters import Filter, Pick
from openacorn.core.desk.grid_row import GridRow, category_of
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.core.score.columns import OUTCOMES
from openacorn.core.score.service import all_services

SIZES = (100_000, 1_000_000)
ROUNDS = 7
PAGE = 100
CHECKS = tuple(f"check_{number:02d}" for number in range(17))
TRADES = tuple(f"trade-{number:02d}" for number in range(12))
TOWNS = tuple(f"Town {number:02d}" for number in range(40))
OFFERS = ("", "new_website", "mobile_rebuild", "search_basics", "ads_setup")
TAGS = ("warm", "spring", "ask again")

QUERIES: dict[str, Filter] = {
    "narrow": Filter(
        picks={"trade": Pick(any=("trade-03",)), "town": Pick(any=("Town 07",)), "check.check_04": Pick(any=("gap",))}
    ),
    "broad": Filter(picks={"check.check_02": Pick(any=("gap", "partial", "ok"))}),
    "text": Filter(text="harbour 77"),
    "none": Filter(),
}


def synthetic_rows(count: int, seed: int = 1, checks: Sequence[str] = CHECKS) -> list[GridRow]:
    """Businesses for measuring; the same ones for the same seed."""
    rng = random.Random(seed)
    kinds = list(OUTCOMES)
    weights = (2, 1, 4, 1, 2)
    return [
        GridRow(
            id=number, name=f"{rng.choice(('Harbour', 'Anchor', 'Lantern', 'Gannet'))} {number}", trade=rng.choice(TRADES),
            town=rng.choice(TOWNS), website="https://a.example/" if rng.random() < 0.8 else "", offer=rng.choice(OFFERS),
            state=rng.choices(("held", "rejected", "relationship"), (93, 5, 2))[0],
            numbers={"score": float(rng.randrange(101)), "value": rng.random() * 200, "reviews": float(rng.randrange(500)),
                     "rating": rng.random() * 5, "distance": rng.random() * 9e4, "audited": 1.7e9 + 8e4 * rng.randrange(30),
                     "fit": 0.05 + 0.9 * rng.random(), "reach": 0.05 + 0.9 * rng.random()},
            outcomes=dict(zip(checks, rng.choices(kinds, weights=weights, k=len(checks)), strict=True)),
            groups={"tag": [tag for tag in TAGS if rng.random() < 0.2]},
        )
        for number in range(1, count + 1)
    ]  # fmt: skip


def _frame(rows: list[GridRow]) -> pl.DataFrame:
    columns: dict[str, list[Any]] = {
        "id": [r.id for r in rows], "text": [f"{r.name}\t{r.town}\t{r.website}".lower() for r in rows], "trade": [r.trade for r in rows],
        "town": [r.town for r in rows], "offer": [category_of(r, "offer") for r in rows], "website": [bool(r.website) for r in rows],
        "held_back": [r.state != "held" for r in rows], "value": [r.numbers["value"] for r in rows],
    }  # fmt: skip
    columns |= {check: [str(r.outcomes[check]) for r in rows] for check in CHECKS}
    frame = pl.DataFrame(columns)
    return frame.with_columns(pl.col(["trade", "town", "offer", *CHECKS]).cast(pl.Categorical))


FACETS = ("trade", "town", "offer", "website", *CHECKS)
OWN_FACETS = frozenset({"trade", "town", "offer", "website", *(f"check.{check}" for check in CHECKS)})
Counts = dict[str, dict[str, int]]
Answer = tuple[int, list[int], Counts]
"""(how many, the page, facet → value → count). Each facet is counted without its own restriction, by every contender."""


def _column(facet: str) -> str:
    return facet.removeprefix("check.")


def _own(grid: ScoredGrid, chosen: Filter) -> Answer:
    mask = grid.select(chosen)
    counts = grid.facets(chosen, only=OWN_FACETS)
    return (
        int(mask.sum()),
        grid.order(mask, "-value", 0, PAGE),
        {_column(name): found for name, found in counts.items()},
    )


def _polars(frame: pl.DataFrame, chosen: Filter) -> Answer:
    parts = {"": ~pl.col("held_back")}
    for facet, pick in chosen.picks.items():
        parts[_column(facet)] = pl.col(_column(facet)).is_in(list(pick.any))
    if chosen.text:
        parts["text"] = pl.col("text").str.contains(chosen.text, literal=True)
    found = frame.filter(list(parts.values()))
    counts = {}
    for facet in FACETS:
        rows = found if facet not in parts else frame.filter([part for name, part in parts.items() if name != facet])
        counts[facet] = dict(rows[facet].value_counts().iter_rows())
    return found.height, found.top_k(PAGE, by="value")["id"].to_list(), counts


def _duckdb(connection: Any, chosen: Filter) -> Answer:
    parts = {"": "NOT held_back"}
    for facet, pick in chosen.picks.items():
        parts[_column(facet)] = f"{_column(facet)} IN ({', '.join(repr(value) for value in pick.any)})"
    if chosen.text:
        parts["text"] = f"contains(text, '{chosen.text}')"
    where = " AND ".join(parts.values())
    free = [facet for facet in FACETS if facet not in parts]
    sets, columns = ", ".join(f"({facet})" for facet in free), ", ".join(free)
    rows = connection.execute(
        f"SELECT {columns}, count(*) FROM rows WHERE {where} GROUP BY GROUPING SETS ({sets})"
    ).fetchall()
    counts: Counts = {facet: {} for facet in FACETS}
    for row in rows:
        at = next(place for place, value in enumerate(row[:-1]) if value is not None)
        counts[free[at]][row[at]] = row[-1]
    for facet in FACETS:
        if facet in parts:
            others = " AND ".join(part for name, part in parts.items() if name != facet)
            query = f"SELECT {facet}, count(*) FROM rows WHERE {others} GROUP BY 1"
            counts[facet] = dict(connection.execute(query).fetchall())
    total = connection.execute(f"SELECT count(*) FROM rows WHERE {where}").fetchone()[0]
    page = connection.execute(f"SELECT id FROM rows WHERE {where} ORDER BY value DESC LIMIT {PAGE}").fetchall()
    return int(total), [row[0] for row in page], counts


def _alike(answers: dict[str, Answer], name: str) -> None:
    """Raise AssertionError unless all contenders say the same; what nobody has is left out by some."""
    names = {"listed": True, "none": False}

    def plain(answer: Answer) -> tuple[int, tuple[int, ...], Counts]:
        counts = {
            facet: {str(names.get(value, value)): count for value, count in found.items() if count}
            for facet, found in answer[2].items()
        }
        return answer[0], tuple(answer[1]), counts

    first, *rest = (plain(answer) for answer in answers.values())
    if any(other != first for other in rest):
        raise AssertionError(f"the contenders disagree on {name}: {[answer[0] for answer in answers.values()]}")


def _queries(grid: ScoredGrid, frame: pl.DataFrame, connection: Any, rounds: int) -> dict[str, dict[str, float]]:
    """Query → contender → median milliseconds, alternating; answers are compared before anything is timed."""
    contenders: dict[str, Callable[[Filter], Answer]] = {
        "own": lambda chosen: _own(grid, chosen),
        "polars": lambda chosen: _polars(frame, chosen),
        "duckdb": lambda chosen: _duckdb(connection, chosen),
    }
    result = {}
    for name, chosen in QUERIES.items():
        answers = {kind: run(chosen) for kind, run in contenders.items()}
        _alike(answers, name)
        times: dict[str, list[float]] = {kind: [] for kind in contenders}
        for _ in range(rounds):
            for kind, run in contenders.items():
                # the grid remembers its last filter and order: make it forget them
                grid.order(grid.select(Filter(picks={"website": Pick(any=("none",))})), "-value", 0, 1)
                started = time.perf_counter()
                run(chosen)
                times[kind].append((time.perf_counter() - started) * 1000)
        result[name] = {kind: round(statistics.median(found), 2) for kind, found in times.items()}
    return result


def _rows(size: int) -> list[GridRow]:
    scored = sorted({rule.check for service in all_services() for rule in service.rules} | {"real_site"})
    return synthetic_rows(size, checks=(*CHECKS, *scored) if size == SIZES[0] else CHECKS)


def _filled(rows: list[GridRow]) -> tuple[ScoredGrid, float]:
    """(the grid, seconds to fill it)."""
    grid = ScoredGrid(tuple(rows[0].outcomes))
    started = time.perf_counter()
    grid.put(rows)
    return grid, time.perf_counter() - started


def _compared(folder: Path, rows: list[GridRow], grid: ScoredGrid) -> dict[str, dict[str, float]]:
    frame, connection = _frame(rows), duckdb.connect()
    path = folder / "rows.csv"
    frame.write_csv(path)
    connection.execute(f"CREATE TABLE rows AS SELECT * FROM read_csv('{path}', quote='\"', nullstr='no such text')")
    return _queries(grid, frame, connection, ROUNDS if len(rows) == SIZES[0] else 3)


def measure_queries(size: int) -> dict[str, dict[str, float]]:
    """Query → contender → median milliseconds."""
    rows = _rows(size)
    with tempfile.TemporaryDirectory() as folder:
        return _compared(Path(folder), rows, _filled(rows)[0])


def _measure(size: int) -> dict[str, Any]:
    """All figures of one size."""
    rows = _rows(size)
    grid, loading = _filled(rows)
    with tempfile.TemporaryDirectory() as folder:
        queries = _compared(Path(folder), rows, grid)
        far = deep_page(Path(folder), rows, grid)
    del rows
    gc.collect()
    return {
        "loading_s": round(loading, 2),
        "milliseconds": queries,
        "far_page_ms": far,
        "rerank_ms": measure_rerank(size),
    }


def _as_text(figures: dict[str, Any]) -> str:
    lines = []
    for size, found in figures["sizes"].items():
        lines.append(f"{int(size):,} businesses: page of {PAGE} + count + facets, medians of alternating rounds, ms")
        lines += [
            f"  {name:<8}" + "".join(f"{kind} {ms:>9.2f}   " for kind, ms in row.items())
            for name, row in found["milliseconds"].items()
        ]
        far, rank = found["far_page_ms"], found["rerank_ms"]
        lines.append(f"  last page: own {far['own']:.3f}, by offset in SQL {far['offset']:.2f} ({far['times']:.0f} ×)")
        lines.append(
            f"  one weight moved, {rank['services']} services: own {rank['own']:.1f}, polars recomputing {rank['polars']:.1f} ({rank['times']:.1f} ×)"
        )
    store = figures["reader_beside_writer"]
    lines.append(
        f"a reader's median: alone {store['alone_ms']:.2f} ms, beside a writer going flat out {store['beside_ms']:.2f} ms "
        f"({store['times']:.2f} ×), {store['busy']} busy errors, {store['writes']} writes"
    )
    planned = figures["estimate"]
    lines.append(
        f"a plan's estimate at {BUSINESSES:,} businesses after {RUNS} runs: median {planned['median_ms']} ms, "
        f"longest {planned['max_ms']} ms"
    )
    for work, row in figures["while_busy"].items():
        lines.append(
            f"the table for {READERS} readers beside {work} ({row['took_s']} s): p50 {row['p50_ms']} ms, p95 {row['p95_ms']} ms, "
            f"max {row['max_ms']} ms, {row['requests']} requests, {row['errors']} errors; "
            f"the machine's host gave {row['host_took_s']} s of processor time to others meanwhile"
        )
    click = figures["facet_click"]
    if "missing" in click:
        lines.append(f"a facet clicked on screen was not measured: {click['missing']}")
    else:
        lines.append(
            f"a facet clicked at 100,000, to the repainted table: median {click['median_ms']} ms, worst {click['worst_ms']} ms"
        )
    return "\n".join(lines)


def bench_desk() -> tuple[dict[str, Any], str]:
    """Measure at both sizes; return (figures, text)."""
    figures: dict[str, Any] = {"sizes": {str(size): _measure(size) for size in SIZES}}
    figures["reader_beside_writer"] = reader_beside_writer()
    figures["estimate"] = measure_estimate()
    figures["facet_click"] = facet_click()
    figures["while_busy"] = table_while_busy()
    return figures, _as_text(figures)
