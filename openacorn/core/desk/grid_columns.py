"""The table's columns in memory: written row by row, read column by column.

SQLite holds the truth; this is a copy by column, because a filter over columns reads a hundredth of what one over
rows reads. Appending and replacing rows keeps it in step without loading again.
"""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from openacorn.core.desk.filters import STATES
from openacorn.core.desk.grid_parts import Categories, Groups, Outcomes, add_room, gaps_of, outcome_table
from openacorn.core.desk.grid_row import CATEGORIES, GROUPS, NUMBERS, GridRow, category_of
from openacorn.core.desk.packed import BITS
from openacorn.core.desk.text_column import TextColumn
from openacorn.core.score.columns import Codes, Mask, Numbers

Positions = npt.NDArray[np.int64]
Parts = dict[str, npt.NDArray[Any]]
TEXTS = ("name", "website")


def bare_site(website: str) -> str:
    """A site's address as people look for it."""
    found = website.lower()
    return (found.partition("://")[2] or found).removeprefix("www.")


class GridColumns:
    """All businesses by column."""

    def __init__(self, checks: Sequence[str]) -> None:
        self.checks = tuple(checks)
        self._size = self._room = 0
        self._ids: Positions = np.zeros(0, np.int64)
        self._states: Codes = np.zeros(0, np.int8)
        self._categories = {name: Categories() for name in CATEGORIES}
        self._groups = {name: Groups() for name in GROUPS}
        self._outcomes = Outcomes(self.checks)
        self._numbers: dict[str, Numbers] = {name: np.zeros(0, np.float64) for name in NUMBERS}
        self._position: npt.NDArray[np.int32] = np.zeros(0, np.int32)
        """Id → position and 1; 0 for an id that is not held."""
        self._texts = {name: TextColumn() for name in TEXTS}

    def __len__(self) -> int:
        return self._size

    @property
    def ids(self) -> Positions:
        """Ids by position; -1 where a business was dropped."""
        return self._ids[: self._size]

    def _grow(self, wanted: int) -> None:
        if wanted <= self._room:
            return
        self._room = -(-max(1024, wanted, self._room * 3 // 2) // BITS) * BITS
        self._ids, self._states = add_room(self._ids, self._room), add_room(self._states, self._room)
        self._numbers = {name: add_room(column, self._room) for name, column in self._numbers.items()}
        self._outcomes.bits.grow(self._room)
        for categories in self._categories.values():
            categories.grow(self._room)
        for group in self._groups.values():
            group.bits.grow(self._room)

    def put(self, rows: Iterable[GridRow]) -> None:
        """Add rows, or replace those whose id is held; of two with one id the later counts. Columns are written one by one."""
        latest = list({row.id: row for row in rows}.values())
        if not latest:
            return
        ids = np.fromiter((row.id for row in latest), np.int64, len(latest))
        at = self._places(ids)
        self._ids[at], self._states[at] = ids, [STATES.index(row.state) for row in latest]
        for name, categories in self._categories.items():
            categories.put(at, [category_of(row, name) for row in latest])
        codes = outcome_table(self.checks, [row.outcomes for row in latest])
        self._outcomes.put(at, codes)
        for name, numbers in self._numbers.items():
            numbers[at] = np.array([row.numbers.get(name) for row in latest], np.float64)  # None becomes NaN
        self._numbers["gaps"][at] = gaps_of(codes)
        for name, group in self._groups.items():
            group.put(at, [row.groups.get(name, ()) for row in latest])
        self._texts["name"].put(at.tolist(), [row.name for row in latest])
        self._texts["website"].put(at.tolist(), [bare_site(row.website) for row in latest])
        self._written(at)

    def _places(self, ids: Positions) -> Positions:
        """The positions of ids; new ones for those that are not held."""
        highest = int(ids.max())
        if highest >= len(self._position):
            self._position = add_room(self._position, max(1024, highest + 1, len(self._position) * 3 // 2))
        at = self._position[ids].astype(np.int64) - 1
        fresh = np.flatnonzero(at < 0)
        at[fresh] = self._size + np.arange(len(fresh))
        self._position[ids] = at + 1
        self._size += len(fresh)
        self._grow(self._size)
        return at

    def _held(self, ids: Iterable[int]) -> Positions:
        """Positions of those ids that are held."""
        found = np.fromiter(ids, np.int64)
        at = self._position[found[found < len(self._position)]].astype(np.int64) - 1
        return at[at >= 0]

    def holds(self, ids: Sequence[int]) -> bool:
        """Are all of these businesses in the grid?"""
        return len(self._held(ids)) == len(ids)

    def drop(self, ids: Iterable[int]) -> None:
        """Forget businesses (merged into others); they stay as holes."""
        at = self._held(ids)
        if not len(at):
            return
        self._position[self._ids[at]] = 0
        self._ids[at] = -1
        for group in self._groups.values():
            group.put(at, [()] * len(at))
        for texts in self._texts.values():
            texts.put(at.tolist(), [""] * len(at))
        self._written(at)

    def _written(self, at: Positions) -> None:
        """Called when rows were added, changed or dropped."""

    # Reading

    def rejected(self) -> Mask:
        """Who was rejected."""
        found: Mask = self._states[: self._size] == STATES.index("rejected")
        return found

    def codes_of(self, check: str) -> Codes:
        """Outcome codes of a check by position; all "not asked" for an unknown check."""
        return self._outcomes.codes(check, self._size)

    def codes_at(self, check: str, at: Positions) -> Codes:
        """The same at some positions."""
        return self._outcomes.codes_at(check, at)

    def numbers_of(self, name: str) -> Numbers:
        """A numeric column by position."""
        return self._numbers[name][: self._size]

    def numbers_for(self, name: str, ids: Sequence[int]) -> dict[int, float]:
        """A numeric column of those ids that are held."""
        at = self._held(ids)
        return dict(zip(self._ids[at].tolist(), self._numbers[name][at].tolist(), strict=True))

    def category(self, name: str) -> tuple[npt.NDArray[np.integer[Any]], list[str]]:
        """(codes by position, what they stand for) of a category column."""
        return self._categories[name].column(self._size), self._categories[name].values

    def group(self, name: str) -> dict[str, Mask]:
        """Value → who has it, of a facet of which a business can have several values."""
        return {value: self._groups[name].column(value, self._size) for value in self._groups[name].values()}

    # In a file

    def parts(self) -> tuple[dict[str, Any], Parts]:
        """(what JSON can hold, columns by name): all that is needed to have the same table again."""
        size = self._size
        found: Parts = {
            "ids": self._ids[:size],
            "states": self._states[:size],
            "outcomes": self._outcomes.bits.bytes(size),
        }
        found |= {f"number {name}": column[:size] for name, column in self._numbers.items()}
        found |= {f"category {name}": categories.column(size) for name, categories in self._categories.items()}
        for name, texts in self._texts.items():
            found |= {f"text {name} {part}": column for part, column in texts.parts().items()}
        values = {name: part.values for name, part in self._categories.items()}
        for name, group in self._groups.items():
            values[name], found[f"group {name}"] = group.parts(size)
        return {"checks": self.checks, "values": values}, found

    def restore(self, values: Mapping[str, Sequence[str]], parts: Parts) -> None:
        """Take what `parts` gave; the columns are written to when rows change, not copied before."""
        self._ids, self._states = parts["ids"], parts["states"]
        self._size = len(self._ids)
        self._outcomes.bits.restore(parts["outcomes"])
        self._numbers = {name: parts[f"number {name}"] for name in NUMBERS}
        for name, categories in self._categories.items():
            categories.restore(values[name], parts[f"category {name}"])
        for name, group in self._groups.items():
            group.restore(values[name], parts[f"group {name}"])
        for name, texts in self._texts.items():
            texts.restore(parts[f"text {name} block"], parts[f"text {name} ends"])
        held = np.flatnonzero(self._ids >= 0)
        self._position = np.zeros(int(self._ids.max(initial=0)) + 1, np.int32)
        self._position[self._ids[held]] = held + 1
        self._room = self._size
        self._written(held)
