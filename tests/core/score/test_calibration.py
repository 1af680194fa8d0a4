"""How far chances can be trusted, against scikit-learn's figures."""

from collections.abc import Sequence

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.score.calibration import BINS, EVENTS_A_PARAMETER, brier, calibrate, reliability, unseen_chances
from openacorn.core.score.winning import PRIOR, Trial, WinModel, fit

PREDICTIONS = st.lists(st.tuples(st.floats(0, 1), st.booleans()), min_size=1, max_size=80)
TRIALS = st.lists(
    st.builds(Trial, st.sampled_from(["speed", "ads_setup"]), st.floats(0, 100), st.booleans()), max_size=40
)


@given(PREDICTIONS)
def test_the_brier_score_is_scikit_learns(predicted: list[tuple[float, bool]]) -> None:
    from sklearn.metrics import brier_score_loss

    chances, won = [chance for chance, _ in predicted], [bought for _, bought in predicted]
    assert brier(chances, won) == pytest.approx(brier_score_loss(won, chances, pos_label=True), abs=1e-12)


@given(PREDICTIONS)
def test_bins_hold_everybody_once_in_order(predicted: list[tuple[float, bool]]) -> None:
    chances, won = [chance for chance, _ in predicted], [bought for _, bought in predicted]
    bins = reliability(chances, won)
    assert sum(item.count for item in bins) == len(chances)
    assert len(bins) <= BINS
    assert [item.predicted for item in bins] == sorted(item.predicted for item in bins)
    assert sum(item.bought * item.count for item in bins) == pytest.approx(sum(won))


@given(TRIALS)
def test_nobody_is_judged_by_a_fit_that_has_seen_him(trials: list[Trial]) -> None:
    seen: list[list[Trial]] = []

    def spy(others: Sequence[Trial]) -> WinModel:
        seen.append(list(others))
        return fit(others)

    chances = unseen_chances(trials, spy)
    for at, chance in enumerate(chances):
        others = [trial for place, trial in enumerate(trials) if place % 5 != at % 5]
        assert others in seen
        assert chance == pytest.approx(fit(others).chance(trials[at]))


def test_without_contacts_nothing_is_claimed_and_it_is_said_how_many_are_missing() -> None:
    nothing = calibrate([])
    assert (nothing.prior_brier, nothing.fitted_brier, nothing.bins) == (None, None, ())
    some = calibrate([Trial("speed", 50.0, won=number < 3) for number in range(30)])
    assert some.needed == 2 * EVENTS_A_PARAMETER - 3
    assert some.prior_brier == pytest.approx(brier([PRIOR.chance(50)] * 30, [n < 3 for n in range(30)]))
    assert some.fitted_brier is not None
    assert some.prior_brier is not None
    assert some.fitted_brier < some.prior_brier  # one in ten bought, not one in fifty
