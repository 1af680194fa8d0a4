"""Scores: the formula by hand, terms that add up for any input, unknown that is never missing."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.audit.finding import Outcome
from openacorn.core.score.fit import UNKNOWN_FIT, Fit, Means, fit_of, percentile
from openacorn.core.score.need import need_of
from openacorn.core.score.opportunity import State, best_offer, largest_remainder, score_service
from openacorn.core.score.reach import Channel, ChannelKind, Reach, email_kind, flags_of, phone_kind, reach_of
from openacorn.core.score.service import Rule, Service, all_services

OUTCOMES = st.sampled_from(list(Outcome))
CHECKS = sorted({rule.check for service in all_services() for rule in service.rules} | {"real_site"})
ANY_OUTCOMES = st.fixed_dictionaries(dict.fromkeys(CHECKS, OUTCOMES))
SHARE = st.floats(0, 1)
GAP, OK, UNKNOWN, PARTIAL, NONE = Outcome.GAP, Outcome.OK, Outcome.UNKNOWN, Outcome.PARTIAL, Outcome.NOT_APPLICABLE


def service(*rules: Rule) -> Service:
    return Service("s", "S", "why", 1000, 0, 0, 500, rules)


def test_the_formula_by_hand() -> None:
    # need = (3·1 + 1·.5) ÷ (3 + 1 + 1) = .7; score = 100 · .7^.6 · .5^.2 · .4^.2 = 58.5 (worked with a calculator)
    outcomes = {"a": GAP, "b": PARTIAL, "c": OK}
    found = score_service(service(Rule("a", 3), Rule("b", 1), Rule("c", 1)), outcomes, Fit(0.5, ()), Reach(0.4, ()))
    assert found.need.value == pytest.approx(0.7)
    assert found.exact == pytest.approx(58.52, abs=0.01)
    assert (found.score, sum(term.points for term in found.terms)) == (59, 41)


def test_unknown_adds_nothing_and_is_the_gap_between_the_bounds() -> None:
    need = need_of(service(Rule("a", 2), Rule("b", 1), Rule("c", 1)), {"a": UNKNOWN, "b": GAP, "c": NONE})
    assert (need.value, need.upper, need.known_share) == pytest.approx((1 / 3, 1.0, 1 / 3))


def test_a_decisive_gap_lifts_need_to_its_own_severity() -> None:
    rules = service(Rule("a", 1, decisive=True, severity={GAP: 0.9}), Rule("b", 9))
    need = need_of(rules, {"a": GAP, "b": OK})
    assert (need.value, need.decided_by) == (0.9, "a")
    assert need_of(rules, {"a": OK, "b": OK}).decided_by is None


@given(ANY_OUTCOMES, SHARE, SHARE)
def test_terms_and_score_add_up_to_100_whatever_is_known(
    outcomes: dict[str, Outcome], fit: float, reach: float
) -> None:
    for item in all_services():
        found = score_service(item, outcomes, Fit(fit, ()), Reach(reach, ()))
        if found.state is State.SCORED:
            assert found.score is not None
            assert 0 <= found.score <= 100
            assert found.score + sum(term.points for term in found.terms) == 100
            assert all(term.points >= 0 for term in found.terms)
        else:
            assert (found.score, found.value, found.reason != "") == (None, None, True)


@given(ANY_OUTCOMES, st.sampled_from(CHECKS))
def test_learning_an_unknown_never_leaves_the_bounds(outcomes: dict[str, Outcome], check: str) -> None:
    for item in all_services():
        before = need_of(item, {**outcomes, check: UNKNOWN})
        for outcome in (GAP, PARTIAL, OK):
            after = need_of(item, {**outcomes, check: outcome})
            assert before.value - 1e-9 <= after.value <= before.upper + 1e-9


@pytest.mark.parametrize(
    ("real_site", "state"),
    [
        (OK, State.NOT_ENOUGH_KNOWN),
        (GAP, State.NOT_APPLICABLE),
        (UNKNOWN, State.HELD_BACK),
        (NONE, State.NOT_APPLICABLE),
    ],
)
def test_gates(real_site: Outcome, state: State) -> None:
    search = next(item for item in all_services() if item.id == "search_basics")
    assert score_service(search, {"real_site": real_site}, Fit(1, ()), Reach(1, ())).state is state


@given(st.lists(st.floats(0, 50), min_size=1, max_size=9))
def test_largest_remainder_keeps_the_total_and_stays_within_one(parts: list[float]) -> None:
    total = math.ceil(sum(parts))
    parts = [part * total / sum(parts) if sum(parts) else 0 for part in parts]
    if not any(parts):
        return
    rounded = largest_remainder(parts, total)
    assert sum(rounded) == total
    assert all(abs(whole - part) < 1 + 1e-6 for whole, part in zip(rounded, parts, strict=True))


@given(st.lists(st.integers(0, 300), min_size=8, max_size=60), st.integers(0, 300))
def test_percentile_follows_the_reference_mid_rank(peers: list[int], value: int) -> None:
    # scipy's mid-rank percentile, moved off 0 and 1 by half a place at either end
    from scipy.stats import percentileofscore

    n = len(peers)
    theirs = percentileofscore(peers, value, kind="mean") / 100
    assert percentile(value, sorted(peers)) == pytest.approx((theirs * n + 0.5) / (n + 1))
    assert 0 < percentile(value, sorted(peers)) < 1


def test_fit_counts_only_what_is_known() -> None:
    assert fit_of(Means(), [], 2026).value == UNKNOWN_FIT
    assert fit_of(Means(staff_band="20+"), [], 2026).value == 1.0
    assert fit_of(Means(reviews=5), [1, 2, 3], 2026).value == UNKNOWN_FIT  # too few peers to rank among
    assert fit_of(Means(founded="2023-05-01"), [], 2026).value == pytest.approx(3 / 15)
    assert [
        fit_of(Means(revenue_band=band), [], 2026).value for band in ("under 250k", "250k-500k", "1m-5m", "5m+", "?")
    ] == [0.2, 0.4, 0.85, 1.0, UNKNOWN_FIT]
    assert fit_of(Means(chain="Gull", ads=True), [], 2026).value == pytest.approx((0.2 + 1.0) / 2)


KNOWN = Means(40, "2-4", 3, "1990-05-01", "1m-5m", "Gull", ads=False)


def test_fit_is_the_weighted_mean_of_all_signs_and_says_each() -> None:
    # by hand, rank 40 above eight peers: (0 + 8) / 2 … as percentileofscore has it; 36 years count as 15
    peers = [1, 2, 3, 4, 5, 6, 7, 8]
    rank = (8 + 0.5) / 9
    found = fit_of(KNOWN, peers, 2026)
    assert found.value == pytest.approx((2 * rank + 0.4 + 0.8 + 1.0 + 2 * 0.85 + 0.2 + 0.4) / 9)
    assert [(signal.label, signal.weight, signal.shown) for signal in found.signals] == [
        ("Review volume among peers", 2, "40 reviews, more than 94% of 8 in the trade"), ("Staff", 1, "2-4"), ("Price band", 1, "3 of 4"),
        ("Years trading", 1, "since 1990"), ("Revenue band", 2, "1m-5m"), ("Decides for itself", 1, "a branch of Gull"), ("Runs ads", 1, "no"),
    ]  # fmt: skip
    assert [signal.shown for signal in fit_of(Means(), [], 2026).signals] == [
        *["not known"] * 5, "no other places of it are known", "not known",
    ]  # fmt: skip
    assert fit_of(Means(reviews=3), peers[:7], 2026).signals[0].shown == "3 reviews"
    assert fit_of(Means(founded="2030-01-01", ads=True), [], 2026).value == pytest.approx((0 + 1.0) / 2)


def test_what_is_assumed_is_no_way_to_reach_them() -> None:
    assumed = Channel(ChannelKind.FORM, "", assumed=True)
    known = Channel(ChannelKind.LANDLINE, "+613")
    assert flags_of(reach_of([assumed, known]), named_person=True) == ["phone", "landline", "named person"]
    assert not known.assumed
    assert (assumed.r, Channel(ChannelKind.FORM, "", chance=0.9).r) == (0.15, 0.9)


def test_a_decisive_rule_decides_only_where_it_lifts() -> None:
    lifted = service(Rule("a", 1, decisive=True), Rule("b", 1))
    assert need_of(lifted, {"a": GAP, "b": GAP}).decided_by is None  # the mean says as much
    assert need_of(lifted, {"a": UNKNOWN, "b": OK}).decided_by is None
    half = need_of(service(Rule("a", 1, decisive=True), Rule("b", 3)), {"a": PARTIAL, "b": OK})
    assert (half.value, half.upper, half.decided_by) == (0.5, 0.5, "a")


def test_reach_takes_the_best_of_each_sort_once() -> None:
    channels = [
        Channel(ChannelKind.ROLE, "info@a.example"),
        Channel(ChannelKind.NAMED, "jo@a.example"),
        Channel(ChannelKind.LANDLINE, "+613"),
    ]
    assert reach_of(channels).value == pytest.approx(1 - (1 - 0.4) * (1 - 0.4))
    assert reach_of([]).value == 0


@pytest.mark.parametrize(
    ("number", "kind"),
    [
        ("+61491570006", ChannelKind.MOBILE),  # the regulator's numbers for fiction
        ("+61355501234", ChannelKind.LANDLINE),
        ("+12015550123", ChannelKind.LINE),  # the North American plan does not tell
        ("nonsense", ChannelKind.LINE),
    ],
)
def test_line_types(number: str, kind: ChannelKind) -> None:
    assert phone_kind(number) is kind


def test_role_addresses_are_told_from_named_ones() -> None:
    assert email_kind("Info@a.example") is ChannelKind.ROLE
    assert email_kind("petra@a.example") is ChannelKind.NAMED


def test_the_best_offer_needs_need() -> None:
    dear = score_service(service(Rule("a", 1), Rule("b", 9)), {"a": GAP, "b": OK}, Fit(1, ()), Reach(1, ()))
    assert dear.value is not None
    assert best_offer([dear]) is None


def test_what_a_sale_leaves_and_what_it_is_worth() -> None:
    # DESIGN §4 by hand: 1,200 + 80 · 12 − 700 = 1,460; score 50: P = 2 % (the prior's middle), so 29.20 expected
    sold = Service("s", "S", "why", fee=1200, monthly=80, months=12, delivery=700, rules=(Rule("a", 1), Rule("b", 1)))
    assert sold.margin == pytest.approx(1460)
    found = score_service(sold, {"a": GAP, "b": GAP}, Fit(1, ()), Reach(0.5**5, ()))
    assert found.score == 50
    assert found.exact == pytest.approx(50.0)
    assert found.value == pytest.approx(0.02 * 1460)


def test_half_of_what_decides_is_enough_however_its_shares_round() -> None:
    for count in range(2, 40, 2):
        asked = service(*(Rule(f"c{n}", 1) for n in range(count)))
        known = need_of(asked, {f"c{n}": GAP for n in range(count // 2)})
        assert (known.known_share, known.value) == (0.5, 0.5), count
