"""What asking the sources takes for a plan: by the gazetteer, and by what was learnt of each source."""

import sqlite3
from collections.abc import Mapping

import numpy as np

from openacorn.core.gather.facts import GROUPS
from openacorn.core.gather.foresight import Residents, Town, Work, residents_of, work_by_places, work_by_tiles
from openacorn.core.gather.planning import expected_requests
from openacorn.core.geo.geodesy import Points
from openacorn.core.geo.territory import Territory
from openacorn.core.geo.tiles import Tile
from openacorn.gather.experience import Experience
from openacorn.gather.queries import places_in
from openacorn.gather.reach import source_in
from openacorn.gather.sources._source import Source
from openacorn.gather.store import places
from openacorn.runs.store.sweeps import Plan


class Foresight:
    """What plans take by the gazetteer alone, before anything is learnt of their sources."""

    def __init__(self, conn: sqlite3.Connection) -> None:
        self._conn = conn
        self._towns: dict[Territory, list[Town]] = {}
        self._people: dict[Territory, tuple[Residents, int]] = {}

    def _around(self, territory: Territory) -> list[Town]:
        """The towns in a territory and about it, read once."""
        if territory not in self._towns:
            self._towns[territory] = _towns_around(self._conn, territory)
        return self._towns[territory]

    def _residents(self, territory: Territory) -> tuple[Residents, int]:
        """(where people live in and around a territory, how many live in it)."""
        if territory not in self._people:
            towns = self._around(territory)
            points = Points.of(
                np.array([town.lat for town in towns], np.float64), np.array([town.lon for town in towns], np.float64)
            )
            people = np.array([town.residents for town in towns], np.float64)[points.order]
            inside = int(people[territory.contains_many(points)].sum())
            self._people[territory] = residents_of(towns), inside
        return self._people[territory]

    def work(self, plan: Plan, rows: Mapping[str, float], name: str) -> Work:
        """What asking a source takes for a plan that finds so many rows of each trade there."""
        source = source_in(self._conn, name)
        named = self._named(plan) if source.by == "places" or "rank" in plan.facts else {}
        total = Work(1.0 if source.by == "once" else 0.0)
        for trade in plan.trades:
            count = rows.get(trade, 0.0)
            if source.by == "places":
                total += work_by_places(list(named.values()), count, source.page_size)
            elif source.by == "tiles":
                total += self._by_tiles(plan, count, source)
            if source.each or source.by == "business":
                total += Work(count)
        for group in GROUPS:
            if group.id in plan.facts and group.town_pages and group.source == name:
                total += Work(group.town_pages * len(named) * len(plan.trades))
        return total

    def _by_tiles(self, plan: Plan, rows: float, source: Source) -> Work:
        people, inside = self._residents(plan.territory)
        if not inside:  # nobody is known to live there: they may stand anywhere
            roots = len(plan.territory.roots())
            return Work(expected_requests(rows, source.cap, source.page_size) + roots - 1, rows)
        return work_by_tiles(plan.territory, people, rows / inside, source.cap, source.page_size)

    def _named(self, plan: Plan) -> dict[str, int]:
        """Place → residents, of the places that a source is asked for by name."""
        around = {town.name: town.residents for town in self._around(plan.territory)}
        return {name: around.get(name, 0) for name in places_in(self._conn, plan)}


def work_foreseen(
    foresight: Foresight, plan: Plan, rows: Mapping[str, float], name: str, past: Experience | None
) -> Work:
    """What a source takes for a plan, by what was learnt of it."""
    if past is None:
        return foresight.work(plan, rows, name)
    found = foresight.work(plan, {trade: count * past.share for trade, count in rows.items()}, name)
    return Work(found.requests * past.requests, found.rows)


def _towns_around(conn: sqlite3.Connection, territory: Territory) -> list[Town]:
    """The towns in a territory and about it: the circle around its tile is larger than the tile."""
    found: dict[tuple[str, float, float], Town] = {}
    for root in territory.roots():
        high, wide = (root.north - root.south) / 2, (root.east - root.west) / 2
        wider = Tile(root.south - high, root.west - wide, root.north + high, root.east + wide)
        for town in places.towns(conn, wider):
            found[town.name, town.lat, town.lon] = Town(town.name, town.lat, town.lon, town.residents, town.radius_km)
    return list(found.values())
