"""Parts of the grid: columns of categories, of outcomes and of groups, and counting in them at memory speed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt
import shapely

from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.filters import NOT_KNOWN, Pick
from openacorn.core.desk.packed import BitRows, Words, count, pack
from openacorn.core.score.columns import CODE, NOT_ASKED, OUTCOMES, Codes, Mask

AnyColumn = TypeVar("AnyColumn", bound=npt.NDArray[Any])

MANY_SELECTED = 0.12
"""Above this share of all rows a look at the whole column is faster than picking the selected rows out (measured)."""

HANDFUL = 50
"""Where fewer than one row of so many is selected, their outcomes are looked up one by one, not counted as bits (measured)."""

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
    """How numbers (NaN where not known) are spread. Sorted once, everything else is looked up; NaN sorts last."""
    ordered = np.sort(values)
    known = ordered[: np.searchsorted(ordered, np.nan)]
    if not len(known):
        return Histogram(0.0, 1.0, (0,) * BINS, 0, 0)
    low = float(min(0.0, known[0]))
    at, part = divmod(TOP_SHARE * (len(known) - 1), 1)
    top = float(known[int(at)] + part * (known[min(int(at) + 1, len(known) - 1)] - known[int(at)]))
    high = max(top, low + 1.0)
    edges = np.searchsorted(known, np.linspace(low, high, BINS + 1))
    edges[-1] = np.searchsorted(known, high, side="right")
    return Histogram(low, high, tuple(np.diff(edges).tolist()), len(known) - int(edges[-1]), len(known))


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


class Selection:
    """Selected rows: as flags, as bits and as positions; the last two made when first wanted."""

    def __init__(self, mask: Mask) -> None:
        self.mask = mask
        self.count = int(np.count_nonzero(mask))
        self.few = self.count < MANY_SELECTED * len(mask)
        self.handful = self.count * HANDFUL < len(mask)

    @cached_property
    def at(self) -> npt.NDArray[np.int64]:
        """Positions of the selected."""
        return np.flatnonzero(self.mask)

    @cached_property
    def bits(self) -> Words:
        """The flags, 64 to a word."""
        return pack(self.mask)


def tally(column: npt.NDArray[np.integer[Any]], chosen: Selection, codes: int) -> npt.NDArray[np.int64]:
    """How often each code from 0 occurs among the selected."""
    if chosen.count == len(column):
        return np.bincount(column, minlength=codes)
    if chosen.few:
        return np.bincount(column[chosen.at], minlength=codes)
    found = np.bincount(column * chosen.mask, minlength=codes)  # who is not selected is counted as a 0
    found[0] -= len(column) - chosen.count
    return found


def inside(corners: Sequence[tuple[float, float]], lat: npt.NDArray[np.float64], lon: npt.NDArray[np.float64]) -> Mask:
    """Who lies inside an outline of (lat, lon) corners; who has no pin does not."""
    # a line drawn by hand may cross itself
    outline = shapely.make_valid(shapely.Polygon([(east, north) for north, east in corners]))
    shapely.prepare(outline)
    return np.asarray(
        shapely.contains_xy(outline, np.nan_to_num(lon, nan=999.0), np.nan_to_num(lat, nan=999.0)), np.bool_
    )


class Categories:
    """A text column as codes into a list of its values; the codes take a byte each while there are few values."""

    def __init__(self) -> None:
        self.values: list[str] = []
        self.codes: dict[str, int] = {}
        self._column: npt.NDArray[np.integer[Any]] = np.zeros(0, np.uint8)

    def grow(self, room: int) -> None:
        """Make room for more rows."""
        self._column = add_room(self._column, room)

    def put(self, positions: npt.NDArray[np.int64], values: Sequence[str]) -> None:
        """Write rows."""
        for value in values:
            if value not in self.codes:
                self.codes[value] = len(self.values)
                self.values.append(value)
        if len(self.values) > np.iinfo(self._column.dtype).max:
            self._column = self._column.astype(np.min_scalar_type(len(self.values) * 4))
        self._column[positions] = [self.codes[value] for value in values]

    def column(self, size: int) -> npt.NDArray[np.integer[Any]]:
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

    def holding(self, text: str, size: int) -> Mask:
        """Rows whose value holds a text, in whatever case."""
        wanted = text.lower()
        codes = [code for code, value in enumerate(self.values) if value != NOT_KNOWN and wanted in value.lower()]
        return any_code(self._column[:size], codes)

    def counts(self, chosen: Selection) -> dict[str, int]:
        """Value → how many of the selected have it, those that nobody has left out."""
        found = tally(self._column[: len(chosen.mask)], chosen, len(self.values)).tolist()
        return {value: found[code] for code, value in enumerate(self.values) if found[code]}

    def restore(self, values: Sequence[str], column: npt.NDArray[np.integer[Any]]) -> None:
        """Take what was kept in a file."""
        self.values, self._column = list(values), column
        self.codes = {value: code for code, value in enumerate(self.values)}


class Outcomes:
    """The outcome of every check by position, as three bits of its code."""

    PLANES = 3

    def __init__(self, checks: Sequence[str]) -> None:
        self._first = {check: number * self.PLANES for number, check in enumerate(checks)}
        self.bits = BitRows(self.PLANES * len(checks))

    def put(self, at: npt.NDArray[np.int64], codes: Codes) -> None:
        """Write rows; codes: of `outcome_table`."""
        planes = np.arange(self.PLANES, dtype=np.int8)
        self.bits.put(at, (codes.T[:, None, :] >> planes[None, :, None] & 1).reshape(-1, len(at)).astype(np.bool_))

    def codes(self, check: str, size: int) -> Codes:
        """A check's codes by position; all "not asked" for an unknown check."""
        first = self._first.get(check)
        if first is None:
            return np.full(size, NOT_ASKED, np.int8)
        low, middle, high = (self.bits.mask(first + plane, size).view(np.int8) for plane in range(self.PLANES))
        return np.asarray(low | middle << 1 | high << 2, np.int8)

    def codes_at(self, check: str, at: npt.NDArray[np.int64]) -> Codes:
        """A check's codes at some positions."""
        first = self._first.get(check)
        if first is None:
            return np.full(len(at), NOT_ASKED, np.int8)
        low, middle, high = self.bits.at(slice(first, first + self.PLANES), at).view(np.int8)
        return np.asarray(low | middle << 1 | high << 2, np.int8)

    def counts(self, check: str, chosen: Selection) -> list[int]:
        """How often each of OUTCOMES occurs among the selected, by code."""
        if chosen.handful:
            few = np.bincount(self.codes_at(check, chosen.at), minlength=len(OUTCOMES) + 1)
            return [int(number) for number in few[: len(OUTCOMES)]]
        low, middle, high = (
            self.bits.words(self._first[check] + plane, len(chosen.mask)) for plane in range(self.PLANES)
        )
        above, ones = chosen.bits & high, chosen.bits & ~high & low
        upper, one = count(above), count(ones)
        three = count(ones & middle)
        two_three = count(chosen.bits & ~high & middle)
        return [
            chosen.count - upper - one - two_three + three,
            one - three,
            two_three - three,
            three,
            upper - count(above & low),
        ]


class Groups:
    """A column of which a row can hold several values: a row of flags a value."""

    def __init__(self) -> None:
        self._rows: dict[str, int] = {}
        self.bits = BitRows()

    def put(self, at: npt.NDArray[np.int64], values: Sequence[Sequence[str]]) -> None:
        """Write rows: what they had before is taken off."""
        having: dict[str, list[int]] = {}
        for number, some in enumerate(values):
            for value in some:
                having.setdefault(value, []).append(number)
        for value in having.keys() - self._rows.keys():
            self._rows[value] = self.bits.add_row()
        flags = np.zeros((len(self._rows), len(at)), np.bool_)
        for value, numbers in having.items():
            flags[self._rows[value], numbers] = True
        self.bits.put(at, flags)

    def values(self) -> list[str]:
        """Every value that some row has or had."""
        return list(self._rows)

    def column(self, value: str, size: int) -> Mask:
        """Who has a value."""
        row = self._rows.get(value)
        return np.zeros(size, np.bool_) if row is None else self.bits.mask(row, size)

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
        found = {value: count(counted.bits & self.bits.words(row, size)) for value, row in self._rows.items()}
        return {value: number for value, number in found.items() if number}

    def parts(self, size: int) -> tuple[list[str], npt.NDArray[np.uint8]]:
        """What is to be kept in a file: the values that some row has, and the flags."""
        rows = self.bits.in_use()
        name_of = {row: value for value, row in self._rows.items()}
        return [name_of[row] for row in rows], self.bits.bytes(size)[rows]

    def restore(self, values: Sequence[str], bits: npt.NDArray[np.uint8]) -> None:
        """Take what was kept in a file."""
        self._rows = {value: row for row, value in enumerate(values)}
        self.bits.restore(bits)
