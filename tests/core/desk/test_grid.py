"""The grid against a plain-Python filter, sort and count over the same rows; filters out of addresses and into words."""

import itertools
import random
from collections import Counter
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.desk import CHECKS, OFFERS, TAGS, TOWNS, TRADES, synthetic_rows
from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.filter_words import clauses, sentence
from openacorn.core.desk.filters import NOT_KNOWN, STATES, Filter, FilterError, Pick, parse_filter
from openacorn.core.desk.grid import Grid
from openacorn.core.desk.grid_parts import BINS
from openacorn.core.desk.grid_row import GridRow
from openacorn.core.desk.scored_grid import SCORES_KEPT, ScoredGrid
from openacorn.core.desk.sort_orders import KEPT
from openacorn.core.desk.text_column import TextColumn
from openacorn.core.score.service import all_services

ROWS = synthetic_rows(400, seed=3)
NOW = 1.7e9 + 86_400 * 30


def pick(values: Any, *, many: bool = False) -> st.SearchStrategy[Pick]:
    some = st.lists(st.sampled_from(values), max_size=3, unique=True).map(tuple)
    return st.builds(Pick, any=some, must=some if many else st.just(()), never=some)


PICKS = st.fixed_dictionaries(
    {},
    optional={
        "trade": pick([*TRADES, "unheard-of"]),
        "town": pick(TOWNS),
        "offer": pick([offer or NOT_KNOWN for offer in OFFERS]),
        "website": pick(["none", "listed"]),
        "tag": pick(TAGS, many=True),
        "check.check_00": pick([str(outcome) for outcome in Outcome]),
        "check.check_02": pick([str(outcome) for outcome in Outcome]),
    },
)
BOUND = st.one_of(st.none(), st.floats(0, 400))
FILTERS = st.builds(
    Filter,
    text=st.sampled_from(["", "harbour", "Gannet 1", "town 07", "nothing like it"]),
    picks=PICKS,
    ranges=st.fixed_dictionaries(
        {}, optional={"reviews": st.tuples(BOUND, BOUND), "score": st.tuples(BOUND, BOUND), "audited": st.tuples(BOUND, BOUND)}
    ),
    state=st.sampled_from(STATES),
)  # fmt: skip


def values_of(row: GridRow, facet: str) -> set[str]:
    if facet.startswith("check."):
        return {str(row.outcomes[facet.removeprefix("check.")])}
    if facet == "website":
        return {"listed" if row.website else "none"}
    return set(row.groups.get(facet, ())) if facet == "tag" else {getattr(row, facet) or NOT_KNOWN}


def number_of(row: GridRow, name: str) -> float | None:
    number = row.numbers.get(name)
    return (NOW - number) / 86_400 if number is not None and name == "audited" else number


def passes(row: GridRow, chosen: Filter, *, but: str = "") -> bool:
    for facet, wanted in chosen.picks.items():
        has = values_of(row, facet)
        if facet == but:
            continue
        if wanted.any and not has & set(wanted.any):
            return False
        if not set(wanted.must) <= has or has & set(wanted.never):
            return False
    for name, (low, high) in chosen.ranges.items():
        number = number_of(row, name)
        if number is None or (low is not None and number < low) or (high is not None and number > high):
            return False
    in_state = chosen.state in {"all", row.state}
    return in_state and chosen.text.lower() in f"{row.name}\t{row.town}\t{row.website}".lower()


@settings(max_examples=80, deadline=None)
@given(
    FILTERS, st.sampled_from(["-value", "score", "name", "-town", "trade,-value", "-gaps", "website", "check.check_01"])
)
def test_selection_order_and_facets_are_those_of_a_plain_filter(chosen: Filter, sort: str) -> None:
    grid = Grid(CHECKS)
    grid.put(ROWS)
    expected = [row for row in ROWS if passes(row, chosen)]
    mask = grid.select(chosen, NOW)
    ids = grid.order(mask, sort, 0, len(ROWS))
    assert sorted(ids) == [row.id for row in expected]
    if sort in {"-value", "trade,-value"}:
        by_trade = sort.startswith("trade")
        ranked = sorted(expected, key=lambda row: (row.trade if by_trade else "", -(row.numbers["value"] or 0), row.id))
        assert ids == [row.id for row in ranked]
        assert grid.order(mask, sort, 3, 5) == [row.id for row in ranked][3:8]
    facets = grid.facets(chosen, NOW)
    for facet in ("trade", "offer", "website", "check.check_02", "check.check_05"):
        others = Counter(value for row in ROWS if passes(row, chosen, but=facet) for value in values_of(row, facet))
        assert {value: count for value, count in facets[facet].items() if count} == dict(others)
    tags = chosen.picks.get("tag")
    if tags is None or tags.any or not tags.must:
        others = Counter(value for row in ROWS if passes(row, chosen, but="tag") for value in row.groups.get("tag", ()))
        assert facets["tag"] == dict(others)
    assert grid.facets(chosen, NOW, frozenset({"town"})).keys() == {"town"}


@settings(max_examples=40, deadline=None)
@given(FILTERS)
def test_histograms_are_those_of_numpy_over_the_same_rows(chosen: Filter) -> None:
    grid = Grid(CHECKS)
    grid.put(ROWS)
    found = grid.histograms(chosen, NOW)["rating"]
    values = [row.numbers["rating"] or 0.0 for row in ROWS if passes(row, chosen)]
    assert (found.known, sum(found.bins) + found.above) == (len(values), len(values))
    if values:
        counts, _ = np.histogram([v for v in values if v <= found.high], BINS, (found.low, found.high))
        assert list(found.bins) == list(counts)


def test_the_grid_follows_changes_drops_and_groups() -> None:
    grid = Grid(CHECKS, lambda words: [ROWS[0].id] if words == "kind care" else [])
    rng = random.Random(0)
    for row in rng.sample(ROWS, len(ROWS)):  # one by one, in any order
        grid.put([row])
    first = ROWS[0]
    numbers = {**first.numbers, "score": None, "value": 999.0, "lat": -37.0, "lon": 160.0}
    groups = {"run": ["7"], "shortlist": ["2"], "has": ["email", "mobile"], "tag": ["warm"]}
    changed = GridRow(first.id, "Zebra Vets", first.trade, "Elsewhere", "", "", "held", numbers, first.outcomes, groups)
    grid.put([changed])
    everything = Filter(state="all")
    assert grid.order(grid.select(everything), "-value", 0, 1) == [first.id]
    assert grid.order(grid.select(everything), "score", 0, 400)[-1] == first.id  # unknown comes last either way
    assert grid.order(grid.select(everything), "-score", 0, 400)[-1] == first.id
    for chosen in (
        Filter(picks={"run": Pick(any=("7",))}),
        Filter(picks={"shortlist": Pick(any=("2",))}),
        Filter(picks={"has": Pick(must=("email", "mobile"))}),
        Filter(text="zebra"),
        Filter(pages="kind care"),
        Filter(picks={"town": Pick(any=("Elsewhere",))}),
        Filter(ids=(first.id,)),
        Filter(within=((-36.9, 159.9), (-36.9, 160.1), (-37.1, 160.1), (-37.1, 159.9))),
    ):
        assert grid.order(grid.select(chosen), "name", 0, 9) == [first.id]
    grid.drop([first.id])
    assert grid.order(grid.select(Filter(picks={"run": Pick(any=("7",))})), "name", 0, 9) == []
    assert int(grid.select(everything).sum()) == len(ROWS) - 1


SORTS = ("-value", "name", "-name,town", "town,-score", "-check.check_01,name", "website")
STEPS = st.lists(
    st.tuples(st.sampled_from(["put", "drop", "look", "keep"]), st.sampled_from(SORTS), st.lists(st.integers(0, 399), max_size=9)),
    max_size=30,
)  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(STEPS, st.integers(0, 400))
def test_a_table_that_was_changed_many_times_answers_as_one_that_was_filled_once(steps: Any, begun: int) -> None:
    """Orders and scores are patched, texts lie beside their block, columns come back out of parts: nothing of that may show."""
    grid, held = ScoredGrid(CHECKS), {row.id: row for row in ROWS[:begun]}
    grid.put(held.values())
    service = all_services()[0]
    for turn, (step, sort, numbers) in enumerate(steps):
        rows = [ROWS[number] for number in numbers]
        if step == "put":
            other = [ROWS[(row.id + turn) % 400] for row in rows]
            some = [
                replace(o, id=r.id, name=o.name.split()[0] if r.id % 3 else "")
                for r, o in zip(rows, other, strict=True)
            ]
            grid.put(some)
            held |= {row.id: row for row in some}
        elif step == "drop":
            grid.drop([row.id for row in rows])
            held = {number: row for number, row in held.items() if number not in {row.id for row in rows}}
        elif step == "keep":
            about, parts = grid.parts()
            grid = ScoredGrid(CHECKS)
            grid.restore(about["values"], {name: column.copy() for name, column in parts.items()})
        grid.order(grid.select(Filter(state="all")), sort, 0, 400)
        grid.scores(service)
    fresh = ScoredGrid(CHECKS)
    fresh.put(held.values())
    for chosen in (Filter(state="all"), Filter(text="harbour 1"), Filter(picks={"tag": Pick(any=("warm",))})):
        for sort in SORTS:
            assert grid.order(grid.select(chosen), sort, 0, 400) == fresh.order(fresh.select(chosen), sort, 0, 400)
            assert grid.order(grid.select(chosen), sort, 3, 20) == fresh.order(fresh.select(chosen), sort, 3, 20)
        assert grid.facets(chosen) == fresh.facets(chosen)
    values = {
        number: value
        for number, value in zip(grid.ids.tolist(), grid.scores(service).exact.tolist(), strict=True)
        if number > 0
    }
    expected = dict(zip(fresh.ids.tolist(), fresh.scores(service).exact.tolist(), strict=True))
    assert values == pytest.approx(expected, nan_ok=True)


def test_the_order_of_names_is_that_of_pythons_own_sort() -> None:
    names = TextColumn()
    rng = random.Random(4)
    held = [
        rng.choice(["", "Äpfel", "apple", "Zoo", "zebra", "Ähre", "b\nc"]) + str(rng.randrange(9)) for _ in range(300)
    ]
    names.put(range(300), held)
    names.ranks()
    for position in rng.sample(range(300), 80):  # among equals, before the first, after the last, the same again
        held[position] = rng.choice(["", "a", "zz", "Zoo3", "apple", held[position]])
        names.put([position], [held[position]])
        if position % 7 == 0:
            ranks = names.ranks()
    ranks = names.ranks()
    plain = [text.lower().replace("\n", " ").encode() for text in held]
    for one, other in rng.sample(list(itertools.combinations(range(300), 2)), 3000):
        if plain[one] and plain[other]:
            assert (ranks[one] < ranks[other]) == (plain[one] < plain[other])
            assert (ranks[one] == ranks[other]) == (plain[one] == plain[other])
    assert [bool(np.isnan(rank)) for rank in ranks] == [not text for text in plain]


@pytest.mark.parametrize("many", [0, 30_000])
def test_a_business_is_found_by_letters_of_its_name_or_site_and_by_a_name_spelled_a_little_differently(
    many: int,
) -> None:
    grid = Grid(("title",))
    known = ["Gull & Heron Vets", "Heron House", "The Blue Heron", "Maple Dental Care", "Café Möwe"]
    own = [
        GridRow(n, name, "vets", "Kelpford", f"https://www.h{n}.example/", "", "held", {}, {})
        for n, name in enumerate(known, 1)
    ]
    own[1] = replace(own[1], state="rejected")
    grid.put([GridRow(n, f"Tamarisk Works {n}", "vets", "", "", "", "held", {}, {}) for n in range(100, 100 + many)])
    grid.put(own)
    assert grid.find("HERON", 9) == [1, 3, 2]  # who begins with it would be first, but is rejected
    assert grid.find("www.h4.ex", 9) == grid.find("https://h4.example/", 9) == [4]
    assert grid.find("zzz", 9) == []
    assert grid.find_close("Mapel Dental Care", 9, ())[:1] == [4]
    assert grid.find_close("cafe mowe", 9, ())[:1] == [5]
    assert 1 not in grid.find_close("gul heron vets", 9, [1])
    assert len(grid.find("tamarisk", 9)) == (9 if many else 0)


def gull(**numbers: float) -> GridRow:
    return GridRow(1, "Gull Vets", "vets", "Gannet Bay", "", "", "held", numbers, {})


def test_who_was_audited_within_a_week_is_others_when_time_has_passed() -> None:
    grid, chosen = Grid(("title",)), parse_filter({"audited": "..7"}, ("title",))
    moment = 1_800_000_000.0
    grid.put([gull(audited=moment)])
    assert [int(grid.select(chosen, moment + days * 86_400).sum()) for days in (1, 8, 2)] == [1, 0, 1]


def test_what_was_tried_takes_no_more_room_the_longer_it_goes_on() -> None:
    grid = ScoredGrid(("title",))
    grid.put([gull(fit=50.0, reach=0.5)])
    service = all_services()[0]
    for fee in range(200):
        grid.scores(replace(service, fee=float(fee)))
        grid.order(grid.select(Filter()), ",".join(["name"] * (fee % 40 + 1)), 0, 10)
    assert len(grid._scores) <= SCORES_KEPT
    assert len(grid._orders) <= KEPT
    assert grid.scores(service) is grid.scores(service)


def test_an_empty_grid_answers() -> None:
    grid = Grid(CHECKS)
    chosen = Filter(text="x", picks={"trade": Pick(any=("a",)), "run": Pick(must=("1",))}, ranges={"score": (1, None)})
    assert grid.order(grid.select(chosen), "-value", 0, 10) == []
    assert grid.facets(Filter())["website"] == {}
    assert grid.histograms(Filter())["score"].known == 0


@pytest.mark.parametrize(
    ("params", "says"),
    [
        ({"check.nonsense": "gap"}, "no check 'nonsense'"),
        ({"check.title": "bad"}, "gap, partial, ok"),
        ({"website": "perhaps"}, "none, listed"),
        ({"has": "fax"}, "named person"),
        ({"state": "x"}, "held, rejected, relationship, all"),
        ({"shortlist": "abc"}, "shortlist=abc: must be a whole number"),
        ({"ids": "1,x"}, "ids=x"),
        ({"run": "9" * 30}, "no id is that large"),
        ({"score": "ten"}, "two numbers with .. between"),
        ({"reviews": "nan.."}, "two numbers"),
        ({"score": "9..3"}, "first number is the larger"),
        ({"within": "1,2 3,4"}, "3 to 500 corners"),
        ({"within": "1,2 3 4,5"}, "lat,lon"),
    ],
)
def test_a_filter_that_makes_no_sense_names_its_field(params: dict[str, str], says: str) -> None:
    with pytest.raises(FilterError, match=says):
        parse_filter(params, ["title"])


def test_an_unknown_sort_column_is_refused() -> None:
    grid = Grid(CHECKS)
    with pytest.raises(FilterError, match="cannot sort by 'shoe size'"):
        grid.order(grid.select(Filter()), "shoe size", 0, 1)


NAMES: dict[str, Any] = {
    "trade": {"vets": "Vets", "florists": "Florists"}.get, "check": {"title": "Title"}.get, "shortlist": lambda value: f"“list {value}”",
}  # fmt: skip


@pytest.mark.parametrize(
    ("params", "words"),
    [
        ({}, "All businesses"),
        ({"trade": "vets,florists", "town": "Larch Flat|!Quay, Old"}, "Vets or Florists · in Larch Flat and not in Quay, Old"),
        ({"has": "^email,^named person,!mobile", "reviews": "40.."}, "Email and named person and no mobile · at least 40 reviews"),
        ({"check.title": "gap,partial", "score": "20..60"}, "Title: gap or partial · score 20 to score 60"),
        ({"check.title": "!ok", "website": "none", "distance": "..5000"}, "Title not ok · no website listed · at most 5 km away"),
        ({"q": "quay", "pages": "cash only", "state": "all"}, "“quay” in name, town or site · pages say “cash only” · with all held back"),
        ({"shortlist": "3", "ids": "1,2"}, "On “list 3” · 2 picked"),
    ],
)  # fmt: skip
def test_a_filter_reads_as_a_sentence_whose_clauses_can_be_taken_away(params: dict[str, str], words: str) -> None:
    chosen = parse_filter(params, ["title"])
    assert sentence(chosen, NAMES) == words
    for clause in clauses(chosen, NAMES):
        left = parse_filter({key: raw for key, raw in params.items() if key != clause.key}, ["title"])
        assert clause.text not in [other.text for other in clauses(left, NAMES)]
