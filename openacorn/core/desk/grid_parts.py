"""Parts of the grid: columns of categories, of groups and of text, and counting in them at memory speed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt
import shapely

from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.filters import NOT_KNOWN, Pick
from openacorn.core.score.columns import CODE, NOT_ASKED, Mask

AnyColumn = TypeVar("AnyColumn", bound=npt.NDArray[Any])

MANY_SELECTED = 0.12
"""Above this share of all rows a look at the whole column is faster than picking the selected rows out (measured)."""


BINS = 24
TOP_SHARE = 0.99
"""A histogram ends where all but a hundredth lie, so that one famous shop does not squeeze the rest into one bar."""


@dataclass(frozen=True, slots=True)
class Histogram:
    """Counts of equal bins from low to high, those above the last left out and counted; known: how many have a number."""

    low: float
    high: float
    bins: tuple[int, ...]
    above: int
    known: int


def histogram_of(values: npt.NDArray[np.float64]) -> Histogram:
    """How numbers (NaN where not known) are spread."""
    known = values[~np.isnan(values)]
    if not len(known):
        return Histogram(0.0, 1.0, (0,) * BINS, 0, 0)
    low = float(min(0.0, known.min()))
    high = max(float(np.quantile(known, TOP_SHARE)), low + 1.0)
    bins, _ = np.histogram(known[known <= high], BINS, (low, high))
    return Histogram(low, high, tuple(int(n) for n in bins), int((known > high).sum()), len(known))


def add_room(column: AnyColumn, room: int) -> AnyColumn:
    """The same column with room for more rows."""
    bigger: AnyColumn = np.zeros(room, column.dtype)  # type: ignore[assignment]
    bigger[: len(column)] = column
    return bigger


_CODES: dict[str | None, int] = {**{str(outcome): code for outcome, code in CODE.items()}, None: NOT_ASKED}


def outcome_table(checks: Sequence[str], outcomes: Sequence[Mapping[str, str]]) -> npt.NDArray[np.int8]:
    """Codes, a row a business and a column a check. Two lookups in C a cell: a hundred thousand businesses have eight million."""
    rows = (bytes(map(_CODES.__getitem__, map(answer.get, checks))) for answer in outcomes)
    return np.frombuffer(b"".join(rows), np.int8).reshape(len(outcomes), len(checks))


def gaps_of(codes: npt.NDArray[np.int8]) -> npt.NDArray[np.float64]:
    """How many checks found a gap, by row; NaN where none was asked."""
    gaps = np.count_nonzero(codes == CODE[Outcome.GAP], axis=1).astype(np.float64)
    return np.where((codes == NOT_ASKED).all(axis=1), np.nan, gaps)


def any_code(column: npt.NDArray[np.integer[Any]], codes: Sequence[int]) -> Mask:
    """Rows that hold one of the codes."""
    if len(codes) == 1:
        return np.asarray(column == codes[0], np.bool_)
    mask = np.zeros(len(column), np.bool_)
    for code in codes:
        mask |= column == code
    return mask


def in_range(column: npt.NDArray[np.float64], low: float | None, high: float | None) -> Mask:
    """Rows whose number is known and within the bounds; None leaves a side open."""
    with np.errstate(invalid="ignore"):
        mask = ~np.isnan(column)
        if low is not None:
            mask &= column >= low
        if high is not None:
            mask &= column <= high
    return mask


def word_ranks(words: Sequence[str]) -> npt.NDArray[np.float64]:
    """Each word's place in the alphabet, to sort by; NaN for the empty one."""
    ranks = np.empty(len(words), np.float64)
    ranks[sorted(range(len(words)), key=words.__getitem__)] = np.arange(len(words))
    return np.where(np.fromiter(map(bool, words), np.bool_, len(words)), ranks, np.nan)


class Selection:
    """Selected rows: as flags, as positions, and as a veil of bits that hides the others; the last two made when first wanted."""

    VEIL = 64

    def __init__(self, mask: Mask) -> None:
        self.mask = mask
        self.count = int(np.count_nonzero(mask))
        self.few = self.count < MANY_SELECTED * len(mask)

    @cached_property
    def at(self) -> npt.NDArray[np.int64]:
        """Positions of the selected."""
        return np.flatnonzero(self.mask)

    @cached_property
    def veil(self) -> npt.NDArray[np.int8]:
        """VEIL where a row is not selected, else 0."""
        return np.asarray((~self.mask).view(np.int8) * np.int8(self.VEIL), np.int8)

    def of(self, column: AnyColumn) -> AnyColumn:
        """The selected rows of a column."""
        if self.count == len(self.mask):
            return column
        return column.take(self.at)  # type: ignore[return-value]


def count_codes(column: npt.NDArray[np.int8], chosen: Selection, codes: int) -> list[int]:
    """How often each code from 0 (below VEIL) occurs among the selected. A comparison of bytes and a count run at memory speed;
    a bincount would widen the column first."""
    whole = chosen.few or chosen.count == len(chosen.mask)
    looked_at = chosen.of(column) if whole else column | chosen.veil
    return [int(np.count_nonzero(looked_at == code)) for code in range(codes)]


def inside(corners: Sequence[tuple[float, float]], lat: npt.NDArray[np.float64], lon: npt.NDArray[np.float64]) -> Mask:
    """Who lies inside an outline of (lat, lon) corners; who has no pin does not."""
    # a line drawn by hand may cross itself
    outline = shapely.make_valid(shapely.Polygon([(east, north) for north, east in corners]))
    shapely.prepare(outline)
    return np.asarray(
        shapely.contains_xy(outline, np.nan_to_num(lon, nan=999.0), np.nan_to_num(lat, nan=999.0)), np.bool_
    )


class Categories:
    """A text column as codes into a list of its values."""

    def __init__(self) -> None:
        self.values: list[str] = []
        self.codes: dict[str, int] = {}
        self._column = np.zeros(0, np.int32)

    def grow(self, room: int) -> None:
        """Make room for more rows."""
        self._column = add_room(self._column, room)

    def put(self, positions: npt.NDArray[np.int64], values: Sequence[str]) -> None:
        """Write rows."""
        for value in values:
            if value not in self.codes:
                self.codes[value] = len(self.values)
                self.values.append(value)
        self._column[positions] = [self.codes[value] for value in values]

    def column(self, size: int) -> npt.NDArray[np.int32]:
        """Codes by position."""
        return self._column[:size]

    def ranks(self, size: int) -> npt.NDArray[np.float64]:
        """Each row's place in the alphabet, to sort by; who has none comes last."""
        places = np.empty(max(1, len(self.values)), np.float64)
        order = sorted(range(len(self.values)), key=lambda code: self.values[code].lower())
        places[order] = np.arange(len(order))
        if NOT_KNOWN in self.codes:
            places[self.codes[NOT_KNOWN]] = np.nan
        return np.asarray(places[self._column[:size]], np.float64)

    def counts(self, chosen: Selection) -> dict[str, int]:
        """Value → how many of the selected have it, those that nobody has left out."""
        tally = np.bincount(chosen.of(self._column[: len(chosen.mask)]), minlength=len(self.values))
        return {value: int(tally[code]) for code, value in enumerate(self.values) if tally[code]}


class Groups:
    """A column of which a row can hold several values: a column of flags a value."""

    def __init__(self) -> None:
        self._columns: dict[str, Mask] = {}
        self._of: dict[int, tuple[str, ...]] = {}
        self._room = 0

    def grow(self, room: int) -> None:
        """Make room for more rows."""
        self._room = room
        self._columns = {value: add_room(column, room) for value, column in self._columns.items()}

    def put(self, position: int, values: Sequence[str]) -> None:
        """Write one row: what it had before is taken off."""
        before = self._of.get(position, ())
        if before == tuple(values):
            return
        for value in before:
            self._columns[value][position] = False
        for value in values:
            if value not in self._columns:
                self._columns[value] = np.zeros(self._room, np.bool_)
            self._columns[value][position] = True
        self._of[position] = tuple(values)

    def values(self) -> list[str]:
        """Every value that some row has or had."""
        return list(self._columns)

    def column(self, value: str, size: int) -> Mask:
        """Who has a value."""
        column = self._columns.get(value)
        return np.zeros(size, np.bool_) if column is None else column[:size]

    def any_of(self, values: Sequence[str], size: int) -> Mask:
        """Who has one of the values."""
        mask = np.zeros(size, np.bool_)
        for value in values:
            mask |= self.column(value, size)
        return mask

    def counts(self, chosen: Selection, *, pick: Pick | None, kept: Selection) -> dict[str, int]:
        """Value → how many of the selected have it. Where values are demanded together, how many would be left with one more."""
        counted = kept if pick is not None and pick.must and not pick.any else chosen
        size = len(chosen.mask)
        found = {value: int(np.count_nonzero(counted.of(column[:size]))) for value, column in self._columns.items()}
        return {value: count for value, count in found.items() if count}


class TextColumn:
    """Lines to be searched: all of them joined, so that one search runs over everything at memory speed."""

    def __init__(self) -> None:
        self._lines: list[str] = []
        self._joined: tuple[str, npt.NDArray[np.int64]] | None = None

    def put(self, position: int, line: str) -> None:
        """Write one row."""
        while position >= len(self._lines):
            self._lines.append("")
        plain = line.lower().replace("\n", " ")
        if self._lines[position] != plain:
            self._lines[position], self._joined = plain, None

    def holding(self, text: str, size: int) -> Mask:
        """Rows that hold `text`, in whatever case."""
        if self._joined is None:
            lengths = np.fromiter((len(line) + 1 for line in self._lines), np.int64, len(self._lines))
            self._joined = "\n".join(self._lines) + "\n", np.cumsum(lengths)
        joined, ends = self._joined
        needle = text.lower().replace("\n", " ")
        found = []
        at = joined.find(needle)
        while at != -1:
            found.append(at)
            at = joined.find(needle, at + len(needle))
        mask = np.zeros(size, np.bool_)
        mask[np.searchsorted(ends, found, side="right")] = True
        return mask
