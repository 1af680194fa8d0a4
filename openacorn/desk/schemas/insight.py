"""Cross-tables."""

from openacorn.api.schemas import ResponseModel
from openacorn.desk.feed import Item


class LevelResponse(ResponseModel):
    """A row or a column: its value, and what it is called."""

    value: str
    label: str


class CrossResponse(ResponseModel):
    """cells: row by row, null where nobody is known; filters: row by row, the filter that shows a cell's businesses;
    *_outside: how many of the selected are in no row, in no column."""

    rows: list[LevelResponse]
    columns: list[LevelResponse]
    cells: list[list[float | None]]
    counts: list[list[int]]
    filters: list[list[dict[str, str]]]
    row_totals: list[float | None]
    column_totals: list[float | None]
    total: float | None
    rows_left_out: int
    columns_left_out: int
    rows_outside: int
    columns_outside: int
    sentence: str


class InsightChoices(ResponseModel):
    """What can be laid out by what."""

    dimensions: list[LevelResponse]
    measures: list[str]


class FeedResponse(ResponseModel):
    """The latest changes, the newest first, and how many there were."""

    items: list[Item]
    total: int
