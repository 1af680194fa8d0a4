"""Imports: what was brought in, by which columns, and the rows that were refused."""

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import orjson

from openacorn.errors import NotFound

TAKE = """
INSERT INTO listing (source, source_id, trade, body, seen_at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (source, source_id) DO UPDATE SET body = excluded.body, seen_at = excluded.seen_at
"""
IDS = "SELECT id FROM listing WHERE source = ? AND source_id IN (SELECT value FROM json_each(?)) ORDER BY id"
SEE = "INSERT INTO seen (run_id, listing_id) SELECT ?, value FROM json_each(?) WHERE true ON CONFLICT DO NOTHING"
REFUSE = "INSERT OR REPLACE INTO import_refused (import_id, line, reason) VALUES (?, ?, ?)"
SELECT = "SELECT id, title, file, columns, trade, taken, refused, at, encoding, address FROM import"
REMEMBER = "INSERT OR REPLACE INTO column_memory (headings, columns) VALUES (?, ?)"


@dataclass(frozen=True, slots=True)
class Import:
    """One file. file: the name it came with; columns: field → heading, empty until the user has agreed; encoding: of its text;
    address: where it is fetched from again on every run, "" for a file that was brought."""

    id: int
    title: str
    file: str
    columns: dict[str, str]
    trade: str
    taken: int
    refused: int
    at: str
    encoding: str
    address: str = ""

    @property
    def source(self) -> str:
        """The source of its listings."""
        return f"file:{self.id}"


def _import(row: sqlite3.Row) -> Import:
    return Import(**{**dict(row), "columns": orjson.loads(row["columns"])})


def add_import(conn: sqlite3.Connection, title: str, file: str, at: str, address: str = "") -> int:
    """Keep a file that was brought in, or is fetched from an address; return its id."""
    insert = "INSERT INTO import (title, file, at, address) VALUES (?, ?, ?, ?) RETURNING id"
    row = conn.execute(insert, (title, file, at, address)).fetchone()
    return int(row[0])


def set_encoding(conn: sqlite3.Connection, import_id: int, encoding: str) -> None:
    """Keep in which encoding a file is to be read."""
    conn.execute("UPDATE import SET encoding = ? WHERE id = ?", (encoding, import_id))


def abandoned(conn: sqlite3.Connection, before: str) -> list[int]:
    """Imports that came in before a moment (ISO 8601) and were never agreed to."""
    found = conn.execute("SELECT id FROM import WHERE columns = '{}' AND at < ?", (before,))
    return [int(row[0]) for row in found]


def get_import(conn: sqlite3.Connection, import_id: int) -> Import:
    """One import. Raises NotFound."""
    row = conn.execute(SELECT + " WHERE id = ?", (import_id,)).fetchone()
    if row is None:
        raise NotFound(f"there is no import {import_id}")
    return _import(row)


def list_imports(conn: sqlite3.Connection) -> list[Import]:
    """All imports that were started, newest first."""
    return [_import(row) for row in conn.execute(SELECT + " WHERE columns != '{}' ORDER BY id DESC")]


def titles(conn: sqlite3.Connection) -> dict[str, str]:
    """Source id of each import → its title."""
    return {f"file:{row[0]}": str(row[1]) for row in conn.execute("SELECT id, title FROM import")}


def set_columns(conn: sqlite3.Connection, import_id: int, columns: Mapping[str, str], title: str, trade: str) -> None:
    """Keep the columns that the user agreed to."""
    conn.execute(
        "UPDATE import SET columns = ?, title = ?, trade = ? WHERE id = ?",
        (orjson.dumps(dict(columns)).decode(), title, trade, import_id),
    )


def remembered(conn: sqlite3.Connection, headings: Sequence[str]) -> dict[str, str] | None:
    """The columns that a file with these headings was last read by."""
    row = conn.execute(
        "SELECT columns FROM column_memory WHERE headings = ?", (orjson.dumps(list(headings)).decode(),)
    ).fetchone()
    return dict(orjson.loads(row[0])) if row is not None else None


def remember(conn: sqlite3.Connection, headings: Sequence[str], columns: Mapping[str, str]) -> None:
    """Keep the columns for the next file with these headings."""
    conn.execute(REMEMBER, (orjson.dumps(list(headings)).decode(), orjson.dumps(dict(columns)).decode()))


def count_row(
    conn: sqlite3.Connection, run_id: int, taken: Import, rows: Sequence[Sequence[str]], at: str
) -> list[int]:
    """Keep some rows, (id in the file, listing as JSON), as seen by a run; return the ids of their listings, ascending."""
    conn.executemany(TAKE, ((taken.source, source_id, taken.trade, body, at) for source_id, body in rows))
    asked = (taken.source, orjson.dumps([source_id for source_id, _ in rows]).decode())
    ids = [int(row[0]) for row in conn.execute(IDS, asked)]
    conn.execute(SEE, (run_id, orjson.dumps(ids).decode()))
    return ids


def rename(conn: sqlite3.Connection, import_id: int, title: str, file: str) -> None:
    """Call an import by what its address gave."""
    conn.execute("UPDATE import SET title = ?, file = ? WHERE id = ?", (title, file, import_id))


def add_refused_row(conn: sqlite3.Connection, import_id: int, rows: Iterable[tuple[int, str]]) -> None:
    """Keep (line, reason) of rows that were refused, in place of those of an earlier reading."""
    conn.execute("DELETE FROM import_refused WHERE import_id = ?", (import_id,))
    conn.executemany(REFUSE, ((import_id, line, reason) for line, reason in rows))


def finish(conn: sqlite3.Connection, import_id: int, taken: int, refused: int) -> None:
    """Note how many rows were taken and refused."""
    conn.execute("UPDATE import SET taken = ?, refused = ? WHERE id = ?", (taken, refused, import_id))


def refused_rows(conn: sqlite3.Connection, import_id: int, limit: int) -> list[tuple[int, str]]:
    """(line, reason) of the first refused rows."""
    found = conn.execute(
        "SELECT line, reason FROM import_refused WHERE import_id = ? ORDER BY line LIMIT ?", (import_id, limit)
    )
    return [(int(line), str(reason)) for line, reason in found]
