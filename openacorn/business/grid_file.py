"""The table's columns in a file beside the database, so that a start reads what was there and only then what has changed since.

A copy and nothing more: without it, or with one that does not fit, the columns are read from the database. It belongs to the
database that names its mark: after a restore of a backup, or when somebody was erased, the mark differs and the file is not read.
"""

import logging
import math
import mmap
import os
import secrets
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import orjson

from openacorn import __version__
from openacorn.core.desk.grid_columns import GridColumns
from openacorn.db import changes
from openacorn.db.database import Database
from openacorn.db.folder import TABLE_COPY, open_private

log = logging.getLogger(__name__)
FORM = f"{__version__} 1"
"""Version of the program and of the file's form: any other is passed over."""

DRAFT = f".acorn-{TABLE_COPY}.new"
ALIGNED = 64
LENGTH_BYTES = 8


def _path(database: Database) -> Path:
    return database.path.with_name(TABLE_COPY)


def mark_of(database: Database) -> str:
    """The mark of the copy that the database knows."""
    with database.read() as conn:
        return changes.copy_mark(conn)


def forget(database: Database) -> None:
    """Delete the copy, and have one that is being written thrown away: it may hold a person who was erased."""
    with database.write() as conn:
        changes.set_copy_mark(conn, secrets.token_hex(8))
    _path(database).unlink(missing_ok=True)


def write_draft(database: Database, grid: GridColumns, number: int) -> tuple[Path, str]:
    """Write the columns beside the database, for `save`; nobody may change them meanwhile. Return (the file, its mark)."""
    draft, mark = database.path.with_name(DRAFT), secrets.token_hex(8)
    about, parts = grid.parts()
    columns: dict[str, Any] = {}
    at = 0
    for name, column in parts.items():
        columns[name] = {"kind": column.dtype.str, "shape": column.shape, "at": at}
        at += -(-column.nbytes // ALIGNED) * ALIGNED
    head = orjson.dumps({"form": FORM, "mark": mark, "number": number, "size": at, "columns": columns, **about})
    start = _start(len(head))
    with open_private(draft) as file:
        file.write(len(head).to_bytes(LENGTH_BYTES, "little") + head)
        for name, column in parts.items():
            file.seek(start + columns[name]["at"])
            file.write(np.ascontiguousarray(column).data)
        file.truncate(start + at)
    return draft, mark


def _start(head: int) -> int:
    return -(-(LENGTH_BYTES + head) // ALIGNED) * ALIGNED


def load(database: Database, grid: GridColumns) -> int:
    """Fill an empty grid from the copy, its columns mapped into memory; return its change number, -1 if there is none that fits."""
    path = _path(database)
    try:
        with open(path, "rb") as file:
            whole = mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_COPY)
        length = int.from_bytes(whole[:LENGTH_BYTES], "little")
        head = orjson.loads(whole[LENGTH_BYTES : LENGTH_BYTES + length])
        start = _start(length)
        fits = head["form"] == FORM and head["checks"] == list(grid.checks) and len(whole) == start + head["size"]
        if not fits or head["mark"] != mark_of(database):
            return -1
        grid.restore(
            head["values"], {name: _column(whole, start, **column) for name, column in head["columns"].items()}
        )
        return int(head["number"])
    except FileNotFoundError:
        return -1
    except (OSError, ValueError, KeyError, TypeError) as fault:
        log.warning("the copy of the table in %s is passed over: %s", path, fault)
        return -1


def _column(whole: mmap.mmap, start: int, kind: str, shape: Sequence[int], at: int) -> npt.NDArray[Any]:
    return np.frombuffer(whole, kind, math.prod(shape), start + at).reshape(shape)


def save(database: Database, draft: Path, mark: str, before: str) -> bool:
    """Make a draft the database's copy; False, and nothing is kept, if somebody was erased since the mark `before` was read."""
    try:
        with open(draft, "rb") as file:
            os.fsync(file.fileno())
        with database.write() as conn:
            if changes.copy_mark(conn) != before:
                return False
            os.replace(draft, _path(database))
            changes.set_copy_mark(conn, mark)
        return True
    finally:
        draft.unlink(missing_ok=True)
