"""What a sweep would take, from the gazetteer and from what is held: no source is asked."""

import math
import sqlite3
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
import numpy.typing as npt

from openacorn.business.store import businesses, own_trades
from openacorn.core.desk.grid import Grid
from openacorn.core.gather.facts import GROUPS, FactGroup
from openacorn.core.gather.planning import UNCERTAINTY, KnownCounts, estimate_rows, expected_requests
from openacorn.core.geo.geodesy import Mask, Points
from openacorn.core.geo.territory import Territory
from openacorn.gather.experience import Experience, experience_of, swept
from openacorn.gather.queries import places_in
from openacorn.gather.reach import source_in, terms_of
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
            continue  # nothing that a later run has not told
        if residents := towns.residents(plan.territory):
            inside = held.count(plan.territory)
            for trade in plan.trades:
                found.setdefault(trade, inside[trade] * 10_000 / residents)
    return found


def estimate(conn: sqlite3.Connection, plan: Plan, settings: Settings, held: HeldPoints) -> SweepEstimate:
    """Return what carrying out `plan` would take. held: where the businesses are that are held."""
    runs = swept(conn)
    earlier_plans = [earlier for _, earlier in runs]
    towns = _Towns(conn, [plan.territory, *(earlier.territory for earlier in earlier_plans)])
    residents = towns.residents(plan.territory)
    rates = _own_rates(earlier_plans, held, towns)
    catalogue = own_trades.trades_there(conn)
    trades = catalogue.checked(plan.trades)
    inside = held.count(plan.territory)
    # a trade never swept is taken to stand to its national rate as the swept ones do
    lift = [rates[t.id] / t.per_10k for t in trades if t.id in rates] or [
        r / catalogue.of(t).per_10k for t, r in rates.items()
    ]
    typical = sum(lift) / len(lift) if lift else None
    figures, low, high, expected = [], 0.0, 0.0, dict[str, float]()
    for trade in trades:
        rate = rates.get(trade.id) or (trade.per_10k * typical if typical else None)
        rows, basis = estimate_rows(trade.per_10k, residents, KnownCounts(inside[trade.id], rate))
        figures.append(TradeFigure(trade.id, round(rows), inside[trade.id], BASIS_WORDS[basis]))
        low += max(rows / UNCERTAINTY[basis], inside[trade.id])
        high += rows * UNCERTAINTY[basis]
        expected[trade.id] = rows
    total = sum(figure.rows for figure in figures)
    past = {
        name: found
        for name in plan.sources
        if (found := experience_of(conn, name, runs, lambda p: held.count(p.territory), partial(_expected, conn)))
    }
    requests = {
        name: math.ceil(count * past[name].requests) if name in past else count
        for name, count in _expected(conn, plan, expected).items()
    }
    if plan.wanted and plan.wanted < total:
        share = plan.wanted / total
        requests = {name: max(len(trades), round(count * share)) for name, count in requests.items()}
        total, low, high = plan.wanted, min(low, plan.wanted), min(high, plan.wanted)
    if plan.most_requests:
        requests = {name: min(count, plan.most_requests) for name, count in requests.items()}
    per_town = len(places_in(conn, plan)) * len(trades)
    facts = _facts(conn, plan, total, requests, settings, per_town)
    terms = {name: terms_of(conn, settings, name) for name in requests}
    paces = {name: max(found.pace_s, 0.02) for name, found in terms.items()}
    spread = LEARNT_SPREAD if past.keys() >= requests.keys() else GUESSED_SPREAD
    asked = sum(requests.values())
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
        cost=_cost(requests, total, facts, terms, past),
        residents=residents,
        area_km2=plan.territory.area_km2,
        how=_in_words(figures, residents),
        trades=tuple(figures),
        facts=facts,
    )


LEARNT_SPREAD, GUESSED_SPREAD = 1.2, 2.0
"""Factor up and down for the range of requests: after a run with the same sources, and before (common practice)."""


def _expected(conn: sqlite3.Connection, plan: Plan, rows: Mapping[str, float]) -> dict[str, int]:
    """Source → requests that a plan takes, if it brings so many rows of each trade and they lie evenly."""
    requests = dict.fromkeys(plan.sources, 0)
    towns_inside = len(places_in(conn, plan))
    sources = {name: source_in(conn, name) for name in plan.sources}
    for trade in plan.trades:
        for name, source in sources.items():
            if source.by == "places":
                requests[name] += towns_inside + int(rows.get(trade, 0) / source.page_size)
            elif source.by == "tiles":
                requests[name] += expected_requests(rows.get(trade, 0), source.cap, source.page_size)
            if source.each:
                requests[name] += round(rows.get(trade, 0))
    for group in GROUPS:
        if group.id in plan.facts and group.town_pages and group.source in requests:
            requests[group.source] += group.town_pages * towns_inside * len(plan.trades)
    return requests


def _cost(
    requests: Mapping[str, int],
    rows: int,
    facts: Sequence[FactFigure],
    terms: Mapping[str, SourceSettings],
    past: Mapping[str, Experience],
) -> float:
    """What asking the sources costs: a price a request, and one a row found where a source sells rows."""
    shares = {fact.source: fact.share for fact in facts} | {name: found.rows for name, found in past.items()}
    return sum(
        asked * terms[name].cost_per_request + rows * shares.get(name, 1.0) * terms[name].cost_per_row
        for name, asked in requests.items()
    )


ENOUGH_KNOWN = 40
"""So many businesses tell more of a share than a guess from memory does."""


def _facts(
    conn: sqlite3.Connection, plan: Plan, rows: int, requests: dict[str, int], settings: Settings, per_town: int
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
        asked = _asked(group, rows, requests, known, per_town)
        cost = asked * terms.cost_per_request + rows * share * terms.cost_per_row if group.source else 0.0
        found.append(
            FactFigure(
                group.id, group.title, group.brings, group.source, group.id in plan.facts, share,
                f"of {of} held businesses of these trades" if own else "a rough guess", round(rows * share), asked, cost,
            )
        )  # fmt: skip
    return tuple(found)


def _asked(
    group: FactGroup, rows: int, requests: Mapping[str, int], known: Mapping[str, tuple[int, int]], per_town: int
) -> int:
    """Requests a group of facts takes. per_town: trades × towns."""
    if group.town_pages:
        return group.town_pages * per_town
    if not group.source:
        return round(rows * known_site(known) * group.visits)
    if source_of(group.source).by == "business":
        return rows
    return requests.get(group.source, round(rows / 20))


def known_site(known: Mapping[str, tuple[int, int]]) -> float:
    """Share of businesses with a site to visit."""
    having, of = known["website"]
    return having / of if of >= ENOUGH_KNOWN else GROUPS[0].prior


def _in_words(figures: list[TradeFigure], residents: int) -> str:
    bases = list(dict.fromkeys(figure.basis for figure in figures))
    if not residents and not any(figure.held for figure in figures):
        return "no town of the gazetteer lies in this territory, so there is nothing to estimate from"
    return f"{residents:,} residents in the territory; from " + " and ".join(bases)
