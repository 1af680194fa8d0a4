"""How many requests a plan will take: its tiles and towns walked as a sweep will, over where the businesses probably are."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from openacorn.core.gather.planning import FLOOR_M, NEARLY_FULL
from openacorn.core.geo.territory import Territory
from openacorn.core.geo.tiles import Tile

Numbers = npt.NDArray[np.float64]
DEGREE_M = 111_195.0
"""A degree of latitude on the mean sphere."""

SPOTS = 32
"""Points that stand for a town, spread over its disc like the seeds of a sunflower (Vogel, 1979)."""

LIKELY = 0.02
"""A split less likely than this is not walked into."""

MOST_TILES = 20_000


@dataclass(frozen=True, slots=True)
class Town:
    """A town of the gazetteer: where, how many live there, how far it reaches."""

    name: str
    lat: float
    lon: float
    residents: int
    radius_km: float


@dataclass(frozen=True, slots=True)
class Residents:
    """Where people live: points in degrees, and how many at each."""

    lats: Numbers
    lons: Numbers
    people: Numbers

    def within(self, tile: Tile) -> "Residents":
        """Those in the circle around a tile: what a question about it is answered from."""
        circle = tile.covering_circle()
        north = (self.lats - circle.centre.lat) * DEGREE_M
        turned = (self.lons - circle.centre.lon + 180.0) % 360.0 - 180.0
        east = turned * DEGREE_M * math.cos(math.radians(circle.centre.lat))
        near = north**2 + east**2 <= circle.radius_m**2
        return Residents(self.lats[near], self.lons[near], self.people[near])


def residents_of(towns: Iterable[Town]) -> Residents:
    """The towns' people, spread evenly over each town's disc."""
    found = list(towns)
    lats, lons, people, reach = (
        np.array([getattr(town, name) for town in found], np.float64)[:, None]
        for name in ("lat", "lon", "residents", "radius_km")
    )
    number = np.arange(SPOTS)
    away, turn = np.sqrt((number + 0.5) / SPOTS), number * math.pi * (3 - math.sqrt(5))
    metres = reach * 1000 * away
    all_lats = lats + metres * np.cos(turn) / DEGREE_M
    all_lons = lons + metres * np.sin(turn) / (DEGREE_M * np.cos(np.radians(lats)))
    return Residents(all_lats.ravel(), all_lons.ravel(), np.repeat(people.ravel() / SPOTS, SPOTS))


def _chance_of(rows: float, most: float) -> float:
    """How likely at least `most` come where so many are expected (normal approximation of Poisson's law)."""
    return 0.5 * (1 + math.erf((rows - most) / math.sqrt(2 * rows))) if rows > 0 else 0.0


MANY_PAGES = 30


def pages_for(rows: float, page_size: int) -> float:
    """Requests to read about so many rows: the first page, and each further one as likely as it is needed."""
    if rows > MANY_PAGES * page_size:
        return rows / page_size + 0.5  # a last page is half full on average
    return 1.0 + sum(_chance_of(rows, page * page_size + 0.5) for page in range(1, 2 * MANY_PAGES))


@dataclass(frozen=True, slots=True)
class Work:
    """What asking takes and brings: requests, and rows in all answers, those that come twice counted twice."""

    requests: float = 0.0
    rows: float = 0.0

    def __add__(self, other: "Work") -> "Work":
        return Work(self.requests + other.requests, self.rows + other.rows)


def work_by_tiles(territory: Territory, people: Residents, per_resident: float, cap: int, page_size: int) -> Work:
    """What one word takes: each tile read up to the cap, and split where it is probably full."""
    total, tiles = Work(), 0
    waiting = [(tile, 1.0, people) for tile in territory.roots()]
    while waiting and tiles < MOST_TILES:
        tile, chance, around = waiting.pop()
        tiles += 1
        around = around.within(tile)
        rows = float(around.people.sum()) * per_resident
        answered = min(rows, cap)
        total += Work(chance * pages_for(answered, page_size), chance * answered)
        split = chance * _chance_of(rows, cap * NEARLY_FULL)
        if split >= LIKELY and tile.side_m / 2 >= FLOOR_M:
            waiting += [(quarter, split, around) for quarter in tile.quarters() if territory.touches(quarter)]
    return total


def work_by_places(residents: Sequence[int], rows: float, page_size: int) -> Work:
    """What one word takes at each of some places, if they bring so many rows in all: in proportion to residents."""
    people = sum(residents)
    shares = (count / people if people else 1 / len(residents) for count in residents)
    return Work(sum(pages_for(rows * share, page_size) for share in shares), rows if residents else 0.0)
