"""Import a file: all of its rows or none, then merge them piece by piece, so that rows are usable while it goes on."""

import tempfile
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path
from typing import IO

import orjson

from openacorn.clock import now, utc_now
from openacorn.core.audit.extract.phones import is_national
from openacorn.core.gather.file_columns import ColumnsError, guess_columns
from openacorn.db.batches import batches
from openacorn.db.database import Database
from openacorn.db.folder import FOLDER_MODE
from openacorn.errors import InvalidInput
from openacorn.gather.gatherer import queue_audits
from openacorn.gather.list_address import fetch_list
from openacorn.gather.sources._source import SourceFailure
from openacorn.gather.store import imports
from openacorn.gather.store.imports import Import
from openacorn.gather.tables import FileError, Row, headings_of
from openacorn.gather.tables.as_listings import ReadAs
from openacorn.gather.tables.child import read_listings, read_rows
from openacorn.gather.tables.limits import SAMPLE
from openacorn.match.merging import merge_new_listings
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.runs.aside import aside
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.runs.store.tasks import Task
from openacorn.settings import Settings

CHUNK = 5_000
MERGED_AT_ONCE = 400
MOST_REFUSED_KEPT = 10_000
ABANDONED = timedelta(days=7)


class CountryWanted(InvalidInput):
    """National phone numbers cannot be read, since no country is set; the message shows one."""

    where = "country"
    remedy = "choose your country, or import the numbers as they are written"


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


def _read_whole(path: Path, item: Import, good: IO[bytes], country: str) -> tuple[list[tuple[int, str]], int]:
    """Read a file to its end before any of it is kept: the good rows into `good`, some [id in the file, listing] a line of JSON.

    country: of its addresses. Returns (the first refused with the reason, how many were refused). Raises FileError, ColumnsError.
    """
    refused = 0
    wrong: list[tuple[int, str]] = []
    wanted = ReadAs(item.columns, item.source, country, read_again=bool(item.address))
    for answer in read_listings(path, item.file, item.encoding, wanted):
        if isinstance(answer, bytes):
            good.write(answer + b"\n")
        else:
            refused += len(answer)
            wrong += answer[: MOST_REFUSED_KEPT - len(wrong)]
    return wrong, refused


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
                    wrong, refused = _read_whole(path, item, good, self._settings.region or "")
                    good.seek(0)
                    taken = self._take(item, good)
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

    def _take(self, item: Import, good: Iterable[bytes]) -> int:
        """Put rows into the store, a transaction each CHUNK, the same rows if done again after a kill; return how many."""
        taken = 0
        rows: Iterable[list[str]] = (row for line in good for row in orjson.loads(line))
        for number, some in enumerate(batches(rows, CHUNK)):
            taken += len(some)
            with self._database.write() as conn:
                ids = imports.count_row(conn, self._id, item, some, utc_now())
                work = (
                    (f"{self.source_id}/{number}.{part}", orjson.dumps(piece).decode())
                    for part, piece in enumerate(batches(ids, MERGED_AT_ONCE))
                )
                tasks.add_tasks(conn, self._id, "merge", work, lane=self.source_id)
        return taken

    def _merge_some(self) -> bool:
        """Merge one piece; False if nothing is left."""
        with self._database.write() as conn:
            claimed = tasks.claim(conn, self._id, "merge", 1, lane=self.source_id)
            for unit in claimed:
                written = merge_new_listings(conn, orjson.loads(unit.payload), self._settings)
                queue_audits(conn, self._id, written)
                tasks.finish(conn, unit.id, len(written))
        return bool(claimed)
