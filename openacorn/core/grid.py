"""The table's columns in memory: filter, sort, count and facets over all businesses at once.

SQLite holds the truth; this is a copy by column, because a filter over columns reads a hundredth of what one over
rows reads. Appending and replacing rows keeps it in step without loading anew.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from openacorn.core.audit.finding import Outcome
from openacorn.core.filters import Filter, FilterError

OUTCOMES: tuple[Outcome, ...] = (Outcome.GAP, Outcome.PARTIAL, Outcome.OK, Outcome.NOT_APPLICABLE, Outcome.UNKNOWN)
CODE = {outcome: code for code, outcome in enumerate(OUTCOMES)}
NOT_ASKED = len(OUTCOMES)

NUMBERS = ("score", "value", "reviews", "rating", "distance", "audited", "gaps")
"""Numeric columns; NaN where not known. `audited` in seconds since 1970, `gaps` the number of checks that found one."""

Mask = npt.NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class GridRow:
    """One business as the grid holds it. `outcomes`: check id → outcome."""

    id: int
    name: str
    trade: str
    town: str
    website: str
    offer: str
    rejected: bool
    numbers: Mapping[str, float | None]
    outcomes: Mapping[str, Outcome]
    runs: tuple[int, ...] = ()
    shortlists: tuple[int, ...] = ()


class _Categories:
    """A text column as codes into a list of its values."""

    def __init__(self) -> None:
        self.values: list[str] = []
        self.codes: dict[str, int] = {}

    def code(self, value: str) -> int:
        if value not in self.codes:
            self.codes[value] = len(self.values)
            self.values.append(value)
        return self.codes[value]


class Grid:
    """All businesses by column. Not safe for threads: one writer, and readers that call it from the same thread."""

    def __init__(self, checks: Sequence[str]) -> None:
        self.checks = tuple(checks)
        self.categories = {name: _Categories() for name in ("trade", "town", "offer")}
        self._size = 0
        self._room = 0
        self._ids: npt.NDArray[np.int64] = np.zeros(0, np.int64)
        self._codes = {name: np.zeros(0, np.int32) for name in self.categories}
        self._outcomes = {check: np.zeros(0, np.int8) for check in self.checks}
        self._numbers = {name: np.zeros(0, np.float64) for name in NUMBERS}
        self._flags = {name: np.zeros(0, np.bool_) for name in ("website", "rejected")}
        self._position: dict[int, int] = {}
        self._words: dict[str, list[str]] = {"name": [], "website": []}
        self._texts: list[str] = []
        self._members: dict[str, dict[int, set[int]]] = {"run": {}, "shortlist": {}}
        self._memberships: dict[int, tuple[tuple[int, ...], tuple[int, ...]]] = {}
        self._blob: tuple[str, npt.NDArray[np.int64]] | None = None
        self._orders: dict[str, npt.NDArray[np.int64]] = {}
        self._last_masks: tuple[Filter, dict[str, Mask]] | None = None

    def __len__(self) -> int:
        return self._size

    def _grow(self, wanted: int) -> None:
        if wanted <= self._room:
            return
        self._room = max(1024, wanted, self._room * 2)
        for table in (self._codes, self._outcomes, self._numbers, self._flags):
            for name, column in table.items():
                bigger = np.zeros(self._room, column.dtype)
                bigger[: self._size] = column[: self._size]
                table[name] = bigger
        ids = np.zeros(self._room, np.int64)
        ids[: self._size] = self._ids[: self._size]
        self._ids = ids

    def put(self, rows: Iterable[GridRow]) -> None:
        """Add rows, or replace those whose id is held."""
        for row in rows:
            position = self._position.get(row.id)
            if position is None:
                position = self._size
                self._grow(position + 1)
                self._size += 1
                self._position[row.id] = position
                for words in self._words.values():
                    words.append("")
                self._texts.append("")
            self._put_at(position, row)
        self._forget()

    def _put_at(self, position: int, row: GridRow) -> None:
        self._ids[position] = row.id
        for name, value in (("trade", row.trade), ("town", row.town), ("offer", row.offer)):
            self._codes[name][position] = self.categories[name].code(value)
        for check, column in self._outcomes.items():
            outcome = row.outcomes.get(check)
            column[position] = NOT_ASKED if outcome is None else CODE[outcome]
        for name, numbers in self._numbers.items():
            value_or_none = row.numbers.get(name)
            numbers[position] = np.nan if value_or_none is None else value_or_none
        self._flags["website"][position] = bool(row.website)
        self._flags["rejected"][position] = row.rejected
        self._words["name"][position] = row.name.lower()
        self._words["website"][position] = row.website.lower().partition("://")[2].removeprefix("www.")
        self._texts[position] = f"{row.name}\t{row.town}\t{row.website}".lower().replace("\n", " ")
        old_runs, old_lists = self._memberships.get(row.id, ((), ()))
        for kind, old, new in (("run", old_runs, row.runs), ("shortlist", old_lists, row.shortlists)):
            for group in old:
                self._members[kind][group].discard(position)
            for group in new:
                self._members[kind].setdefault(group, set()).add(position)
        self._memberships[row.id] = (row.runs, row.shortlists)

    def drop(self, ids: Iterable[int]) -> None:
        """Forget businesses (merged into others). They stay as rejected holes until the next load."""
        for business in ids:
            position = self._position.pop(business, None)
            if position is not None:
                self._ids[position] = -1
                for kind, groups in zip(("run", "shortlist"), self._memberships.pop(business, ((), ())), strict=True):
                    for group in groups:
                        self._members[kind][group].discard(position)
        self._forget()

    def _forget(self) -> None:
        """Drop what was computed from rows that have changed."""
        self._blob, self._orders, self._last_masks = None, {}, None

    def _text_mask(self, text: str) -> Mask:
        """Rows whose name, town or site holds `text`: one search over all texts joined, at memory speed."""
        if self._blob is None:
            lengths = np.fromiter((len(item) + 1 for item in self._texts), np.int64, len(self._texts))
            self._blob = "\n".join(self._texts) + "\n", np.cumsum(lengths)
        blob, ends = self._blob
        needle = text.lower().replace("\n", " ")
        found = []
        at = blob.find(needle)
        while at != -1:
            found.append(at)
            at = blob.find(needle, at + len(needle))
        mask = np.zeros(self._size, np.bool_)
        mask[np.searchsorted(ends, found, side="right")] = True
        return mask

    def _group_mask(self, kind: str, group: int) -> Mask:
        mask = np.zeros(self._size, np.bool_)
        mask[list(self._members[kind].get(group, ()))] = True
        return mask

    def _code_mask(self, name: str, wanted: Sequence[str]) -> Mask:
        known = [self.categories[name].codes[value] for value in wanted if value in self.categories[name].codes]
        return _any_code(self._codes[name][: self._size], known)

    def masks(self, chosen: Filter) -> dict[str, Mask]:
        """Return one mask for each field that restricts, by facet name; their "and" is the selection.

        The last filter's are kept: a page of the table and the counts beside it ask for the same.
        """
        if self._last_masks is not None and self._last_masks[0] == chosen:
            return self._last_masks[1]
        size = self._size
        found: dict[str, Mask] = {"live": self._ids[:size] >= 0}
        for name, wanted in (("trade", chosen.trades), ("town", chosen.towns), ("offer", chosen.offers)):
            if wanted:
                found[name] = self._code_mask(name, wanted)
        for check, outcomes in chosen.checks.items():
            found[f"check.{check}"] = _any_code(self._outcomes[check][:size], [CODE[outcome] for outcome in outcomes])
        if chosen.website:
            found["website"] = self._flags["website"][:size] == (chosen.website == "listed")
        if chosen.state != "all":
            found["state"] = self._flags["rejected"][:size] == (chosen.state == "rejected")
        if chosen.text:
            found["text"] = self._text_mask(chosen.text)
        if chosen.shortlist is not None:
            found["shortlist"] = self._group_mask("shortlist", chosen.shortlist)
        if chosen.run is not None:
            found["run"] = self._group_mask("run", chosen.run)
        if chosen.ids:
            found["ids"] = np.isin(self._ids[:size], chosen.ids)
        self._last_masks = chosen, found
        return found

    def select(self, chosen: Filter) -> Mask:
        """Return the mask of the businesses that pass."""
        return _all_of(self.masks(chosen).values(), self._size)

    def sort_key(self, name: str) -> npt.NDArray[np.float64]:
        """Return a column to sort by, as numbers. Raises FilterError for a column that is not there."""
        size = self._size
        if name in self._numbers:
            return self._numbers[name][:size]
        if name in self._words:
            words = self._words[name]
            ranks = np.empty(size, np.float64)
            ranks[sorted(range(size), key=words.__getitem__)] = np.arange(size)
            return np.where(np.fromiter(map(bool, words), np.bool_, size), ranks, np.nan)
        if name in self.categories:
            values = self.categories[name].values
            ranks = np.empty(max(1, len(values)), np.float64)
            ranks[sorted(range(len(values)), key=lambda i: values[i].lower())] = np.arange(len(values))
            return np.asarray(ranks[self._codes[name][:size]], np.float64)
        if name.startswith("check.") and name[6:] in self._outcomes:
            return self._outcomes[name[6:]][:size].astype(np.float64)
        choices = ", ".join((*self._words, *NUMBERS, *self.categories, "check.<id>"))
        raise FilterError(f"cannot sort by {name!r}; choose from {choices}")

    def _ranked(self, sort: str) -> npt.NDArray[np.int64]:
        """All positions in the order of `sort`; kept until a row changes, so that paging and filtering sort nothing."""
        if sort not in self._orders:
            key = self.sort_key(sort.lstrip("-"))
            values = -key if sort.startswith("-") else key
            values = np.where(np.isnan(values), np.inf, values)
            self._orders[sort] = np.lexsort((self._ids[: self._size], values))
        return self._orders[sort]

    def order(self, mask: Mask, sort: str, offset: int, limit: int) -> list[int]:
        """Return ids of the selected, sorted by `sort` ("-" in front: falling), unknown last, then by id."""
        ranked = self._ranked(sort)
        return [int(i) for i in self._ids[ranked[mask[ranked]][offset : offset + limit]]]

    def facets(self, chosen: Filter) -> dict[str, dict[str, int]]:
        """Return facet → value → count.

        Each facet is counted without its own restriction, so that its other values stay choosable.
        """
        masks = self.masks(chosen)
        everything = _all_of(masks.values(), self._size)
        at = np.flatnonzero(everything)

        def selected(facet: str) -> npt.NDArray[np.int64]:
            if facet not in masks:
                return at
            return np.flatnonzero(_all_of((mask for name, mask in masks.items() if name != facet), self._size))

        counts: dict[str, dict[str, int]] = {}
        for name, categories in self.categories.items():
            tally = np.bincount(self._codes[name][selected(name)], minlength=len(categories.values))
            counts[name] = {value: int(tally[code]) for code, value in enumerate(categories.values) if tally[code]}
        for check in self.checks:
            column = self._outcomes[check][selected(f"check.{check}")]
            # a comparison of bytes and a count run at memory speed; a bincount would widen the column first
            counts[f"check.{check}"] = {str(o): int(np.count_nonzero(column == CODE[o])) for o in OUTCOMES}
        for name, flag, yes, no in (
            ("website", "website", "listed", "none"),
            ("state", "rejected", "rejected", "held"),
        ):
            flags = self._flags[flag][selected(name)]
            true = int(np.count_nonzero(flags))
            counts[name] = {yes: true, no: len(flags) - true}
        return counts


def _any_code(column: npt.NDArray[np.integer[Any]], codes: Sequence[int]) -> Mask:
    mask = np.zeros(len(column), np.bool_)
    for code in codes:
        mask |= column == code
    return mask


def _all_of(masks: Iterable[Mask], size: int) -> Mask:
    result = np.ones(size, np.bool_)
    for mask in masks:
        result &= mask
    return result
