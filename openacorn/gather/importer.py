"""Import a file: all of its rows or none, then merge them piece by piece, so that rows are usable while it goes on."""

import tempfile
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import timedelta
from itertools import islice
from pathlib import Path
from typing import IO, TypeVar

import orjson

from openacorn.clock import now, utc_now
from openacorn.core.audit.extract.phones import is_national
from openacorn.core.gather.file_columns import ColumnsError, RowError, checked_columns, guess_columns, read_row
from openacorn.core.gather.listing import Listing
from openacorn.db.database import Database
from openacorn.db.folder import FOLDER_MODE
from openacorn.errors import InvalidInput
from openacorn.gather.gatherer import queue_audits
from openacorn.gather.list_address import fetch_list
from openacorn.gather.sources._source import SourceFailure
from openacorn.gather.store import imports
from openacorn.gather.store.imports import Import
from openacorn.gather.tables import FileError, Row, headings_of
from openacorn.gather.tables.child import read_rows
from openacorn.match.merging import merge_new_listings
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.runs.aside import aside
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.runs.store.tasks import Task
from openacorn.settings import Settings

SAMPLE = 200
CHUNK = 5_000
MERGED_AT_ONCE = 400
MOST_REFUSED_KEPT = 10_000
ABANDONED = timedelta(days=7)


class CountryWanted(InvalidInput):
    """National phone numbers cannot be read, since no country is set; the message shows one."""

    where = "country"
    remedy = "choose your country, or import the numbers as they are written"


T = TypeVar("T")


def batches(items: Iterable[T], size: int) -> Iterator[list[T]]:
    """Lists of up to `size` items."""
    source = iter(items)
    while batch := list(islice(source, size)):
        yield batch


def folder_of(database: Database) -> Path:
    """Where uploads are kept until they are read."""
    return database.path.parent / "imports"


def delete_abandoned(database: Database) -> None:
    """Delete uploads that nobody agreed to for ABANDONED; an import that is deleted so has to be uploaded again."""
    before = (now() - ABANDONED).isoformat(timespec="seconds")
    with database.read() as conn:
        for import_id in imports.abandoned(conn, before):
            (folder_of(database) / str(import_id)).unlink(missing_ok=True)


@dataclass(frozen=True, slots=True)
class Preview:
    """The beginning of a file: its headings, first rows, guessed columns, and what is left out, in words."""

    headings: list[str]
    sample: list[Row]
    columns: dict[str, str]
    notes: list[str]


def preview(path: Path, name: str, encoding: str = "") -> Preview:
    """Read the beginning of a file. Raises FileError."""
    notes: list[str] = []
    if not path.exists():
        raise FileError(f"{name} is no longer here: an upload is deleted once it was imported; upload it again")
    headings, sample = headings_of(read_rows(path, name, encoding, notes), SAMPLE)
    guess = guess_columns(headings, [row.cells for row in sample if not row.error])
    return Preview(headings, sample, dict(guess.fields), notes)


def national_phones(sample: Iterable[Row], columns: Mapping[str, str]) -> list[str]:
    """Phone numbers among the first rows that are written without a country's code."""
    heading = columns.get("phone")
    found = [row.cells.get(heading, "").strip() for row in sample] if heading else []
    return [text for text in found if is_national(text)]


def rows_of(path: Path, item: Import, headings: list[str], country: str) -> Iterator[tuple[int, Listing | str]]:
    """(line, listing, or the reason why there is none) of every row. country: of its addresses. Raises FileError, ColumnsError."""
    fields = {field: heading for field, heading in checked_columns(item.columns, headings).items() if field != "source"}
    for row in read_rows(path, item.file, item.encoding):
        try:
            if row.error:
                raise RowError(row.error)
            listing = read_row(row.cells, fields, item.source, str(row.line), country)
            yield row.line, listing if not item.address else _recognisable(listing, row.line)
        except RowError as error:
            yield row.line, str(error)


def _recognisable(listing: Listing, line: int) -> Listing:
    """A row of a list that is read again: known by what it says, not by a line that others may push down."""
    if listing.source_id != str(line):
        return listing
    return replace(listing, source_id=listing.printed_id)


def _read_whole(path: Path, item: Import, good: IO[bytes], country: str) -> tuple[int, list[tuple[int, str]], int]:
    """Read a file to its end before any of it is kept: the good rows into `good`, a line of JSON each: [id in the file, listing].

    Returns (good rows, the first refused with the reason, how many were refused). Raises FileError, ColumnsError.
    """
    headings, _ = headings_of(read_rows(path, item.file, item.encoding), SAMPLE)
    taken = refused = 0
    wrong: list[tuple[int, str]] = []
    for line, answer in rows_of(path, item, headings, country):
        if isinstance(answer, Listing):
            good.write(orjson.dumps([answer.source_id, orjson.dumps(answer).decode()]) + b"\n")
            taken += 1
        else:
            refused += 1
            if refused <= MOST_REFUSED_KEPT:
                wrong.append((line, answer))
    return taken, wrong, refused


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

    async def gather(self, client: Client, _pace: Pace) -> None:
        """Read the file if that is still to be done, fetched again if it has an address; then merge what it brought."""
        wanted = await aside(self._to_be_fetched)
        if wanted is not None:
            try:
                await fetch_list(client, wanted.address, folder_of(self._database) / str(wanted.id))
            except FileError as error:
                await aside(self._fetch_failed, error)
        await aside(self.read)
        while self.down is None and not self._ends() and await aside(self._merge_some):
            pass

    def _to_be_fetched(self) -> Import | None:
        with self._database.read() as conn:
            item = imports.get_import(conn, int(self.source_id.partition(":")[2]))
            ready = any(c.lane == self.source_id and c.state == "ready" for c in tasks.lane_counts(conn, self._id))
        folder = folder_of(self._database)
        folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
        return item if item.address and ready and not (folder / str(item.id)).exists() else None

    def _fetch_failed(self, error: FileError) -> None:
        with self._database.write() as conn:
            units = tasks.claim(conn, self._id, "query", 1, lane=self.source_id)
        self._give_up(units, error, "correct the list, or its address, and run this again")

    def _give_up(self, units: Iterable[Task], error: Exception, remedy: str) -> None:
        """End the lane: nothing of the list is kept."""
        self.down = SourceFailure(str(error), remedy)
        with self._database.write() as conn:
            for unit in units:
                tasks.fail(conn, unit.id, str(error), remedy)
            sweeps.add_note(conn, self._id, utc_now(), "failed", str(error), remedy)

    def read(self) -> None:
        """Read the file to its end into the store, its rows ready to be merged."""
        if self.down is not None:
            return
        with self._database.write() as conn:
            item = imports.get_import(conn, int(self.source_id.partition(":")[2]))
            claimed = tasks.claim(conn, self._id, "query", 1, lane=self.source_id)
        for unit in claimed:
            path = folder_of(self._database) / str(item.id)
            try:
                with tempfile.TemporaryFile(dir=path.parent) as good:
                    taken, wrong, refused = _read_whole(path, item, good, self._settings.region or "")
                    good.seek(0)
                    self._take(item, good)
            except (FileError, ColumnsError, OSError) as error:
                self._give_up([unit], error, "correct the file and import it again")
                continue
            with self._database.write() as conn:
                imports.add_refused_row(conn, item.id, wrong)
                imports.finish(conn, item.id, taken, refused)
                tasks.finish(conn, unit.id, taken)
                if refused:
                    text = f"{item.title}: {refused:,} of {taken + refused:,} rows were refused"
                    sweeps.add_note(conn, self._id, utc_now(), "failed", text, "see the list of lines under Import")
            path.unlink(missing_ok=True)  # every row is in the store now

    def _take(self, item: Import, good: Iterable[bytes]) -> None:
        """Put rows into the store, a transaction each CHUNK: done again after a kill, it finds the same rows there."""
        for number, lines in enumerate(batches(good, CHUNK)):
            rows = [(str(source_id), str(body)) for source_id, body in map(orjson.loads, lines)]
            with self._database.write() as conn:
                ids = imports.count_row(conn, self._id, item, rows, utc_now())
                work = (
                    (f"{self.source_id}/{number}.{part}", orjson.dumps(piece).decode())
                    for part, piece in enumerate(batches(ids, MERGED_AT_ONCE))
                )
                tasks.add_tasks(conn, self._id, "merge", work, lane=self.source_id)

    def _merge_some(self) -> bool:
        """Merge one piece; False if nothing is left."""
        with self._database.write() as conn:
            claimed = tasks.claim(conn, self._id, "merge", 1, lane=self.source_id)
            for unit in claimed:
                written = merge_new_listings(conn, orjson.loads(unit.payload), self._settings)
                queue_audits(conn, self._id, written)
                tasks.finish(conn, unit.id, len(written))
        return bool(claimed)
