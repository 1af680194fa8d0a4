"""Shares and comparisons agree with scipy's own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.outreach.what_works import ENOUGH, PRIOR, SentMessage, probability_better, what_works, wilson


@given(st.integers(1, 5000), st.floats(0, 1))
def test_intervals_are_wilsons(of: int, share: float) -> None:
    """scipy.stats.binomtest(…).proportion_ci(method="wilson")."""
    from scipy.stats import binomtest

    count = round(of * share)
    found, expected = wilson(count, of), binomtest(count, of).proportion_ci(method="wilson")
    assert (found.low, found.high) == pytest.approx((expected.low, expected.high), abs=1e-6)


@pytest.mark.parametrize(
    ("one", "other"),
    [((3, 50), (1, 50)), ((0, 40), (0, 40)), ((30, 400), (20, 500)), ((10, 60), (60, 600)), ((1, 30), (90, 900))],
)
def test_one_is_better_as_often_as_in_draws(one: tuple[int, int], other: tuple[int, int]) -> None:
    """Two million draws of scipy's Beta distribution with the same prior; their own error is below .001."""
    from scipy.stats import beta

    chance = np.random.default_rng(7)
    (a, b), (c, d) = ((PRIOR[0] + count, PRIOR[1] + of - count) for count, of in (one, other))
    draws = beta.rvs(a, b, size=2_000_000, random_state=chance) > beta.rvs(c, d, size=2_000_000, random_state=chance)
    assert probability_better(one, other) == pytest.approx(float(draws.mean()), abs=0.003)
    assert probability_better(one, other) + probability_better(other, one) == pytest.approx(1, abs=1e-3)


def test_groups_are_counted_and_too_few_say_nothing() -> None:
    many = [SentMessage("a", replied=n < 12, declined=n < 2, bounced=n > 95) for n in range(100)]
    few = [SentMessage("b", replied=True, won=True) for _ in range(ENOUGH - 1)]
    first, second = what_works(many + few)
    assert (first.group, first.sent, first.replied.count, first.positive.count, first.delivered.count) == (
        "a",
        100,
        12,
        10,
        96,
    )
    assert (first.enough, second.enough, second.better_than_rest, second.won.count) == (True, False, None, ENOUGH - 1)
    assert first.better_than_rest is None, "the rest is too few to compare with"
