"""Cross-tables over any two dimensions of the grid: counts, shares, means, sums; each cell with the filter that shows it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.filters import FilterError, separator_of
from openacorn.core.desk.grid import Grid
from openacorn.core.desk.grid_row import CATEGORIES, GROUPS
from openacorn.core.score.columns import CODE, Mask

SCORE_BANDS: tuple[tuple[int, int], ...] = ((0, 19), (20, 39), (40, 59), (60, 79), (80, 100))
BANDS = "score band"
MEASURES = ("count", "share", "mean score", "mean value", "mean reviews", "mean rating", "mean gaps", "sum of value")
"""share: of the row; sum of value: expected money, together."""

MOST_LEVELS = 40
"""More rows or columns than this nobody reads: the largest are shown, and it is said how many were left out."""


@dataclass(frozen=True, slots=True)
class Level:
    """A row or a column: its value, the address parameter that shows it, and who is in it."""

    value: str
    key: str
    param: str
    mask: Mask


@dataclass(frozen=True, slots=True)
class CrossTable:
    """cells: row by row, None where nobody is known; counts: businesses behind each cell. left_out: levels not shown;
    outside: how many of the selected are in no level of the rows, of the columns."""

    rows: tuple[tuple[str, str, str], ...]
    columns: tuple[tuple[str, str, str], ...]
    cells: tuple[tuple[float | None, ...], ...]
    counts: tuple[tuple[int, ...], ...]
    row_totals: tuple[float | None, ...]
    column_totals: tuple[float | None, ...]
    total: float | None
    left_out: tuple[int, int]
    outside: tuple[int, int]


def dimensions(checks: Sequence[str]) -> tuple[str, ...]:
    """Every dimension there is."""
    return (*CATEGORIES, *GROUPS, BANDS, *(f"check.{check}" for check in checks))


def _levels(grid: Grid, dimension: str) -> list[Level]:
    if dimension in CATEGORIES:
        codes, values = grid.category(dimension)
        return [Level(value, dimension, value, codes == code) for code, value in enumerate(values)]
    if dimension in GROUPS:
        return [Level(value, dimension, value, mask) for value, mask in grid.group(dimension).items()]
    if dimension == BANDS:
        score = grid.numbers_of("score")
        with np.errstate(invalid="ignore"):
            return [
                Level(f"{low} to {high}", "score", f"{low}..{high}", (score >= low) & (score < high + 1))
                for low, high in SCORE_BANDS
            ]
    check = dimension.removeprefix("check.")
    if not dimension.startswith("check.") or check not in grid.checks:
        raise FilterError(f"there is no dimension {dimension!r}; choose from {', '.join(dimensions(()))} or check.<id>")
    codes_of = grid.codes_of(check)
    return [Level(str(outcome), dimension, str(outcome), codes_of == CODE[outcome]) for outcome in Outcome]


def _shown(levels: list[Level], mask: Mask, *, ordered: bool) -> tuple[list[Level], int]:
    """The levels with somebody in them, the largest MOST_LEVELS; bands and outcomes keep their own order."""
    sized = [(int(np.count_nonzero(level.mask & mask)), level) for level in levels]
    there = [(size, level) for size, level in sized if size]
    largest = sorted(there, key=lambda item: -item[0])[:MOST_LEVELS]
    kept = largest if not ordered else [item for item in there if item in largest]
    return [level for _, level in kept], len(there) - len(kept)


def _outside(levels: Sequence[Level], mask: Mask) -> int:
    inside = np.zeros(len(mask), np.bool_)
    for level in levels:
        inside |= level.mask
    return int(np.count_nonzero(mask & ~inside))


def _measure(values: npt.NDArray[np.float64] | None, measure: str, mask: Mask, of: int) -> float | None:
    count = int(np.count_nonzero(mask))
    if measure == "count":
        return float(count)
    if measure == "share":
        return count / of if of else None
    assert values is not None
    known = values[mask]
    known = known[~np.isnan(known)]
    if measure == "sum of value":
        return float(known.sum())
    return float(known.mean()) if len(known) else None


def cross_table(grid: Grid, mask: Mask, rows: str, columns: str, measure: str) -> CrossTable:
    """Lay the selected out by two dimensions. Raises FilterError for an unknown dimension or measure."""
    if measure not in MEASURES:
        raise FilterError(f"there is no measure {measure!r}; choose from {', '.join(MEASURES)}")
    name = "value" if measure == "sum of value" else measure.removeprefix("mean ")
    values = grid.numbers_of(name) if measure not in {"count", "share"} else None
    fixed = {BANDS, *(f"check.{check}" for check in grid.checks)}
    every_row, every_column = _levels(grid, rows), _levels(grid, columns)
    down, rows_out = _shown(every_row, mask, ordered=rows in fixed)
    across, columns_out = _shown(every_column, mask, ordered=columns in fixed)
    if rows not in fixed:  # the row that leads is the one to begin with
        totals = {level.value: _measure(values, measure, level.mask & mask, 1) or 0.0 for level in down}
        down.sort(key=lambda level: -totals[level.value])
    within = [level.mask & mask for level in down]
    sizes = [int(np.count_nonzero(part)) for part in within]
    everybody = int(np.count_nonzero(mask))
    pieces = [[part & level.mask for level in across] for part in within]

    def named(levels: Sequence[Level]) -> tuple[tuple[str, str, str], ...]:
        return tuple((level.value, level.key, level.param) for level in levels)

    return CrossTable(
        rows=named(down), columns=named(across),
        cells=tuple(
            tuple(_measure(values, measure, piece, size) for piece in row) for row, size in zip(pieces, sizes, strict=True)
        ),
        counts=tuple(tuple(int(np.count_nonzero(piece)) for piece in row) for row in pieces),
        row_totals=tuple(_measure(values, measure, part, everybody) for part in within),
        column_totals=tuple(_measure(values, measure, level.mask & mask, everybody) for level in across),
        total=_measure(values, measure, mask, everybody),
        left_out=(rows_out, columns_out), outside=(_outside(every_row, mask), _outside(every_column, mask)),
    )  # fmt: skip


def cell_filter(base: Mapping[str, str], *levels: tuple[str, str, str]) -> dict[str, str]:
    """The filter that shows the rows behind a cell: what restricted the whole table, and the cell's row and column.

    A value demanded twice of one facet (a table of a dimension by itself) must be there both times.
    """
    found = dict(base)
    for _, key, param in levels:
        before = found.get(key)
        if before and key in GROUPS and before != param:
            found[key] = f"^{before.lstrip('^')}{separator_of(key)}^{param}"
        else:
            found[key] = param
    return found
