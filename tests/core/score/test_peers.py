"""Neighbours: the nearest by an ellipsoid's distances, percentiles as a statistics library has them."""

import numpy as np
import pytest
from pyproj import Geod

from openacorn.core.score.peers import NEAREST, PRIOR_REVIEWS, Neighbours, shrunk_ratings

GEOD = Geod(ellps="WGS84")


def town(count: int, seed: int, lon: float = 160.0) -> list[tuple[int, float, float, float | None, float | None]]:
    rng = np.random.default_rng(seed)
    places = zip(
        rng.normal(-37, 0.1, count),
        (rng.normal(lon, 0.1, count) + 180) % 360 - 180,
        rng.integers(0, 300, count),
        strict=True,
    )
    return [
        (n, float(lat), float(east), None if n % 9 == 4 else int(reviews), 1 + n % 5)
        for n, (lat, east, reviews) in enumerate(places)
    ]


@pytest.mark.parametrize("lon", [160.0, 179.98])
def test_the_nearest_are_those_of_the_ellipsoid_across_the_antimeridian_too(lon: float) -> None:
    rows = town(120, 3, lon)
    near = Neighbours(rows)
    for here in rows[:20]:
        away = {row[0]: GEOD.inv(here[2], here[1], row[2], row[1])[2] for row in rows if row[0] != here[0]}
        true = sorted(away, key=lambda other: away[other])[:NEAREST]
        assert len(set(true) & set(near.nearest(here[0]))) >= NEAREST - 1  # on the plane two as near may change places


def test_ranks_are_mid_rank_percentiles_among_the_nearest() -> None:
    from scipy.stats import percentileofscore

    rows = town(60, 5)
    near, reviews = Neighbours(rows), {row[0]: row[3] for row in rows}
    for here in rows[:30]:
        standing = near.standing(here[0])
        assert standing.peers == NEAREST
        others = [value for other in near.nearest(here[0]) if (value := reviews[other]) is not None]
        if here[3] is None:
            assert standing.reviews is None
            continue
        # SciPy's "mean" percentile of the same value in the same sample, itself counted in
        assert standing.reviews == pytest.approx(percentileofscore([*others, here[3]], here[3], kind="mean") / 100)


def test_shrunk_ratings_are_the_means_of_beta_posteriors() -> None:
    """SciPy's beta distribution: prior PRIOR_REVIEWS pseudo-reviews at the trade's mean, ratings as shares of five stars."""
    from scipy.stats import beta

    rating, reviews = np.array([5.0, 4.8, 3.0, np.nan, 4.0]), np.array([2.0, 200.0, 40.0, 10.0, np.nan])
    found = shrunk_ratings(rating, reviews)
    share = (5.0 * 2 + 4.8 * 200 + 3.0 * 40) / 242 / 5
    prior = share * PRIOR_REVIEWS, (1 - share) * PRIOR_REVIEWS
    for at in (0, 1, 2):
        good, bad = reviews[at] * rating[at] / 5, reviews[at] * (1 - rating[at] / 5)
        assert found[at] == pytest.approx(5 * beta(prior[0] + good, prior[1] + bad).mean())
    assert found[1] > found[0]  # two customers' five stars are not above 4.8 from two hundred
    assert np.isnan(found[3])
    assert found[4] == pytest.approx(5 * share)  # resting on nobody known, it says nothing of its own
    assert np.isnan(shrunk_ratings(np.array([np.nan]), np.array([3.0]))).all()


def test_of_a_large_trade_the_nearest_are_found_in_a_window(monkeypatch: pytest.MonkeyPatch) -> None:
    rows = [(n, n / 100, 160.0, 1, None) for n in range(200)]  # a street that runs north
    whole = Neighbours(rows).nearest(100)
    monkeypatch.setattr("openacorn.core.score.peers.WINDOW", 60)
    assert Neighbours(rows).nearest(100) == whole
    assert Neighbours(rows).nearest(0) == list(range(1, 26))
    assert Neighbours(rows).nearest(199) == list(range(198, 173, -1))


def test_too_few_neighbours_say_nothing() -> None:
    assert Neighbours(town(8, 1)).standing(0).peers == 0
    assert Neighbours([]).standing(1).peers == 0
    assert Neighbours(town(9, 1)).standing(0).peers == 8
