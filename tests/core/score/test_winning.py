"""The chance of winning: the prior, and what outcomes make of it, against a general-purpose optimiser."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import minimize

from openacorn.core.score.winning import INTERCEPT_SPREAD, PRIOR, SLOPE_SPREAD, Trial, fit_odds

TRIALS = st.lists(
    st.builds(Trial, st.sampled_from(["speed", "new_website", "ads_setup"]), st.floats(0, 100), st.booleans()),
    max_size=60,
)


def test_the_prior_is_two_in_a_hundred_at_50_and_climbs_by_its_slope() -> None:
    assert PRIOR.chance(50) == pytest.approx(0.02)
    odds = [PRIOR.chance(score) / (1 - PRIOR.chance(score)) for score in (60, 70)]
    assert math.log(odds[1] / odds[0]) == pytest.approx(0.35)
    assert PRIOR.chances(np.array([50.0, np.nan]))[0] == pytest.approx(0.02)


@given(TRIALS)
def test_the_fit_is_the_one_that_an_optimiser_finds(trials: list[Trial]) -> None:
    """scipy.optimize.minimize (BFGS) on the penalised likelihood, written out anew."""
    names = sorted({trial.service for trial in trials})

    def loss(at: np.ndarray) -> float:
        total = ((at[:-1] - PRIOR.intercept) ** 2).sum() / (2 * INTERCEPT_SPREAD**2)
        total += (at[-1] - PRIOR.slope) ** 2 / (2 * SLOPE_SPREAD**2)
        for trial in trials:
            logit = at[names.index(trial.service)] + at[-1] * (trial.score - 50) / 10
            total += np.logaddexp(0, -logit) if trial.won else np.logaddexp(0, logit)
        return float(total)

    ours = fit_odds(trials)
    assert set(ours) == {"", *names}
    point = np.array([*(ours[name].intercept for name in names), ours[""].slope])
    theirs = minimize(loss, np.array([PRIOR.intercept] * len(names) + [PRIOR.slope]))
    assert loss(point) <= theirs.fun + 1e-6


def test_without_outcomes_the_prior_speaks_and_a_service_without_any_keeps_its_intercept() -> None:
    assert fit_odds([]) == {"": PRIOR}
    learnt = fit_odds([Trial("speed", 60, won=True)] * 5)
    assert learnt[""].intercept == PRIOR.intercept
    assert learnt["speed"].chance(50) > PRIOR.chance(50)


@given(TRIALS, st.floats(0, 100))
def test_a_sale_more_never_makes_a_sale_less_likely_at_that_score(trials: list[Trial], score: float) -> None:
    before, after = fit_odds(trials), fit_odds([*trials, Trial("speed", score, won=True)])
    assert after["speed"].chance(score) >= before.get("speed", before[""]).chance(score) - 1e-9
