"""The table in memory: filter, sort, count and facets over all businesses at once."""

from collections.abc import Callable, Iterable, Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from openacorn.core.desk.filters import STATES, Filter, FilterError, Pick
from openacorn.core.desk.finding import close_in_spelling, holding
from openacorn.core.desk.grid_columns import GridColumns, Positions, bare_site
from openacorn.core.desk.grid_parts import (
    Histogram,
    Selection,
    any_code,
    histogram_of,
    in_range,
    inside,
    tally,
)
from openacorn.core.desk.grid_row import NUMBERS
from openacorn.core.desk.sort_orders import SortOrders
from openacorn.core.score.columns import CODE, OUTCOMES, Mask, Numbers

HISTOGRAMS = ("score", "value", "reviews", "rating", "distance", "gaps")
DAY_S = 86_400.0
OUTCOME_CODES = {str(outcome): code for outcome, code in CODE.items()}
AGES = frozenset({"audited", "seen"})
"""Numbers that are moments: filters give them as days ago."""

FIRST_LOOK = 1 << 15
"""So many rows of an order are looked at first for a page near its top; then twice as many, and so on."""

NEAR_TOP = 5_000


class Grid(GridColumns):
    """All businesses by column. Not safe for threads: one writer, and readers that call it from the same thread.

    search_pages: words → ids of businesses whose pages hold them (the texts stay in the store).
    """

    def __init__(self, checks: Sequence[str], search_pages: Callable[[str], Iterable[int]] = lambda _: ()) -> None:
        super().__init__(checks)
        self._search_pages = search_pages
        self._orders = SortOrders()
        self._forget()

    def _written(self, at: Positions) -> None:
        """Rows were added, changed or dropped."""
        self._orders.written(at)
        self._forget()

    def _forget(self) -> None:
        """Drop what was computed from rows that have changed."""
        self._last_masks: tuple[Filter, int, dict[str, Mask]] | None = None
        self._selected: tuple[dict[str, Mask], Mask] | None = None
        self._last_page: tuple[Mask, str, Positions] | None = None
        self._spread: tuple[dict[str, Mask], dict[str, Histogram]] | None = None

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
            column, code_of = self.codes_of(facet.removeprefix("check.")), OUTCOME_CODES
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
            found["text"] = self._saying(chosen.text)
        if chosen.pages:
            found["pages"] = np.isin(self._ids[:size], list(self._search_pages(chosen.pages)))
        if chosen.within:
            found["within"] = inside(chosen.within, self._numbers["lat"][:size], self._numbers["lon"][:size])
        if chosen.ids:
            found["ids"] = np.isin(self._ids[:size], chosen.ids)
        self._last_masks = chosen, minute, found
        return found

    def _saying(self, text: str) -> Mask:
        """Who has a text in the name, the town or the site's address (with or without what stands before the host)."""
        found = self._texts["name"].holding(text, self._size)
        found |= self._categories["town"].holding(text, self._size)
        found |= self._texts["website"].holding(bare_site(text), self._size)
        return found

    def find(self, text: str, most: int) -> list[int]:
        """Ids of the businesses whose name or site holds a text: those not rejected first, then names that begin with it."""
        at = holding(self._texts["name"], self._texts["website"], text, bare_site(text), most)
        at = at[self.ids[at] >= 0]
        return [int(found) for found in self._ids[at[np.argsort(self.rejected()[at], kind="stable")]]]

    def find_close(self, text: str, most: int, but: Iterable[int]) -> list[int]:
        """Ids of businesses not rejected whose name is spelled much like a text, closest first, without those to be left out."""
        there = (self.ids >= 0) & ~self.rejected()
        there[self._held(but)] = False
        return [int(found) for found in self._ids[close_in_spelling(self._texts["name"], text, there, most)]]

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
        if name in self._texts:
            return self._texts[name].ranks()
        if name in self._categories:
            return self._categories[name].ranks(size)
        if name.startswith("check.") and name[6:] in self.checks:
            return self.codes_of(name[6:]).astype(np.float64)
        choices = ", ".join((*self._texts, *NUMBERS, *self._categories, "check.<id>"))
        raise FilterError(f"cannot sort by {name!r}; choose from {choices}")

    def _keys(self, sort: str) -> list[npt.NDArray[Any]]:
        """The columns of a sort: what is not known comes last, equals go by id."""
        keys: list[npt.NDArray[Any]] = []
        for part in filter(None, sort.split(",")):
            key = self.sort_key(part.lstrip("-"))
            values = -key if part.startswith("-") else key
            keys.append(np.where(np.isnan(values), np.inf, values))
        return [*keys, self.ids]

    def order(self, mask: Mask, sort: str, offset: int, limit: int) -> list[int]:
        """A part of `in_order`. A page far down costs no more than the first: the order of the last selection is kept."""
        known = self._last_page is not None and self._last_page[0] is mask and self._last_page[1] == sort
        if not known and offset + limit <= NEAR_TOP and (top := self._top(mask, sort, offset + limit)) is not None:
            return [int(found) for found in self._ids[top[offset:]]]
        return [int(found) for found in self.in_order(mask, sort)[offset : offset + limit]]

    def _top(self, mask: Mask, sort: str, wanted: int) -> npt.NDArray[np.int32] | None:
        """The first selected positions; None where few are selected and so many rows would be passed over."""
        if Selection(mask).few:
            return None
        ranked = self._orders.ranked(sort, lambda: self._keys(sort))
        found, look, start = ranked[:0], FIRST_LOOK, 0
        while len(found) < wanted and start < len(ranked):
            part = ranked[start : start + look]
            found = np.concatenate((found, part[mask[part]]))
            start, look = start + look, look * 2
        return found[:wanted]

    def in_order(self, mask: Mask, sort: str) -> Positions:
        """Ids of the selected by `sort`: columns with commas between ("-" in front: falling), unknown last, then by id."""
        if self._last_page is None or self._last_page[0] is not mask or self._last_page[1] != sort:
            self._last_page = mask, sort, self._ids[self._sorted(mask, sort)]
        return self._last_page[2]

    def _sorted(self, mask: Mask, sort: str) -> npt.NDArray[np.integer[Any]]:
        """The selected positions in order: where they are few, they alone are sorted, by their places in the whole order."""
        chosen = Selection(mask)
        if not chosen.few:
            ranked = self._orders.ranked(sort, lambda: self._keys(sort))
            return ranked[mask[ranked]]
        places = self._orders.places(sort, lambda: self._keys(sort))
        return chosen.at[np.argsort(places[chosen.at])]

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
                found = self._outcomes.counts(check, selected(f"check.{check}"))
                counts[f"check.{check}"] = {str(outcome): found[code] for code, outcome in enumerate(OUTCOMES)}
        if wanted("state"):
            states = tally(self._states[: self._size], selected("state"), len(STATES)).tolist()
            counts["state"] = {state: states[code] for code, state in enumerate(STATES) if state != "all"}
        return counts

    def histograms(self, chosen: Filter, now: float = 0.0) -> dict[str, Histogram]:
        """Name of a number → how it is spread over the selection, without the number's own restriction."""
        masks = self.masks(chosen, now)
        if self._spread is None or self._spread[0] is not masks:
            everything, found = self.select(chosen, now), {}
            for name in HISTOGRAMS:
                others = (mask for facet, mask in masks.items() if facet != name)
                mask = self._all_of(others) if name in masks else everything
                found[name] = histogram_of(self.numbers_of(name)[mask])
            self._spread = masks, found
        return self._spread[1]
