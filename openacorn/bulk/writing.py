"""Everything as lines of JSON: a header, then a business a line, read a few hundred at a time while others work."""

import sqlite3
from collections.abc import Iterator
from typing import Any

import orjson

from openacorn.bulk.schemas.lines import VERSION
from openacorn.bulk.store import records
from openacorn.business.store import businesses, own_trades, relationships
from openacorn.clock import utc_now
from openacorn.core.gather.listing import officers_of
from openacorn.db.database import Database
from openacorn.gather.reach import source_titles
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

AT_ONCE = 200
ALL = 1_000_000_000
SHOWN = (
    "id", "name", "trade", "category", "street", "town", "postcode", "lat", "lon", "phone", "email", "website", "rating", "reviews",
    "hours", "staff_band", "price_band", "status", "chain", "founded", "revenue_band", "rejected", "first_seen", "audited_at",
    "platform", "offer", "score", "value",
)  # fmt: skip
"""Of the merged business, under the names of the API; `relationship` and `sources` besides."""


def _header(conn: sqlite3.Connection, settings: Settings) -> dict[str, Any]:
    marks, _ = relationships.list_relationships(conn, ALL)
    return {
        "open_acorn": VERSION,
        "made_at": utc_now(),
        "agency": settings.agency,
        "businesses": records.count_businesses(conn),
        "sources": source_titles(conn),
        "trades": [
            {"label": trade.label, "plural": trade.plural, "words": list(trade.words), "parent": trade.parent}
            for trade in own_trades.own_trades(conn)
        ],
        "relationships": [
            {"kind": mark.kind, "identifier_type": mark.identifier_type, "value": mark.value, "shown": mark.shown}
            for mark in marks
        ],
    }


def _people(parts: dict[str, Any]) -> list[dict[str, str]]:
    """People named on the pages, in a directory, and as officers in a listing; each name once."""
    found: dict[str, dict[str, str]] = {}

    def add(name: str, role: str, where: str) -> None:
        if name.strip():
            found.setdefault(name.strip().lower(), {"name": name.strip(), "role": role.strip(), "where": where})

    for finding in parts["findings"]:
        if finding["check"] == "people_named" and isinstance(finding["value"], list):
            for said in finding["value"]:
                name, _, role = str(said).partition(",")
                add(name, role, "website")
    directory = ((parts["audit"] or {}).get("beyond") or {}).get("people") or {}
    for person in directory.get("people", ()):
        add(person["name"], person["role"], person["where"])
    for item in parts["listings"]:
        for name, role in officers_of(str(item["listing"].get("extra", {}).get("officers", ""))):
            add(name, role, item["source"])
    return list(found.values())


def _line(conn: sqlite3.Connection, row: dict[str, Any], scorer: Scorer) -> dict[str, Any]:
    parts = records.parts_of(conn, row["id"])
    about = {name: row[name] for name in SHOWN}
    about |= {"relationship": row["relationship"], "sources": orjson.loads(row["sources"])}
    scores = [
        {"service": item.service, "score": item.score, "value": None if item.value is None else round(item.value, 2)}
        for item in scorer.opportunities(row)[0]
    ]
    return {"business": about, **parts, "people": _people(parts), "scores": scores}


def records_of(database: Database) -> Iterator[dict[str, Any]]:
    """Every business that a source lists, whole; each batch as it was at one moment."""
    with database.read() as conn:
        ids = records.business_ids(conn)
    for start in range(0, len(ids), AT_ONCE):
        with database.read() as conn:
            scorer = Scorer(conn)
            batch = [_line(conn, row, scorer) for row in businesses.get_businesses(conn, ids[start : start + AT_ONCE])]
        yield from (line for line in batch if line["listings"])


def header_of(database: Database, settings: Settings) -> dict[str, Any]:
    """The first line."""
    with database.read() as conn:
        return _header(conn, settings)


def write_lines(database: Database, settings: Settings) -> Iterator[bytes]:
    """The file, in chunks of whole lines."""
    yield orjson.dumps(header_of(database, settings)) + b"\n"
    for record in records_of(database):
        yield orjson.dumps(record) + b"\n"
