"""What a sweep would take, from the gazetteer and from what is held: no source is asked."""

import math
import sqlite3
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from openacorn.business.store import businesses, own_trades
from openacorn.core.desk.grid import Grid
from openacorn.core.gather.facts import GROUPS, FactGroup
from openacorn.core.gather.foresight import Work
from openacorn.core.gather.planning import UNCERTAINTY, KnownCounts, estimate_rows
from openacorn.core.geo.geodesy import Mask, Points
from openacorn.core.geo.territory import Territory
from openacorn.gather.experience import experience_of, swept
from openacorn.gather.foresight import Foresight, work_foreseen
from openacorn.gather.queries import places_in
from openacorn.gather.reach import terms_of
from openacorn.gather.sources._source import source_of
from openacorn.gather.store import places
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings, SourceSettings

AUDITS_PER_SECOND = 12.0
"""One worker's audits a second with the shipped limits, slow and dead sites included (`./acorn bench audit`)."""

BASIS_WORDS = {
    "held": "what you hold there already",
    "own rate": "businesses per resident where you have swept before",
    "prior": "a rough national rate per resident",
}


@dataclass(frozen=True, slots=True)
class TradeFigure:
    """One trade's part."""

    trade: str
    rows: int
    held: int
    basis: str


@dataclass(frozen=True, slots=True)
class FactFigure:
    """One group of facts: of what share of businesses it is found, how many that makes, what it takes."""

    id: str
    title: str
    brings: str
    source: str
    chosen: bool
    share: float
    basis: str
    found: int
    requests: int
    cost: float


@dataclass(frozen=True, slots=True)
class SweepEstimate:
    """Rows with a range, requests, seconds, money, and how the rows were arrived at."""

    rows: int
    low: int
    high: int
    requests: int
    requests_low: int
    requests_high: int
    by_source: dict[str, int]
    seconds: float
    cost: float
    cost_low: float
    cost_high: float
    residents: int
    area_km2: float
    how: str
    trades: tuple[TradeFigure, ...]
    facts: tuple[FactFigure, ...]


@dataclass(frozen=True, slots=True)
class HeldPoints:
    """Where the held businesses with a pin are.

    trade: for each of the points 1 + its place in `trades`, 0 where it has none.
    """

    points: Points
    trade: npt.NDArray[np.intp]
    trades: Sequence[str]

    def count(self, territory: Territory) -> Counter[str]:
        """Trade → businesses in a territory."""
        return self.trades_of(territory.contains_many(self.points))

    def trades_of(self, inside: Mask) -> Counter[str]:
        """Trade → businesses, of some of the points."""
        tally = np.bincount(self.trade[inside], minlength=len(self.trades) + 1).tolist()
        return Counter({trade: number for trade, number in zip(self.trades, tally[1:], strict=True) if number})

    def pins(self, inside: Mask, most: int) -> list[list[float]]:
        """[latitude, longitude] of some of the points; of more than `most`, as many spread evenly from south to north."""
        found = np.flatnonzero(inside)
        if len(found) > most:
            found = found[np.linspace(0, len(found) - 1, most).astype(np.intp)]
        pairs: list[list[float]] = np.stack((self.points.lats[found], self.points.lons[found]), axis=1).tolist()
        return pairs


def held_points(grid: Grid) -> HeldPoints:
    """The pins of all that were not rejected, out of the table's columns."""
    codes, names = grid.category("trade")
    lat, lon = grid.numbers_of("lat"), grid.numbers_of("lon")
    there = ~np.isnan(lat) & (grid.ids >= 0) & ~grid.rejected()
    points = Points.of(lat[there], lon[there])
    return HeldPoints(points, codes[there][points.order].astype(np.intp) + 1, list(names))


class _Towns:
    """Towns and their residents, read once for several territories."""

    def __init__(self, conn: sqlite3.Connection, territories: Sequence[Territory]) -> None:
        bounds = [territory.bounds for territory in territories]
        south, north = min(tile.south for tile in bounds), max(tile.north for tile in bounds)
        found = np.array(places.town_points(conn, south, north), np.float64).reshape(-1, 3)
        self._points = Points.of(found[:, 0], found[:, 1])
        self._residents = found[self._points.order, 2]

    def residents(self, territory: Territory) -> int:
        return int(self._residents[territory.contains_many(self._points)].sum())


def _own_rates(plans: Sequence[Plan], held: HeldPoints, towns: _Towns) -> dict[str, float]:
    """Trade → businesses per 10,000 residents, over the territories that were swept for it, the latest counting."""
    found: dict[str, float] = {}
    for plan in plans:
        if set(plan.trades) <= found.keys():
            continue  # nothing that a later run has not shown
        if residents := towns.residents(plan.territory):
            inside = held.count(plan.territory)
            for trade in plan.trades:
                found.setdefault(trade, inside[trade] * 10_000 / residents)
    return found


@dataclass(slots=True)
class _Rows:
    """Businesses that a plan would find: each trade's, the range of all, and how they were arrived at."""

    expected: dict[str, float]
    figures: list[TradeFigure]
    residents: int
    low: float = 0.0
    high: float = 0.0


def _rows(conn: sqlite3.Connection, plan: Plan, held: HeldPoints, earlier: Sequence[Plan]) -> _Rows:
    towns = _Towns(conn, [plan.territory, *(plan.territory for plan in earlier)])
    rates = _own_rates(earlier, held, towns)
    catalogue = own_trades.trades_there(conn)
    trades = catalogue.checked(plan.trades)
    inside = held.count(plan.territory)
    # a trade never swept is taken to stand to its national rate as the swept ones do
    lift = [rates[t.id] / t.per_10k for t in trades if t.id in rates] or [
        r / catalogue.of(t).per_10k for t, r in rates.items()
    ]
    typical = sum(lift) / len(lift) if lift else None
    found = _Rows({}, [], towns.residents(plan.territory))
    for trade in trades:
        rate = rates.get(trade.id) or (trade.per_10k * typical if typical else None)
        rows, basis = estimate_rows(trade.per_10k, found.residents, KnownCounts(inside[trade.id], rate))
        found.figures.append(TradeFigure(trade.id, round(rows), inside[trade.id], BASIS_WORDS[basis]))
        found.low += max(rows / UNCERTAINTY[basis], inside[trade.id])
        found.high += rows * UNCERTAINTY[basis]
        found.expected[trade.id] = rows
    return found


def estimate(conn: sqlite3.Connection, plan: Plan, settings: Settings, held: HeldPoints) -> SweepEstimate:
    """Return what carrying out `plan` would take. held: where the businesses are that are held."""
    runs = swept(conn)
    rows = _rows(conn, plan, held, [earlier for _, earlier in runs])
    low, high, total = rows.low, rows.high, sum(figure.rows for figure in rows.figures)
    foresight = Foresight(conn)
    past = {
        name: found
        for name in plan.sources
        if (found := experience_of(conn, name, runs, lambda p: held.count(p.territory), foresight.work))
    }
    work = {name: work_foreseen(foresight, plan, rows.expected, name, past.get(name)) for name in plan.sources}
    if plan.wanted and plan.wanted < total:
        part = plan.wanted / total
        work = {n: Work(max(len(plan.trades), w.requests * part), w.rows * part) for n, w in work.items()}
        total, low, high = plan.wanted, min(low, plan.wanted), min(high, plan.wanted)
    if most := plan.most_requests:
        work = {n: Work(min(w.requests, most), w.rows * min(1.0, most / max(w.requests, 1))) for n, w in work.items()}
    requests = {name: math.ceil(found.requests) for name, found in work.items()}
    per_town = len(places_in(conn, plan)) * len(plan.trades)
    terms = {name: terms_of(conn, settings, name) for name in requests}
    facts = _facts(conn, plan, total, work, settings, per_town)
    paces = {name: max(found.pace_s, 0.02) for name, found in terms.items()}
    spread = LEARNT_SPREAD if past.keys() >= requests.keys() else GUESSED_SPREAD
    asked = sum(requests.values())
    fewer, more = min(1.0, low / max(total, 1)), max(1.0, high / max(total, 1))
    return SweepEstimate(
        rows=total,
        low=round(low),
        high=round(high),
        requests=asked,
        requests_low=max(min(1, asked), math.floor(asked / spread)),
        requests_high=math.ceil(asked * spread),
        by_source=requests,
        # sources are asked side by side, so the slowest one decides
        seconds=max((count * paces[name] for name, count in requests.items()), default=0.0)
        + total / (AUDITS_PER_SECOND * settings.workers),
        cost=sum(_priced(found, terms[name]) for name, found in work.items()),
        cost_low=sum(_priced(found, terms[name], 1 / spread, fewer) for name, found in work.items()),
        cost_high=sum(_priced(found, terms[name], spread, more) for name, found in work.items()),
        residents=rows.residents,
        area_km2=plan.territory.area_km2,
        how=_in_words(rows.figures, rows.residents),
        trades=tuple(rows.figures),
        facts=facts,
    )


LEARNT_SPREAD, GUESSED_SPREAD = 1.2, 2.0
"""Factor up and down for the range of requests: after a run with the same sources, and before (common practice)."""


def _priced(work: Work, terms: SourceSettings, asked: float = 1.0, brought: float = 1.0) -> float:
    """What asking a source costs: a price a request, and one a row where it sells rows. asked, brought: factors, for a range."""
    return math.ceil(work.requests * asked) * terms.cost_per_request + work.rows * brought * terms.cost_per_row


ENOUGH_KNOWN = 40
"""So many businesses tell more of a share than a guess from memory does."""


def _facts(
    conn: sqlite3.Connection, plan: Plan, rows: int, work: Mapping[str, Work], settings: Settings, per_town: int
) -> tuple[FactFigure, ...]:
    """What each group of facts would bring: by what is held of these trades, else by the shipped guess.

    per_town: trades × towns.
    """
    known = businesses.shares_known(conn, plan.trades)
    found = []
    for group in GROUPS:
        having, of = known[group.id]
        own = of >= ENOUGH_KNOWN
        share = having / of if own else group.prior
        terms = settings.source(group.source)
        asked = _asked(group, rows, work, known, per_town)
        taken = work.get(group.source) if not group.town_pages else None
        cost = _priced(taken or Work(asked, rows * share), terms) if group.source else 0.0
        found.append(
            FactFigure(
                group.id, group.title, group.brings, group.source, group.id in plan.facts, share,
                f"of {of} held businesses of these trades" if own else "a rough guess", round(rows * share), asked, cost,
            )
        )  # fmt: skip
    return tuple(found)


def _asked(
    group: FactGroup, rows: int, work: Mapping[str, Work], known: Mapping[str, tuple[int, int]], per_town: int
) -> int:
    """Requests a group of facts takes. per_town: trades × towns."""
    if group.town_pages:
        return group.town_pages * per_town
    if not group.source:
        return round(rows * known_site(known) * group.visits)
    if source_of(group.source).by == "business":
        return rows
    return math.ceil(work[group.source].requests) if group.source in work else round(rows / 20)


def known_site(known: Mapping[str, tuple[int, int]]) -> float:
    """Share of businesses with a site to visit."""
    having, of = known["website"]
    return having / of if of >= ENOUGH_KNOWN else GROUPS[0].prior


def _in_words(figures: list[TradeFigure], residents: int) -> str:
    bases = list(dict.fromkeys(figure.basis for figure in figures))
    if not residents and not any(figure.held for figure in figures):
        return "no town of the gazetteer lies in this territory, so there is nothing to estimate from"
    return f"{residents:,} residents in the territory; from " + " and ".join(bases)
