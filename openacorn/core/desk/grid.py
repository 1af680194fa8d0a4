"""The table's columns in memory: filter, sort, count, facets and scores over all businesses at once.

SQLite holds the truth; this is a copy by column, because a filter over columns reads a hundredth of what one over
rows reads. Appending and replacing rows keeps it in step without loading again.
"""

from collections.abc import Callable, Iterable, Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from openacorn.core.desk.filters import STATES, Filter, FilterError, Pick
from openacorn.core.desk.grid_parts import (
    Categories,
    Groups,
    Histogram,
    Selection,
    TextColumn,
    add_room,
    any_code,
    count_codes,
    gaps_of,
    histogram_of,
    in_range,
    inside,
    outcome_table,
    word_ranks,
)
from openacorn.core.desk.grid_row import CATEGORIES, GROUPS, NUMBERS, GridRow, category_of
from openacorn.core.score.columns import CODE, NOT_ASKED, OUTCOMES, Codes, Mask, Numbers

HISTOGRAMS = ("score", "value", "reviews", "rating", "distance", "gaps")
DAY_S = 86_400.0
OUTCOME_CODES = {str(outcome): code for outcome, code in CODE.items()}
Positions = npt.NDArray[np.int64]
AGES = frozenset({"audited", "seen"})
"""Numbers that are moments: filters give them as days ago."""

ORDERS_KEPT = 12
"""Orders of the whole table that are kept; each takes 8 MB at a million businesses."""


class Grid:
    """All businesses by column. Not safe for threads: one writer, and readers that call it from the same thread.

    search_pages: words → ids of businesses whose pages hold them (the texts stay in the store).
    """

    def __init__(self, checks: Sequence[str], search_pages: Callable[[str], Iterable[int]] = lambda _: ()) -> None:
        self.checks = tuple(checks)
        self._search_pages = search_pages
        self._size = self._room = 0
        self._ids: Positions = np.zeros(0, np.int64)
        self._states: Codes = np.zeros(0, np.int8)
        self._categories = {name: Categories() for name in CATEGORIES}
        self._groups = {name: Groups() for name in GROUPS}
        self._outcomes: dict[str, Codes] = {check: np.zeros(0, np.int8) for check in self.checks}
        self._numbers: dict[str, Numbers] = {name: np.zeros(0, np.float64) for name in NUMBERS}
        self._position: dict[int, int] = {}
        self._text = TextColumn()
        self._words: dict[str, list[str]] = {"name": [], "website": []}
        self.version = 0
        """Rises when a row changes, so that what was computed from the columns is known to be out of date."""
        self._forget()

    def __len__(self) -> int:
        return self._size

    @property
    def ids(self) -> Positions:
        """Ids by position; -1 where a business was dropped."""
        return self._ids[: self._size]

    def _grow(self, wanted: int) -> None:
        if wanted <= self._room:
            return
        self._room = max(1024, wanted, self._room * 2)
        self._ids, self._states = add_room(self._ids, self._room), add_room(self._states, self._room)
        self._outcomes = {name: add_room(column, self._room) for name, column in self._outcomes.items()}
        self._numbers = {name: add_room(column, self._room) for name, column in self._numbers.items()}
        growing: tuple[Categories | Groups, ...] = (*self._categories.values(), *self._groups.values())
        for part in growing:
            part.grow(self._room)

    def put(self, rows: Iterable[GridRow]) -> None:
        """Add rows, or replace those whose id is held; of two with one id the later counts. Columns are written one by one."""
        latest = list({row.id: row for row in rows}.values())
        at = np.fromiter(map(self._place, latest), np.int64, len(latest))
        self._ids[at], self._states[at] = [row.id for row in latest], [STATES.index(row.state) for row in latest]
        for name, categories in self._categories.items():
            categories.put(at, [category_of(row, name) for row in latest])
        codes = outcome_table(self.checks, [row.outcomes for row in latest])
        for number, column in enumerate(self._outcomes.values()):
            column[at] = codes[:, number]
        for name, numbers in self._numbers.items():
            numbers[at] = [np.nan if (known := row.numbers.get(name)) is None else known for row in latest]
        self._numbers["gaps"][at] = gaps_of(codes)
        for position, row in zip(at.tolist(), latest, strict=True):
            for name, group in self._groups.items():
                group.put(position, row.groups.get(name, ()))
            self._words["name"][position] = row.name.lower()
            self._words["website"][position] = row.website.lower().partition("://")[2].removeprefix("www.")
            self._text.put(position, f"{row.name}\t{row.town}\t{row.website}")
        self._forget()

    def _place(self, row: GridRow) -> int:
        """The row's position; a new one if it is not held."""
        position = self._position.get(row.id)
        if position is None:
            position = self._position[row.id] = self._size
            self._grow(position + 1)
            self._size += 1
            for words in self._words.values():
                words.append("")
        return position

    def holds(self, ids: Iterable[int]) -> bool:
        """Are all of these businesses in the grid?"""
        return all(business in self._position for business in ids)

    def drop(self, ids: Iterable[int]) -> None:
        """Forget businesses (merged into others); they stay as holes."""
        for business in ids:
            position = self._position.pop(business, None)
            if position is not None:
                self._ids[position] = -1
                for group in self._groups.values():
                    group.put(position, ())
        self._forget()

    def _forget(self) -> None:
        """Drop what was computed from rows that have changed."""
        self._orders: dict[str, Positions] = {}
        self._last_masks: tuple[Filter, int, dict[str, Mask]] | None = None
        self._places: dict[str, Positions] = {}
        self._selected: tuple[dict[str, Mask], Mask] | None = None
        self._last_page: tuple[Mask, str, Positions] | None = None
        self.version += 1

    # Selecting

    def _pick_mask(self, facet: str, pick: Pick) -> Mask:
        """Rows that hold any of the wanted values, all that must be there and none that must not."""
        size = self._size
        if facet in self._groups:
            group = self._groups[facet]
            any_of, none_of = group.any_of(pick.any, size), group.any_of(pick.never, size)
            parts = [any_of] if pick.any else []
            parts += [group.column(value, size) for value in pick.must] + ([~none_of] if pick.never else [])
            return self._all_of(parts)
        column: npt.NDArray[np.integer[Any]]
        if facet in self._categories:
            column, code_of = self._categories[facet].column(size), self._categories[facet].codes
        else:
            column, code_of = self._outcomes[facet.removeprefix("check.")][:size], OUTCOME_CODES
        parts = []
        if pick.any:
            parts.append(any_code(column, [code_of[value] for value in pick.any if value in code_of]))
        if pick.never:
            parts.append(~any_code(column, [code_of[value] for value in pick.never if value in code_of]))
        return self._all_of(parts)

    def _range_mask(self, name: str, low: float | None, high: float | None, now: float) -> Mask:
        column = self._numbers[name][: self._size]
        if name in AGES:  # days ago: the longer ago, the smaller the time
            column = (now - column) / DAY_S
        return in_range(column, low, high)

    def masks(self, chosen: Filter, now: float = 0.0) -> dict[str, Mask]:
        """Return one mask for each field that restricts, by facet name; their "and" is the selection.

        now: seconds since 1970, for ages. The last filter's are kept: a page of the table and the counts ask for the same.
        """
        minute = (
            int(now // 60) if AGES & chosen.ranges.keys() else 0
        )  # who was audited within 7 days is others tomorrow
        if self._last_masks is not None and self._last_masks[:2] == (chosen, minute):
            return self._last_masks[2]
        size = self._size
        found: dict[str, Mask] = {"live": self._ids[:size] >= 0}
        for facet, pick in chosen.picks.items():
            found[facet] = self._pick_mask(facet, pick)
        for name, (low, high) in chosen.ranges.items():
            found[name] = self._range_mask(name, low, high, now)
        if chosen.state != "all":
            found["state"] = self._states[:size] == STATES.index(chosen.state)
        if chosen.text:
            found["text"] = self._text.holding(chosen.text, size)
        if chosen.pages:
            found["pages"] = np.isin(self._ids[:size], list(self._search_pages(chosen.pages)))
        if chosen.within:
            found["within"] = inside(chosen.within, self._numbers["lat"][:size], self._numbers["lon"][:size])
        if chosen.ids:
            found["ids"] = np.isin(self._ids[:size], chosen.ids)
        self._last_masks = chosen, minute, found
        return found

    def select(self, chosen: Filter, now: float = 0.0) -> Mask:
        """Return the mask of the businesses that pass; the same array for the same filter, until a row changes."""
        masks = self.masks(chosen, now)
        if self._selected is None or self._selected[0] is not masks:
            self._selected = masks, self._all_of(masks.values())
        return self._selected[1]

    def _all_of(self, masks: Iterable[Mask]) -> Mask:
        result: Mask | None = None
        for mask in masks:
            result = mask if result is None else result & mask
        return np.ones(self._size, np.bool_) if result is None else result

    # Ordering

    def sort_key(self, name: str) -> Numbers:
        """Return a column to sort by, as numbers. Raises FilterError for a column that is not there."""
        size = self._size
        if name in self._numbers:
            return self._numbers[name][:size]
        if name in self._words:
            return word_ranks(self._words[name])
        if name in self._categories:
            return self._categories[name].ranks(size)
        if name.startswith("check.") and name[6:] in self._outcomes:
            return self._outcomes[name[6:]][:size].astype(np.float64)
        choices = ", ".join((*self._words, *NUMBERS, *self._categories, "check.<id>"))
        raise FilterError(f"cannot sort by {name!r}; choose from {choices}")

    def _ranked(self, sort: str) -> Positions:
        """All positions in the order of `sort`; kept until a row changes."""
        if sort not in self._orders:
            keys = []
            for part in filter(None, sort.split(",")):
                key = self.sort_key(part.lstrip("-"))
                values = -key if part.startswith("-") else key
                keys.append(np.where(np.isnan(values), np.inf, values))
            while len(self._orders) >= ORDERS_KEPT:
                oldest = next(iter(self._orders))
                del self._orders[oldest]
                self._places.pop(oldest, None)
            self._orders[sort] = np.lexsort((self._ids[: self._size], *reversed(keys)))
        return self._orders[sort]

    def order(self, mask: Mask, sort: str, offset: int, limit: int) -> list[int]:
        """A part of `in_order`. A page far down costs no more than the first: the order of the last selection is kept."""
        found: list[int] = self.in_order(mask, sort)[offset : offset + limit].tolist()
        return found

    def in_order(self, mask: Mask, sort: str) -> Positions:
        """Ids of the selected by `sort`: columns with commas between ("-" in front: falling), unknown last, then by id."""
        if self._last_page is None or self._last_page[0] is not mask or self._last_page[1] != sort:
            self._last_page = mask, sort, self._ids[self._sorted(mask, sort)]
        return self._last_page[2]

    def _sorted(self, mask: Mask, sort: str) -> Positions:
        """The selected positions in order: where they are few, they alone are sorted, by their places in the whole order."""
        ranked = self._ranked(sort)
        chosen = Selection(mask)
        if not chosen.few:
            return ranked[mask[ranked]]
        if sort not in self._places:
            places = np.empty(self._size, np.int64)
            places[ranked] = np.arange(self._size)
            self._places[sort] = places
        return chosen.at[np.argsort(self._places[sort][chosen.at])]

    # Counting

    def facets(self, chosen: Filter, now: float = 0.0, only: frozenset[str] | None = None) -> dict[str, dict[str, int]]:
        """Return facet → value → count; `only`: facets wanted, all of them if None.

        Each facet is counted without its own restriction, so that its other values stay choosable.
        """
        masks = self.masks(chosen, now)
        everything = Selection(self.select(chosen, now))

        def selected(facet: str) -> Selection:
            if facet not in masks:
                return everything
            return Selection(self._all_of(mask for name, mask in masks.items() if name != facet))

        def wanted(facet: str) -> bool:
            return only is None or facet in only

        counts: dict[str, dict[str, int]] = {}
        for name, categories in self._categories.items():
            if wanted(name):
                counts[name] = categories.counts(selected(name))
        for name, group in self._groups.items():
            if wanted(name):
                counts[name] = group.counts(selected(name), pick=chosen.picks.get(name), kept=everything)
        for check in self.checks:
            if wanted(f"check.{check}"):
                tally = count_codes(self._outcomes[check][: self._size], selected(f"check.{check}"), len(OUTCOMES))
                counts[f"check.{check}"] = {str(outcome): tally[code] for code, outcome in enumerate(OUTCOMES)}
        if wanted("state"):
            there = selected("state")
            tally = count_codes(self._states[: self._size], there, len(STATES))
            counts["state"] = {state: tally[code] for code, state in enumerate(STATES) if state != "all"}
        return counts

    def histograms(self, chosen: Filter, now: float = 0.0) -> dict[str, Histogram]:
        """Name of a number → how it is spread over the selection, without the number's own restriction."""
        masks = self.masks(chosen, now)
        found = {}
        for name in HISTOGRAMS:
            mask = self._all_of(mask for facet, mask in masks.items() if facet != name)
            found[name] = histogram_of(self.numbers_of(name)[mask])
        return found

    def rejected(self) -> Mask:
        """Who was rejected."""
        found: Mask = self._states[: self._size] == STATES.index("rejected")
        return found

    def codes_of(self, check: str) -> Codes:
        """Outcome codes of a check by position; all not asked for a check that there is not."""
        column = self._outcomes.get(check)
        return np.full(self._size, NOT_ASKED, np.int8) if column is None else column[: self._size]

    def numbers_of(self, name: str) -> Numbers:
        """A numeric column by position."""
        return self._numbers[name][: self._size]

    def category(self, name: str) -> tuple[npt.NDArray[np.int32], list[str]]:
        """(codes by position, what they stand for) of a category column."""
        return self._categories[name].column(self._size), self._categories[name].values

    def group(self, name: str) -> dict[str, Mask]:
        """Value → who has it, of a facet of which a business can have several values."""
        return {value: self._groups[name].column(value, self._size) for value in self._groups[name].values()}
