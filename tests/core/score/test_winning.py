"""The chance of winning: the prior, and what outcomes make of it, against a general-purpose optimiser."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.score.winning import (
    CHANNEL_SPREAD,
    INTERCEPT_SPREAD,
    NOTHING_LEARNT,
    PRIOR,
    SLOPE_SPREAD,
    Trial,
    fit,
)

TRIALS = st.lists(
    st.builds(
        Trial,
        st.sampled_from(["speed", "new_website", "ads_setup"]),
        st.floats(0, 100),
        st.booleans(),
        st.sampled_from(["", "call", "email"]),
    ),
    max_size=60,
)


def test_the_prior_is_two_in_a_hundred_at_50_and_climbs_by_its_slope() -> None:
    assert PRIOR.chance(50) == pytest.approx(0.02)
    odds = [PRIOR.chance(score) / (1 - PRIOR.chance(score)) for score in (60, 70)]
    assert math.log(odds[1] / odds[0]) == pytest.approx(0.35)
    assert PRIOR.chances(np.array([50.0, np.nan]))[0] == pytest.approx(0.02)


@given(TRIALS)
def test_the_fit_is_the_one_that_an_optimiser_finds(trials: list[Trial]) -> None:
    """scipy.optimize.minimize (BFGS) on the penalised likelihood, written out again."""
    from scipy.optimize import minimize

    names = sorted({trial.service for trial in trials})
    channels = sorted({trial.channel for trial in trials if trial.channel})

    def loss(at: np.ndarray) -> float:
        services, slope, shifts = at[: len(names)], at[len(names)], at[len(names) + 1 :]
        total = ((services - PRIOR.intercept) ** 2).sum() / (2 * INTERCEPT_SPREAD**2)
        total += (slope - PRIOR.slope) ** 2 / (2 * SLOPE_SPREAD**2) + (shifts**2).sum() / (2 * CHANNEL_SPREAD**2)
        for trial in trials:
            logit = services[names.index(trial.service)] + slope * (trial.score - 50) / 10
            logit += shifts[channels.index(trial.channel)] if trial.channel else 0
            total += np.logaddexp(0, -logit) if trial.won else np.logaddexp(0, logit)
        return float(total)

    ours = fit(trials)
    assert (set(ours.services), set(ours.channels)) == ({"", *names}, set(channels))
    found = [ours.services[name].intercept for name in names], [ours.channels[name] for name in channels]
    point = np.array([*found[0], ours.services[""].slope, *found[1]])
    theirs = minimize(loss, np.array([PRIOR.intercept] * len(names) + [PRIOR.slope] + [0.0] * len(channels)))
    assert loss(point) <= theirs.fun + 1e-6


def test_without_outcomes_the_prior_speaks_and_a_service_without_any_keeps_its_intercept() -> None:
    assert fit([]) == NOTHING_LEARNT
    learnt = fit([Trial("speed", 60, won=True)] * 5).services
    assert learnt[""].intercept == PRIOR.intercept
    assert learnt["speed"].chance(50) > PRIOR.chance(50)


@given(TRIALS, st.floats(0, 100))
def test_a_sale_more_never_makes_a_sale_less_likely_at_that_score(trials: list[Trial], score: float) -> None:
    sale = Trial("speed", score, won=True, channel="call")
    assert fit([*trials, sale]).chance(sale) >= fit(trials).chance(sale) - 1e-9


def test_a_channel_that_sells_more_often_is_told_from_the_service_that_went_by_it() -> None:
    """Speed is sold by phone, new websites by either: what the phone adds shows where both were tried."""
    mixed = [Trial("new_website", 50, number % 4 == 0, "call") for number in range(80)]
    mixed += [Trial("new_website", 50, number % 20 == 0, "email") for number in range(80)]
    learnt = fit([*mixed, *(Trial("speed", 50, number % 4 == 0, "call") for number in range(40))])
    assert learnt.channels["call"] > 0.3 > -0.3 > learnt.channels["email"]
    by_phone, by_mail = (Trial("new_website", 50, won=False, channel=name) for name in ("call", "email"))
    assert learnt.chance(by_phone) == pytest.approx(0.25, abs=0.06)
    assert learnt.chance(by_mail) == pytest.approx(0.05, abs=0.03)
