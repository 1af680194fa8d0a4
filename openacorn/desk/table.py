"""The table's columns: what each shows of a business's wide row, and how a filter is put in words."""

import sqlite3
from collections.abc import Callable, Mapping
from functools import cache, partial
from typing import Any

import orjson

from openacorn.api.deps import check_ids
from openacorn.business.store import own_trades, services, shortlists
from openacorn.core.audit.check import all_checks
from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.filter_words import Names
from openacorn.core.desk.filters import NOT_KNOWN
from openacorn.desk.schemas.businesses import Cell
from openacorn.gather.gatherer import source_titles

STRIP = {"gap": "g", "partial": "p", "ok": "o", "not applicable": "n", "unknown": "u"}
Groups = Mapping[str, list[str]]
STORED = (
    "id", "name", "trade", "town", "distance_m", "website", "phone", "rating", "reviews", "offer", "score", "value", "reach", "fit",
    "audited_at", "rejected", "standing", "first_seen", "street", "postcode", "category", "platform", "chain", "founded", "email",
    "revenue_band", "staff_band", "price_band", "hours",
)  # fmt: skip


def strip_of(outcomes: str) -> str:
    """One letter a check, in the order of the audit strip; "-" where it was not asked."""
    known = orjson.loads(outcomes)
    return "".join(STRIP.get(known.get(check), "-") for check in check_ids())


COMPUTED: dict[str, Callable[[Mapping[str, Any], Groups], Cell]] = {
    "strip": lambda row, _: strip_of(row["outcomes"]),
    "shortlists": lambda _, groups: len(groups.get("shortlist", ())),
    "stage": lambda _, groups: ", ".join(groups.get("stage", ["new"])),
    "tags": lambda _, groups: ", ".join(groups.get("tag", ())),
    "sources": lambda row, _: len(orjson.loads(row["sources"])),
    "has": lambda row, _: ", ".join(orjson.loads(row["channels"])),
    "gaps": lambda row, _: sum(outcome == Outcome.GAP for outcome in orjson.loads(row["outcomes"]).values()),
}
READ = (*STORED, "outcomes", "sources", "channels")
"""Columns of a business's row that the table's are made of."""

COLUMNS = (*STORED, *COMPUTED)
"""Every column that the table can show."""

DEFAULT_COLUMNS = (
    "id", "name", "trade", "town", "distance_m", "website", "phone", "rating", "reviews", "offer", "score", "value", "reach",
    "audited_at", "rejected", "strip", "shortlists", "stage", "tags",
)  # fmt: skip


def cells(row: Mapping[str, Any], groups: Groups, columns: tuple[str, ...]) -> list[Cell]:
    """One row's cells."""
    return [COMPUTED[column](row, groups) if column in COMPUTED else row[column] for column in columns]


def names_for(conn: sqlite3.Connection) -> Names:
    """What the values of each facet are called. They are read as they are asked for, so `conn` must still be open."""
    trades = cache(lambda: {trade.id: trade.plural for trade in own_trades.trades_there(conn).trades})
    checks = cache(lambda: {check.id: check.title for check in all_checks()})
    titles = cache(lambda: {service.id: service.title for service in services.list_services(conn)})
    sources = cache(partial(source_titles, conn))
    lists = cache(lambda: {str(item.id): item.name for item in shortlists.list_shortlists(conn)})

    def among(names: Callable[[], Mapping[str, str]], none: str = NOT_KNOWN) -> Callable[[str], str]:
        return lambda value: none if value == NOT_KNOWN else names().get(value, value)

    return {
        "town": among(dict, "no known town"), "platform": among(dict, "no platform detected"),
        "trade": among(trades, "no known trade"), "check": among(checks), "offer": among(titles, "none"),
        "shortlist": lambda value: f"“{lists().get(value, value)}”", "source": among(sources),
    }  # fmt: skip
