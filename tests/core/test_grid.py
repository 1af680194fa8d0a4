"""The grid against a plain-Python filter, sort and count over the same rows; filters out of addresses and into words."""

import random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from openacorn.bench.desk import CHECKS, OFFERS, TOWNS, TRADES, synthetic_rows
from openacorn.core.audit.finding import Outcome
from openacorn.core.filters import Filter, FilterError, parse_filter, sentence
from openacorn.core.grid import Grid, GridRow

ROWS = synthetic_rows(400, seed=3)
MAYBE = st.lists
FILTERS = st.builds(
    Filter,
    text=st.sampled_from(["", "harbour", "Gannet 1", "town 07", "nothing like it"]),
    trades=st.lists(st.sampled_from([*TRADES, "unheard-of"]), max_size=3, unique=True).map(tuple),
    towns=st.lists(st.sampled_from(TOWNS), max_size=2, unique=True).map(tuple),
    offers=st.lists(st.sampled_from(OFFERS), max_size=2, unique=True).map(tuple),
    website=st.sampled_from(["", "none", "listed"]),
    state=st.sampled_from(["held", "rejected", "all"]),
    checks=st.dictionaries(
        st.sampled_from(CHECKS[:3]),
        st.lists(st.sampled_from(list(Outcome)), min_size=1, max_size=3).map(tuple),
        max_size=2,
    ),
)


def passes(row: GridRow, chosen: Filter) -> bool:
    return (
        (not chosen.text or chosen.text.lower() in f"{row.name}\t{row.town}\t{row.website}".lower())
        and (not chosen.trades or row.trade in chosen.trades)
        and (not chosen.towns or row.town in chosen.towns)
        and (not chosen.offers or row.offer in chosen.offers)
        and (not chosen.website or bool(row.website) == (chosen.website == "listed"))
        and (chosen.state == "all" or row.rejected == (chosen.state == "rejected"))
        and all(row.outcomes[check] in outcomes for check, outcomes in chosen.checks.items())
    )


@settings(max_examples=60, deadline=None)
@given(FILTERS, st.sampled_from(["-value", "score", "name", "-town", "trade", "-gaps", "website", "check.check_01"]))
def test_selection_order_and_facets_are_those_of_a_plain_filter(chosen: Filter, sort: str) -> None:
    grid = Grid(CHECKS)
    grid.put(ROWS)
    expected = [row for row in ROWS if passes(row, chosen)]
    mask = grid.select(chosen)
    ids = grid.order(mask, sort, 0, len(ROWS))
    assert sorted(ids) == [row.id for row in expected]
    if sort == "-value":
        ranked = sorted(expected, key=lambda row: (-(row.numbers["value"] or 0), row.id))
        assert ids == [row.id for row in ranked]
        assert grid.order(mask, sort, 3, 5) == [row.id for row in ranked][3:8]
    facets = grid.facets(chosen)
    others = [row for row in ROWS if passes(row, Filter(**{**as_dict(chosen), "trades": ()}))]
    assert facets["trade"] == {trade: n for trade in TRADES if (n := sum(row.trade == trade for row in others))}
    for check in CHECKS[3:6]:
        assert facets[f"check.{check}"] == {str(o): sum(row.outcomes[check] is o for row in expected) for o in Outcome}


def as_dict(chosen: Filter) -> dict[str, Any]:
    return {name: getattr(chosen, name) for name in Filter.__slots__}


def test_the_grid_follows_changes_drops_and_groups() -> None:
    grid = Grid(CHECKS)
    rng = random.Random(0)
    for row in rng.sample(ROWS, len(ROWS)):  # one by one, in any order
        grid.put([row])
    first = ROWS[0]
    numbers = {**first.numbers, "score": None, "value": 999.0}
    changed = GridRow(
        first.id, "Zebra Vets", first.trade, "Elsewhere", "", "", False, numbers, first.outcomes, (7,), (2,)
    )
    grid.put([changed])
    everything = Filter(state="all")
    assert grid.order(grid.select(everything), "-value", 0, 1) == [first.id]
    assert grid.order(grid.select(everything), "score", 0, 400)[-1] == first.id  # unknown comes last either way
    assert grid.order(grid.select(everything), "-score", 0, 400)[-1] == first.id
    for chosen in (
        Filter(run=7),
        Filter(shortlist=2),
        Filter(text="zebra"),
        Filter(towns=("Elsewhere",)),
        Filter(ids=(first.id,)),
    ):
        assert grid.order(grid.select(chosen), "name", 0, 9) == [first.id]
    grid.drop([first.id])
    assert grid.order(grid.select(Filter(run=7)), "name", 0, 9) == []
    assert int(grid.select(everything).sum()) == len(ROWS) - 1


def test_an_empty_grid_answers() -> None:
    grid = Grid(CHECKS)
    assert grid.order(grid.select(Filter(text="x", trades=("a",), run=1)), "-value", 0, 10) == []
    assert grid.facets(Filter())["website"] == {"listed": 0, "none": 0}


@pytest.mark.parametrize(
    ("params", "says"),
    [
        ({"check.nonsense": "gap"}, "no check 'nonsense'"),
        ({"check.title": "bad"}, "gap, partial, ok"),
        ({"website": "perhaps"}, "none, listed"),
        ({"state": "x"}, "held, rejected, all"),
        ({"shortlist": "abc"}, "shortlist=abc: must be a whole number"),
        ({"ids": "1,x"}, "ids=x"),
        ({"run": "9" * 30}, "no id is that large"),
    ],
)
def test_a_filter_that_makes_no_sense_names_its_field(params: dict[str, str], says: str) -> None:
    with pytest.raises(FilterError, match=says):
        parse_filter(params, ["title"])


def test_an_unknown_sort_column_is_refused() -> None:
    grid = Grid(CHECKS)
    with pytest.raises(FilterError, match="cannot sort by 'shoe size'"):
        grid.order(grid.select(Filter()), "shoe size", 0, 1)


def test_a_filter_reads_as_a_sentence() -> None:
    chosen = parse_filter(
        {"trade": "vets,florists", "website": "listed", "check.title": "gap,partial", "q": "gull", "offset": "3"},
        ["title"],
    )
    words = sentence(chosen, {"vets": "Vets", "florists": "Florists"}, {"title": "Page title"}, {})
    assert words == "Vets or Florists · website listed · Page title: gap or partial · “gull” in name, town or site"
    assert sentence(Filter(), {}, {}, {}) == "Everything held"
