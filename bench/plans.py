"""`./acorn bench plans`: does a plan's estimate come true? Random plans, each after one run of its sources in the same region.

Towns and residents are those of the shipped gazetteer. Businesses are drawn (Poisson) in proportion to residents, with a level of
its own for each region, trade and town, and stand about their towns' centres; sources hold a part of them, and add rows that are
none. The questions are those of the shipped plans, answered here without a network.
"""

import random
import shutil
import statistics
import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np

from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.geo.geodesy import Circle, Point, Points
from openacorn.core.geo.tiles import Tile, bounding_tile
from openacorn.core.trades.catalogue import OWN, catalogue
from openacorn.core.trades.trade import Trade
from openacorn.db.database import Database
from openacorn.gather.estimate import HeldPoints, estimate
from openacorn.gather.queries import first_queries, follow_up
from openacorn.gather.sources._source import Reading, Source, source_of
from openacorn.gather.store import places
from openacorn.gather.store.places import Place
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings, SourceSettings

PAIRS = 60
SOURCES = {"listing_service": (0.85, 0.03, 0.0), "map_data": (0.4, 0.0, 0.0), "social_pages": (0.5, 0.0, 0.01)}
"""Source → (share of the businesses that it holds, price of a request, price of a row)."""

WITHIN = 0.2
REGION, OWN_LEVEL = 0.35, 0.12
"""Spread (standard deviation of the logarithm) of a region's businesses per resident about the national rate, and of a trade's and
a town's about the region's."""

NOISE = 0.08
"""Share of rows that are no such business."""

NEAR_M = 120_000.0
WORLD = Tile(-60.0, -180.0, 75.0, 180.0)


@dataclass
class Region:
    """What there is about a few towns: each trade's businesses, by town."""

    towns: list[Place]
    chance: random.Random
    level: float
    _there: dict[str, tuple[Any, Any, Any]] = field(default_factory=dict)

    def there(self, trade: Trade) -> tuple[Any, Any, Any]:
        """(latitudes, longitudes, names of the town) of a trade's businesses."""
        if trade.id not in self._there:
            own = self.level * self.chance.lognormvariate(0, OWN_LEVEL)
            drawn = np.random.default_rng(self.chance.randrange(2**32))
            lats, lons, names = [], [], []
            for town in self.towns:
                mean = trade.per_10k * town.residents / 10_000 * own * self.chance.lognormvariate(0, OWN_LEVEL)
                count = int(drawn.poisson(mean))
                metres = abs(drawn.normal(0, town.radius_km * 600, count))
                turn = drawn.uniform(0, 2 * np.pi, count)
                lats.append(town.lat + metres * np.cos(turn) / 111_195)
                lons.append(town.lon + metres * np.sin(turn) / (111_195 * np.cos(np.radians(town.lat))))
                names.append(np.full(count, town.name, object))
            self._there[trade.id] = np.concatenate(lats), np.concatenate(lons), np.concatenate(names)
        return self._there[trade.id]


def _rows(region: Region, query: Query, trade: Trade, share: float) -> int:
    """How many rows a source holds for a question."""
    lats, lons, names = region.there(trade)
    if query.tile is None:
        return round(int(np.sum(names == query.place)) * share * (1 + NOISE))
    circle = query.tile.covering_circle()
    north = (lats - circle.centre.lat) * 111_195
    east = (lons - circle.centre.lon) * 111_195 * np.cos(np.radians(circle.centre.lat))
    return round(int(np.sum(north**2 + east**2 <= circle.radius_m**2)) * share * (1 + NOISE))


ROW = Listing("x", "x", "x")


def _carry_out(database: Database, plan: Plan, region: Region) -> dict[str, tuple[int, int]]:
    """Ask all that a sweep would ask; return source → (requests, rows)."""
    made: dict[str, tuple[int, int]] = {}
    with database.write() as conn:
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, "x", sweeps.plan_to_json(plan), "now"), "now")
        for name in plan.sources:
            source, answers = source_of(name), list[tuple[Query, int]]()
            waiting = list(first_queries(conn, plan, name))
            while waiting:
                query = waiting.pop()
                count = _answer(region, query, source)
                answers.append((query, count))
                more = count == source.page_size and query.seen + count < min(source.cap, _held(region, query, name))
                reading = Reading((ROW,) * count, more)
                waiting += follow_up(query, reading, source, plan, catalogue())[0]
            _note(conn, run, name, answers)
            made[name] = len(answers), sum(count for _, count in answers)
        for name, (asked, _) in made.items():
            sweeps.add_requests(conn, run, name, asked, 0, 0.0)
        sweeps.set_state(conn, run, "done", at="now")
    return made


def _held(region: Region, query: Query, source: str) -> int:
    return _rows(region, query, catalogue().of(query.trade), SOURCES[source][0])


def _answer(region: Region, query: Query, source: Source) -> int:
    """Rows on this page of the answer."""
    return min(source.page_size, max(0, min(source.cap, _held(region, query, source.id)) - query.seen))


def _note(conn: Any, run: int, lane: str, answers: list[tuple[Query, int]]) -> None:
    tasks.add_tasks(conn, run, "query", ((query.key, "") for query, _ in answers), lane=lane)
    for unit, (_, count) in zip(tasks.claim(conn, run, "query", len(answers), lane=lane), answers, strict=True):
        tasks.finish(conn, unit.id, count)


def _held_points(region: Region, plan: Plan) -> HeldPoints:
    """The businesses that a run of a plan left in the store."""
    trades = sorted(plan.trades)
    lats, lons, codes = [], [], []
    for code, trade in enumerate(trades, 1):
        found = region.there(catalogue().of(trade))
        lats.append(found[0])
        lons.append(found[1])
        codes.append(np.full(len(found[0]), code))
    points = Points.of(np.concatenate(lats), np.concatenate(lons))
    inside = plan.territory.contains_many(points)
    kept = Points.of(points.lats[inside], points.lons[inside])
    return HeldPoints(kept, np.concatenate(codes)[points.order][inside][kept.order].astype(np.intp), trades)


def _plan(chance: random.Random, centre: Place, trades: list[Trade], sources: tuple[str, ...]) -> Plan:
    radius = chance.uniform(8_000, 30_000)
    area = {"name": centre.name, "lat": centre.lat, "lon": centre.lon, "radius_m": radius}
    return Plan(tuple(trade.id for trade in trades), (area,), sources, facts=())


def _one(chance: random.Random, database: Database, bases: list[Place]) -> dict[str, Any]:
    """Run one plan, foresee another one of the same sources in the same region, run it too."""
    first = chance.choice(bases)
    with database.read() as conn:
        towns = places.towns(conn, bounding_tile(Circle(Point(first.lat, first.lon), 2 * NEAR_M)))
    near = bounding_tile(Circle(Point(first.lat, first.lon), NEAR_M))
    others = [
        t for t in towns if t.residents >= 15_000 and near.south < t.lat < near.north and near.west < t.lon < near.east
    ]
    region = Region(towns, chance, chance.lognormvariate(0, REGION))
    sources = tuple(sorted(chance.sample(list(SOURCES), chance.randint(1, 3))))
    known = chance.sample(OWN, chance.randint(2, 6))
    before = _plan(chance, first, known, sources)
    _carry_out(database, before, region)
    wanted = chance.sample(known, chance.randint(1, len(known)))
    wanted += chance.sample([trade for trade in OWN if trade not in known], chance.randint(0, 2))
    after = _plan(chance, chance.choice(others), wanted, sources)
    settings = Settings(sources={
        name: SourceSettings(endpoint="https://x.example/", cost_per_request=request, cost_per_row=row)
        for name, (_, request, row) in SOURCES.items()
    })  # fmt: skip
    with database.read() as conn:
        foreseen = estimate(conn, after, settings, _held_points(region, before))
    made = _carry_out(database, after, region)
    requests = sum(asked for asked, _ in made.values())
    cost = sum(asked * SOURCES[name][1] + rows * SOURCES[name][2] for name, (asked, rows) in made.items())
    return {
        "sources": sources, "trades": len(after.trades), "radius_m": round(after.areas[0]["radius_m"]),
        "foreseen": foreseen.requests, "requests": requests, "foreseen_cost": round(foreseen.cost, 3), "cost": round(cost, 3),
        "in_range": foreseen.requests_low <= requests <= foreseen.requests_high,
    }  # fmt: skip


def _off(foreseen: float, came: float) -> float:
    return abs(foreseen - came) / came if came else float(foreseen > 0)


def measure_plans(pairs: int = PAIRS) -> dict[str, Any]:
    """Pairs of runs, and the shares of second ones whose requests and cost came within WITHIN of what was foreseen."""
    chance = random.Random(2026)
    with tempfile.TemporaryDirectory() as name:
        empty = Database(Path(name) / "empty.db")
        with empty.write() as conn:
            places.fill_if_empty(conn)
        with empty.read() as conn:
            bases = [town for town in places.towns(conn, WORLD) if 20_000 <= town.residents <= 400_000]
        empty.close()
        found = []
        for number in range(pairs):  # each begins with nothing learnt
            own = Path(name) / f"{number}.db"
            shutil.copy(empty.path, own)
            database = Database(own)
            found.append(_one(chance, database, bases))
            database.close()
    requests = [_off(pair["foreseen"], pair["requests"]) for pair in found]
    cost = [_off(pair["foreseen_cost"], pair["cost"]) for pair in found if pair["cost"]]
    return {
        "pairs": found,
        "requests_within": sum(off <= WITHIN for off in requests) / len(requests),
        "requests_median_off": statistics.median(requests),
        "cost_within": sum(off <= WITHIN for off in cost) / len(cost),
        "in_range": sum(pair["in_range"] for pair in found) / len(found),
    }


def bench_plans() -> tuple[dict[str, Any], str]:
    """Measure; return (figures, text)."""
    figures = measure_plans()
    within, median, cost, ranged = (
        f"{figures[name]:.0%}" for name in ("requests_within", "requests_median_off", "cost_within", "in_range")
    )
    lines = [
        f"{len(figures['pairs'])} plans, each foreseen after one run of the same sources in the same region",
        f"  requests within ± {WITHIN:.0%} of what was foreseen: {within}; median off by {median}",
        f"  cost within ± {WITHIN:.0%}: {cost}; requests inside the range shown: {ranged}",
        "  foreseen  made   cost foreseen  cost",
    ]
    lines += [
        f"  {pair['foreseen']:>8} {pair['requests']:>5} {pair['foreseen_cost']:>15.2f} {pair['cost']:>5.2f}  "
        f"{pair['trades']} trades, {pair['radius_m'] / 1000:.0f} km, {', '.join(pair['sources'])}"
        for pair in figures["pairs"]
    ]
    return figures, "\n".join(lines)
