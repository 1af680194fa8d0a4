"""What a plan is foreseen to take, against drawn businesses that are asked for tile by tile."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from openacorn.core.gather.foresight import Town, pages_for, residents_of, work_by_places, work_by_tiles
from openacorn.core.gather.planning import FLOOR_M, is_full
from openacorn.core.geo.geodesy import Circle, Point, distance_m
from openacorn.core.geo.territory import Territory, checked_territory
from openacorn.core.geo.tiles import Tile
from tests.conftest import circle

TOWNS = (Town("Port Ellery", -37.0, 160.0, 60_000, 3.5), Town("Larch Flat", -37.1, 160.2, 9_000, 1.3))


@pytest.mark.parametrize("rows", [0.0, 0.4, 5.0, 18.0, 20.0, 29.0, 47.0, 333.0, 5_000.0])
@pytest.mark.parametrize("size", [20, 1000])
def test_pages_are_as_many_as_draws_of_poisson_take(rows: float, size: int) -> None:
    drawn = np.random.default_rng(3).poisson(rows, 20_000)
    assert pages_for(rows, size) == pytest.approx(np.maximum(1, np.ceil(drawn / size)).mean(), rel=0.03)


def asked(territory: Territory, lats: np.ndarray, lons: np.ndarray, cap: int, size: int) -> tuple[int, int]:
    """(requests, rows) of asking for points tile by tile, as a sweep does."""
    requests, rows, waiting = 0, 0, list(territory.roots())
    while waiting:
        tile: Tile = waiting.pop()
        around: Circle = tile.covering_circle()
        here = sum(
            distance_m(around.centre, Point(float(lat), float(lon))) <= around.radius_m
            for lat, lon in zip(lats, lons, strict=True)
        )
        answered = min(here, cap)
        requests, rows = requests + max(1, -(-answered // size)), rows + answered
        if is_full(answered, cap) and tile.side_m / 2 >= FLOOR_M:
            waiting += [quarter for quarter in tile.quarters() if territory.touches(quarter)]
    return requests, rows


@pytest.mark.parametrize("per_resident", [0.0002, 0.001, 0.003])
def test_what_is_foreseen_is_what_drawn_businesses_take_on_average(per_resident: float) -> None:
    territory = checked_territory([circle(-37.02, 160.05, 22_000)])
    people = residents_of(TOWNS)
    work = work_by_tiles(territory, people, per_resident, 60, 20)
    chance, found = np.random.default_rng(11), []
    for _ in range(25):
        lats, lons = [], []
        for town in TOWNS:
            count = chance.poisson(town.residents * per_resident)
            away, turn = (
                town.radius_km * 1000 * np.sqrt(chance.uniform(0, 1, count)),
                chance.uniform(0, 2 * np.pi, count),
            )
            lats.append(town.lat + away * np.cos(turn) / 111_195)
            lons.append(town.lon + away * np.sin(turn) / (111_195 * np.cos(np.radians(town.lat))))
        found.append(asked(territory, np.concatenate(lats), np.concatenate(lons), 60, 20))
    requests, rows = np.mean(found, axis=0)
    assert work.requests == pytest.approx(requests, rel=0.1)
    assert work.rows == pytest.approx(rows, rel=0.1)


@settings(max_examples=40, deadline=None)
@given(st.floats(0, 0.002), st.floats(1, 2))
def test_more_businesses_never_take_less(per_resident: float, more: float) -> None:
    territory, people = checked_territory([circle(-37.0, 160.0, 9_000)]), residents_of(TOWNS)
    few, many = (work_by_tiles(territory, people, rate, 60, 20) for rate in (per_resident, per_resident * more))
    assert many.requests >= few.requests - 1e-9 >= 1 - 1e-9
    assert many.rows >= few.rows - 1e-9


def test_each_place_is_asked_once_at_least_and_rows_go_by_residents() -> None:
    assert work_by_places([0, 0, 0], 0.0, 30).requests == 3
    assert work_by_places([100_000, 1], 300.0, 30).requests == pytest.approx(11.5, abs=0.2)
    assert work_by_places([], 10.0, 30).rows == 0
