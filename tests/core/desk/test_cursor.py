"""Reading a list page by page, while others come and go: nobody twice, nobody who stayed left out."""

from itertools import count

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.desk.cursor import Cursor, decode_cursor, encode_cursor
from openacorn.core.desk.filters import Filter, FilterError
from openacorn.core.desk.grid_row import GridRow
from openacorn.core.desk.scored_grid import ScoredGrid

PARAMS = {"trade": "vets", "q": "harbour"}


def row(number: int, value: float) -> GridRow:
    return GridRow(
        id=number, name=f"n{number}", trade="vets", town="Kelpford", website="", offer="", state="held",
        numbers={"value": value}, outcomes={}, groups={}, platform="",
    )  # fmt: skip


@given(
    st.integers(0, 2**62),
    st.integers(0, 2**40),
    st.dictionaries(st.text(max_size=8), st.text(max_size=8), max_size=4),
    st.text(max_size=9),
)
def test_a_cursor_is_read_back_and_belongs_to_one_list(
    last: int, offset: int, params: dict[str, str], sort: str
) -> None:
    text = encode_cursor(Cursor(last, offset), params, sort)
    assert decode_cursor(text, params, sort) == Cursor(last, offset)
    with pytest.raises(FilterError, match="another filter or order"):
        decode_cursor(text, {**params, "state": "all"}, sort)
    with pytest.raises(FilterError):
        decode_cursor(text, params, sort + "x")


@given(st.text(max_size=60))
def test_what_is_no_cursor_is_refused(text: str) -> None:
    with pytest.raises(FilterError):
        decode_cursor(text, PARAMS, "-value")


@given(
    st.lists(st.tuples(st.integers(1, 60), st.integers(0, 5)), min_size=1, max_size=40, unique_by=lambda item: item[0]),
    st.integers(1, 7),
    st.data(),
)
def test_pages_hold_everybody_who_stays_once(held: list[tuple[int, int]], limit: int, data: st.DataObject) -> None:
    grid = ScoredGrid(())
    grid.put([row(number, value) for number, value in held])
    there = {number for number, _ in held}
    stay, last, offset = set(there), 0, 0
    seen: list[int] = []
    fresh = count(101)  # no id is given twice
    for _ in range(200):
        mask = grid.select(Filter(), 0.0)
        start = grid.place_after(mask, "-value", last, offset) if seen else 0
        page = grid.order(mask, "-value", start, limit)
        if not page:
            break
        seen += page
        last, offset = page[-1], start + len(page)
        gone = data.draw(st.sampled_from(sorted(there))) if len(there) > 1 and data.draw(st.booleans()) else None
        if gone is not None and gone != last:  # whoever was seen last stays; of those who went, that is the other test
            grid.drop([gone])
            there.discard(gone)
            stay.discard(gone)
        if data.draw(st.booleans()):
            new = next(fresh)
            grid.put([row(new, data.draw(st.integers(0, 5)))])
            there.add(new)
    assert len(seen) == len(set(seen)), "nobody twice"
    assert stay <= set(seen), "nobody who was there all the time is left out"


def test_if_the_last_one_has_gone_the_place_is_kept() -> None:
    grid = ScoredGrid(())
    grid.put([row(number, 10 - number) for number in range(1, 7)])
    grid.drop([3])
    mask = grid.select(Filter(), 0.0)
    assert grid.place_after(mask, "-value", 3, 3) == 3
    assert grid.order(mask, "-value", 3, 2) == [5, 6]
