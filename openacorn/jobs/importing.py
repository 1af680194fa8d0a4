"""Bring in a file: all of its rows or none, then merge them piece by piece, so that rows are usable while it goes on."""

import asyncio
from collections.abc import Callable, Iterable, Iterator
from itertools import islice
from pathlib import Path
from typing import TypeVar

import orjson

from openacorn.core.columns import ColumnsError, RowError, checked_columns, guess_columns, read_row
from openacorn.core.listing import Listing
from openacorn.jobs.gathering import queue_audits
from openacorn.jobs.merging import absorb
from openacorn.jobs.tables import FileError, Row, headings_of, read_rows
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.net.probes.site import now
from openacorn.settings import Settings
from openacorn.sources._source import SourceFailure
from openacorn.store import imports, sweeps, units
from openacorn.store.db import Database
from openacorn.store.imports import Import
from openacorn.store.sweeps import Plan

SAMPLE = 200
CHUNK = 5_000
MERGED_AT_ONCE = 400
MOST_REFUSED_KEPT = 10_000


T = TypeVar("T")


def batches(items: Iterable[T], size: int) -> Iterator[list[T]]:
    """Lists of up to `size` items."""
    source = iter(items)
    while batch := list(islice(source, size)):
        yield batch


def folder_of(database: Database) -> Path:
    """Where files that were brought in are kept until they are read."""
    return database.path.parent / "imports"


def preview(path: Path, name: str) -> tuple[list[str], list[Row], dict[str, str]]:
    """(headings, the first rows, guessed columns). Raises FileError."""
    headings, sample = headings_of(read_rows(path, name), SAMPLE)
    guess = guess_columns(headings, [row.cells for row in sample if not row.error])
    return headings, sample, dict(guess.fields)


def rows_of(path: Path, item: Import, headings: list[str]) -> Iterator[tuple[int, Listing | str]]:
    """(line, listing, or the reason why there is none) of every row. Raises FileError, ColumnsError."""
    fields = {field: heading for field, heading in checked_columns(item.columns, headings).items() if field != "source"}
    for row in read_rows(path, item.file):
        try:
            if row.error:
                raise RowError(row.error)
            yield row.line, read_row(row.cells, fields, item.source, str(row.line))
        except RowError as error:
            yield row.line, str(error)


class FileLane:
    """One import in one run; stands among the sources' lanes."""

    def __init__(
        self, run_id: int, source_id: str, _plan: Plan, database: Database, settings: Settings, ends: Callable[[], bool]
    ) -> None:
        self._id, self.source_id, self._database, self._settings, self._ends = (
            run_id,
            source_id,
            database,
            settings,
            ends,
        )
        self.down: SourceFailure | None = None
        self.enough = False

    async def gather(self, _client: Client, _pace: Pace) -> None:
        """Read the file if that is still to be done, then merge what it brought."""
        await asyncio.to_thread(self._read)
        while self.down is None and not self._ends() and await asyncio.to_thread(self._merge_some):
            pass

    def _read(self) -> None:
        try:
            with self._database.write() as conn:
                for unit in units.claim(conn, self._id, "query", 1, lane=self.source_id):
                    item = imports.get_import(conn, int(self.source_id.partition(":")[2]))
                    path = folder_of(self._database) / str(item.id)
                    headings, _ = headings_of(read_rows(path, item.file), SAMPLE)
                    taken = refused = 0
                    for chunk in batches(rows_of(path, item, headings), CHUNK):
                        found = [said for _, said in chunk if isinstance(said, Listing)]
                        wrong = [(line, said) for line, said in chunk if isinstance(said, str)]
                        imports.take(conn, found, item.trade, now())
                        if refused < MOST_REFUSED_KEPT:
                            imports.refuse(conn, item.id, wrong)
                        taken, refused = taken + len(found), refused + len(wrong)
                    ids = imports.finish(conn, self._id, item, taken, refused)
                    pieces = batches(ids, MERGED_AT_ONCE)
                    work = (
                        (f"{self.source_id}/{number}", orjson.dumps(piece).decode())
                        for number, piece in enumerate(pieces)
                    )
                    units.add_units(conn, self._id, "merge", work, lane=self.source_id)
                    units.finish(conn, unit.id, taken)
                    if refused:
                        text = f"{item.title}: {refused:,} of {taken + refused:,} rows were refused"
                        sweeps.add_note(conn, self._id, now(), "failed", text, "see the list of lines under Files")
        except (FileError, ColumnsError, OSError) as error:
            self.down = SourceFailure(str(error), "mend the file and bring it in again")
            with self._database.write() as conn:
                units.fail_lane(conn, self._id, self.source_id, str(self.down), self.down.remedy)
                sweeps.add_note(conn, self._id, now(), "failed", str(self.down), self.down.remedy)

    def _merge_some(self) -> bool:
        """Merge one piece; False if nothing is left."""
        with self._database.write() as conn:
            claimed = units.claim(conn, self._id, "merge", 1, lane=self.source_id)
            for unit in claimed:
                written = absorb(conn, orjson.loads(unit.payload), self._settings)
                queue_audits(conn, self._id, written)
                units.finish(conn, unit.id, len(written))
        return bool(claimed)
