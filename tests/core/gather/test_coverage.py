"""The coverage estimate against published examples and against worlds whose size is known."""

import random

import pytest

from openacorn.core.gather.coverage import coverage

# (first catch, second catch, in both, Chapman's estimate)
CHAPMAN = [
    (10, 15, 5, 28.33),  # the turtles of Wikipedia's "Mark and recapture" (from memory): (11 · 16 / 6) − 1
    (24, 58, 22, 63.1),  # by the formula (n₁+1)(n₂+1)/(m+1) − 1, as Seber, "The Estimation of Animal Abundance" (1982), § 3.1 gives it
    (346, 184, 49, 1282.9),  # the example of the R package FSA's mrClosed (from memory)
]  # fmt: skip


def two_sources(first: int, second: int, both: int) -> list[frozenset[str]]:
    return [frozenset("ab")] * both + [frozenset("a")] * (first - both) + [frozenset("b")] * (second - both)


@pytest.mark.parametrize(("first", "second", "both", "expected"), CHAPMAN)
def test_two_sources_are_chapmans_estimator(first: int, second: int, both: int, expected: float) -> None:
    found = coverage(two_sources(first, second, both))
    assert found.estimate == pytest.approx(expected, abs=0.05)
    assert found.estimate == pytest.approx((first + 1) * (second + 1) / (both + 1) - 1)
    assert found.held == first + second - both
    assert found.low is not None
    assert found.high is not None
    assert found.estimate is not None
    assert found.held <= found.low <= found.estimate <= found.high
    assert (found.by_source, found.only_in) == ({"a": first, "b": second}, {"a": first - both, "b": second - both})


def test_no_estimate_without_overlap() -> None:
    assert coverage([]).estimate is None
    one = coverage([frozenset("a")] * 40)
    assert (one.held, one.estimate) == (40, None)
    assert "add a second" in one.why
    apart = coverage([frozenset("a")] * 40 + [frozenset("b")] * 9)
    assert (apart.held, apart.estimate) == (49, None)
    assert "no overlap" in apart.why


def test_nothing_is_missing_when_everything_is_in_all() -> None:
    found = coverage([frozenset("ab")] * 30)
    assert (found.estimate, found.low, found.high) == (30, 30, 30)


REACHES = {2: (0.75, 0.5), 3: (0.8, 0.55, 0.35), 4: (0.8, 0.6, 0.45, 0.3)}


@pytest.mark.parametrize("sources", REACHES)
def test_the_interval_holds_the_truth(sources: int) -> None:
    """200 seeded worlds of 60 to 2,400 businesses and sources of unequal reach."""
    held_truth, ratios = 0, []
    for seed in range(200):
        rng = random.Random(seed * 10 + sources)
        size = rng.randint(60, 2400)
        reaches = [reach * rng.uniform(0.8, 1.1) for reach in REACHES[sources]]
        listed = [frozenset(str(i) for i, reach in enumerate(reaches) if rng.random() < reach) for _ in range(size)]
        found = coverage(listed)
        assert found.estimate is not None
        assert found.low is not None
        assert found.high is not None
        held_truth += found.low <= size <= found.high
        ratios.append(found.estimate / size)
    assert held_truth >= 180
    assert sum(ratios) / len(ratios) == pytest.approx(1.0, abs=0.03)
