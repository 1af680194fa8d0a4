"""Scores of everybody at once against the formula for one, and against a dataframe library that was told the formula again."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.rerank import ColumnGrid, moved, polars_exprs, polars_offers
from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.grid_row import GridRow
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.core.score.fit import Fit
from openacorn.core.score.opportunity import State, best_offer, score_service
from openacorn.core.score.reach import Reach
from openacorn.core.score.service import all_services

SERVICES = all_services()
CHECKS = sorted({rule.check for service in SERVICES for rule in service.rules} | {"real_site"})
ANSWERS = st.dictionaries(st.sampled_from(CHECKS), st.sampled_from(list(Outcome)))
BUSINESS = st.tuples(ANSWERS, st.floats(0.01, 1), st.floats(0, 1))


def row(number: int, outcomes: dict[str, Outcome], fit: float | None, reach: float | None) -> GridRow:
    return GridRow(number, f"b{number}", "vets", "", "", "", "held", {"fit": fit, "reach": reach}, outcomes)


@settings(max_examples=60, deadline=None)
@given(st.lists(BUSINESS, min_size=1, max_size=8))
def test_everybody_at_once_scores_as_each_by_itself(drawn: list[tuple[dict[str, Outcome], float, float]]) -> None:
    grid = ScoredGrid(CHECKS)
    grid.put(row(number, *business) for number, business in enumerate(drawn, 1))
    offers = grid.offers(SERVICES)
    for at, (outcomes, fit, reach) in enumerate(drawn):
        alone = [score_service(service, outcomes, Fit(fit, ()), Reach(reach, ())) for service in SERVICES]
        for service, found in zip(SERVICES, alone, strict=True):
            columns = grid.scores(service)
            assert columns.need[at] == pytest.approx(found.need.value)
            if found.state is State.SCORED:
                assert columns.exact[at] == pytest.approx(found.exact)
                assert columns.value[at] == pytest.approx(found.value)
            else:
                assert np.isnan(columns.exact[at])
        best = best_offer(alone)
        chosen = "" if offers.service[at] < 0 else SERVICES[offers.service[at]].id
        assert chosen == (best.service if best else "")


def test_where_nothing_applies_nothing_is_needed() -> None:
    grid = ScoredGrid(CHECKS)
    grid.put([row(1, dict.fromkeys(CHECKS, Outcome.NOT_APPLICABLE), 1.0, 1.0)])
    assert all(grid.scores(service).need[0] == 0 for service in SERVICES)


def test_a_dataframe_library_comes_to_the_same_scores_and_offers() -> None:
    """PyPI polars, over 3,000 drawn businesses: every service's scores, and the best offers before and after a weight moved."""
    grid = ColumnGrid(CHECKS)
    grid.fill(3000)
    frame = grid.as_frame()
    for service in SERVICES:
        exact, need, _ = polars_exprs(service)
        theirs = frame.select(exact.alias("exact"), need.alias("need"))
        ours = grid.scores(service)
        assert np.allclose(ours.exact, theirs["exact"].to_numpy(), equal_nan=True)
        assert np.allclose(ours.need, theirs["need"].to_numpy())
    for services in (SERVICES, moved(SERVICES, 9.0)):
        ours_offers, theirs_offers = grid.offers(services), polars_offers(frame, services)
        assert np.allclose(ours_offers.value, theirs_offers["value"].to_numpy(), equal_nan=True)


def test_whoever_was_never_scored_has_none_and_a_changed_row_is_scored_anew() -> None:
    grid = ScoredGrid(CHECKS)
    grid.put([row(1, {}, None, None), row(2, dict.fromkeys(CHECKS, Outcome.GAP), 0.5, 0.5)])
    assert list(grid.scorable()) == [False, True]
    service = next(service for service in SERVICES if not service.gates)
    before = grid.scores(service).exact[1]
    grid.put([row(2, dict.fromkeys(CHECKS, Outcome.GAP), 1.0, 1.0)])
    assert grid.scores(service).exact[1] > before
    doubled = replace(service, rules=tuple(replace(rule, weight=rule.weight * 2) for rule in service.rules))
    assert grid.scores(doubled).exact[1] == pytest.approx(grid.scores(service).exact[1])  # only shares of weight count


OUTCOME = st.sampled_from([Outcome.GAP, Outcome.PARTIAL, Outcome.OK, Outcome.UNKNOWN, Outcome.NOT_APPLICABLE])


@given(
    st.fixed_dictionaries(dict.fromkeys(CHECKS, OUTCOME)),
    st.sampled_from(CHECKS),
    st.floats(0.05, 1),
    st.floats(0.05, 1),
)
def test_more_gaps_never_lower_need_and_forgetting_an_answer_never_raises_a_score(
    outcomes: dict[str, Outcome], check: str, fit: float, reach: float
) -> None:
    def scored(answer: dict[str, Outcome]) -> list[Any]:
        return [score_service(service, answer, Fit(fit, ()), Reach(reach, ())) for service in SERVICES]

    worse = {**outcomes, check: Outcome.GAP} if outcomes[check] in {Outcome.OK, Outcome.PARTIAL} else outcomes
    for service, one, other in zip(SERVICES, scored(outcomes), scored(worse), strict=True):
        if not any(gate.check == check for gate in service.gates):
            assert other.need.value >= one.need.value - 1e-9
    forgotten = {**outcomes, check: Outcome.UNKNOWN}
    if outcomes[check] is not Outcome.NOT_APPLICABLE:
        for one, other in zip(scored(outcomes), scored(forgotten), strict=True):
            assert (other.exact if other.score is not None else 0.0) <= one.exact + 1e-9 or one.score is None
