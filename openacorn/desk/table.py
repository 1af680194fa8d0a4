"""The table: the cells of a row, and how a filter is put in words."""

import sqlite3
from collections.abc import Callable, Mapping
from functools import cache, partial
from typing import Any

from openacorn.business.columns import BY_ID, Cell, Groups
from openacorn.business.store import own_trades, services, shortlists
from openacorn.core.audit.check import check_titles
from openacorn.core.desk.filter_words import Names
from openacorn.core.desk.filters import NOT_KNOWN
from openacorn.gather.reach import source_titles


def cells(row: Mapping[str, Any], groups: Groups, columns: tuple[str, ...]) -> list[Cell]:
    """One row's cells."""
    return [BY_ID[column].cell(row, groups) for column in columns]


def names_for(conn: sqlite3.Connection) -> Names:
    """What the values of each facet are called. They are read as they are asked for, so `conn` must still be open."""
    trades = cache(lambda: {trade.id: trade.plural for trade in own_trades.trades_there(conn).trades})
    titles = cache(lambda: {service.id: service.title for service in services.list_services(conn)})
    sources = cache(partial(source_titles, conn))
    lists = cache(lambda: {str(item.id): item.name for item in shortlists.list_shortlists(conn)})

    def among(names: Callable[[], Mapping[str, str]], none: str = NOT_KNOWN) -> Callable[[str], str]:
        return lambda value: none if value == NOT_KNOWN else names().get(value, value)

    return {
        "town": among(dict, "no known town"), "platform": among(dict, "no platform detected"),
        "trade": among(trades, "no known trade"), "check": among(check_titles), "offer": among(titles, "none"),
        "shortlist": lambda value: f"“{lists().get(value, value)}”", "source": among(sources),
    }  # fmt: skip
