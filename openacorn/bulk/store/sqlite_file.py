"""Everything as a SQLite file of its own: tables and views that stay as they are described, whatever the application's become."""

import sqlite3
from collections.abc import Iterable, Mapping
from contextlib import closing
from functools import cache
from importlib.resources import files
from itertools import islice
from pathlib import Path
from typing import Any

import orjson

from openacorn.db.folder import drafted, open_private

TABLES = {
    "listings": "listing", "findings": "finding", "contacts": "contact", "people": "person", "scores": "score",
    "lists": "list_member", "history": "history", "results": "result",
}  # fmt: skip
"""Part of a line → the table its rows go into."""

AT_ONCE = 500


def _cell(value: Any) -> Any:
    return value if value is None or isinstance(value, str | int | float) else orjson.dumps(value).decode()


class SqliteFile:
    """Use as a function of one file: `fill`."""

    def __init__(self, conn: sqlite3.Connection) -> None:
        self._conn = conn
        self._columns = cache(self._read_columns)

    def _read_columns(self, table: str) -> tuple[str, ...]:
        return tuple(str(row[1]) for row in self._conn.execute(f"PRAGMA table_info({table})"))

    def _insert(self, table: str, rows: Iterable[Mapping[str, Any]]) -> None:
        columns = self._columns(table)
        names = ", ".join(f'"{name}"' for name in columns)
        query = f"INSERT INTO {table} ({names}) VALUES ({', '.join('?' for _ in columns)})"
        json = {"value", "evidence"} if table == "finding" else frozenset[str]()
        self._conn.executemany(
            query,
            (
                [orjson.dumps(row[name]).decode() if name in json else _cell(row[name]) for name in columns]
                for row in rows
            ),
        )

    def fill(self, header: Mapping[str, Any], records: Iterable[Mapping[str, Any]]) -> None:
        """Write everything."""
        self._conn.executescript(files(__package__).joinpath("tables.sql").read_text(encoding="utf-8"))
        self._insert(
            "about",
            ({"name": name, "value": _cell(header[name]) or ""} for name in ("open_acorn", "made_at", "agency")),
        )
        rest = iter(records)
        while batch := list(islice(rest, AT_ONCE)):
            self._insert("business", (line["business"] for line in batch))
            for part, table in TABLES.items():
                self._insert(
                    table, ({"business_id": line["business"]["id"], **row} for line in batch for row in line[part])
                )
            self._insert(
                "tag", ({"business_id": line["business"]["id"], "tag": tag} for line in batch for tag in line["tags"])
            )
        self._conn.commit()


def write_sqlite(target: Path, header: Mapping[str, Any], records: Iterable[Mapping[str, Any]]) -> None:
    """Write the file; one that is there is replaced once the new one is whole."""
    with drafted(target) as draft:
        with open_private(draft):
            pass  # readable by its owner alone before anything is in it
        with closing(sqlite3.connect(draft)) as conn:
            conn.execute("PRAGMA journal_mode = OFF")
            SqliteFile(conn).fill(header, records)
