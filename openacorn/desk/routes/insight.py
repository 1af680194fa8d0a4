"""Insight: cross-tables over any two dimensions."""

from fastapi import APIRouter, Query, Request

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.clock import now
from openacorn.core.audit.check import all_checks, check_ids
from openacorn.core.desk.filter_words import Names, sentence
from openacorn.core.desk.insight import MEASURES, cell_filter, cross_table, dimensions
from openacorn.desk import feed
from openacorn.desk.routes.businesses import chosen_filter
from openacorn.desk.schemas.insight import CrossResponse, FeedResponse, InsightChoices, LevelResponse
from openacorn.desk.table import names_for

router = APIRouter(route_class=DeskRoute, tags=["insight"])
TITLES = {"offer": "best offer", "has": "ways to reach them", "platform": "made with"}
OWN_PARAMS = frozenset({"rows", "columns", "measure"})
Level = tuple[str, str, str]


@router.get("/insight")
def choices() -> InsightChoices:
    """Dimensions and measures."""
    titles = TITLES | {f"check.{check.id}": f"{check.group}: {check.title}" for check in all_checks()}
    return InsightChoices(
        dimensions=[LevelResponse(value=name, label=titles.get(name, name)) for name in dimensions(check_ids())],
        measures=list(MEASURES),
    )


def _level(names: Names, level: Level) -> LevelResponse:
    value, key, _ = level
    return LevelResponse(value=value, label=names[key](value) if key in names and key != "check" else value)


@router.get("/insight/table")
def table(
    state: AppDep, request: Request, rows: str = "trade", columns: str = "town", measure: str = "count"
) -> CrossResponse:
    """A cross-table of what passes the filter."""
    chosen = chosen_filter(request)
    base = {key: value for key, value in request.query_params.items() if key not in OWN_PARAMS}
    with state.snapshot.current() as grid:
        found = cross_table(grid, grid.select(chosen, now().timestamp()), rows, columns, measure)
    with state.database.read() as conn:
        names = names_for(conn)
        return CrossResponse(
            rows=[_level(names, level) for level in found.rows], columns=[_level(names, level) for level in found.columns],
            cells=[list(row) for row in found.cells], counts=[list(row) for row in found.counts],
            filters=[[cell_filter(base, row, column) for column in found.columns] for row in found.rows],
            row_totals=list(found.row_totals), column_totals=list(found.column_totals), total=found.total,
            rows_left_out=found.left_out[0], columns_left_out=found.left_out[1],
            rows_outside=found.outside[0], columns_outside=found.outside[1], sentence=sentence(chosen, names),
        )  # fmt: skip


@router.get("/changes")
def changes(state: AppDep, limit: int = Query(default=500, ge=1, le=5000)) -> FeedResponse:
    """What changed lately, between audits and between runs, of businesses in view."""
    with state.database.read() as conn:
        items, total = feed.latest(conn, limit)
    return FeedResponse(items=items, total=total)
