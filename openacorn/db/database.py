"""SQLite: one writer at a time, readers that never wait for it, migrations at the door."""

import asyncio
import errno
import os
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path

from openacorn.acting import Act, act_to_write
from openacorn.db.folder import COPIES_FOLDER, FILE_MODE, FOLDER_MODE
from openacorn.db.writers_queue import Queue

MIGRATIONS = Path(__file__).parent / "migrations"
BUSY_MS = 15_000
STRICT = "ACORN_STRICT"
"""Variable of the environment: set, a call that would block an event loop is an error."""

COPIES_KEPT = 3
COPIED_AT_ONCE = 2_000
"""Pages of the database between two reports of a copy's progress."""


class DatabaseError(Exception):
    """The database cannot be used; the message says why and what to do."""


class DatabaseTooNew(DatabaseError):
    """The file was written by a newer version of the program."""


class DatabaseDamaged(DatabaseError):
    """The file is no database, or a damaged one."""


def disk_is_full(error: BaseException) -> bool:
    """Return whether an error of the database or of a file says that the disk is full."""
    if isinstance(error, sqlite3.Error):
        return getattr(error, "sqlite_errorcode", None) == sqlite3.SQLITE_FULL
    return isinstance(error, OSError) and error.errno in {errno.ENOSPC, errno.EDQUOT}


def migrations() -> list[Path]:
    """The migrations in their order; the n-th makes version n."""
    return sorted(MIGRATIONS.glob("[0-9][0-9][0-9][0-9]_*.sql"))


def known_version() -> int:
    """The newest version of the database that this program knows."""
    return len(migrations())


def online_copy(path: Path, copy: Path, report: Callable[[float], None] = lambda _: None) -> int:
    """Copy a database that may be in use to a new file, as it is at one moment; return its version. Writers go on meanwhile.

    Raises DatabaseDamaged.
    """
    copy.unlink(missing_ok=True)
    copy.touch(FILE_MODE)
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, isolation_level=None)) as source:
            source.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
            source.execute("BEGIN")  # one state of the data from the first page to the last
            version = int(source.execute("PRAGMA user_version").fetchone()[0])
            source.execute("SELECT count(*) FROM sqlite_schema").fetchone()
            with closing(sqlite3.connect(copy)) as target:
                source.backup(target, pages=COPIED_AT_ONCE, progress=lambda _, left, all_: report(1 - left / all_))
                target.execute("PRAGMA journal_mode = DELETE")
    except sqlite3.DatabaseError as error:
        raise DatabaseDamaged(f"{path} cannot be copied: {error}") from None
    return version


class BlockingCall(AssertionError):
    """The database was asked on an event loop, where everybody would wait for the answer."""


def _off_the_loop() -> None:
    """Raise BlockingCall on an event loop, where the environment asks for that (as the tests do)."""
    if os.environ.get(STRICT):
        try:
            asyncio.get_running_loop()
        except RuntimeError:
            return
        raise BlockingCall("the database was asked on the event loop")


IDLE_MOST = 16


class Database:
    """A database file. `read()` gives a connection that cannot write; `write()` a transaction, one at a time."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
        path.touch(FILE_MODE)
        self.path = path
        self._lock = Queue()
        self._closed = False
        self.note_act: Callable[[sqlite3.Connection, Act], None] | None = None
        """Writes down what somebody does, in the transaction that does it: both are kept, or neither."""
        self._idle: list[sqlite3.Connection] = []
        """Connections for reading that nobody uses now: a new one reads the whole schema first, which takes a millisecond."""
        self._writer = self._connect(read_only=False)
        try:
            self._writer.execute("PRAGMA journal_mode = WAL")
            self._writer.execute("PRAGMA synchronous = NORMAL")
            self._migrate()
        except sqlite3.OperationalError:
            raise  # locked, full, or without permission: the file itself is sound
        except sqlite3.DatabaseError as error:
            raise DatabaseDamaged(
                f"{path} is damaged or is no database ({error}); restore a backup with ./acorn restore FILE, "
                "or move the file away to start with none"
            ) from None

    def _connect(self, *, read_only: bool) -> sqlite3.Connection:
        mode = "ro" if read_only else "rwc"
        connection = sqlite3.connect(
            f"{self.path.absolute().as_uri()}?mode={mode}", uri=True, isolation_level=None, check_same_thread=False
        )
        connection.row_factory = sqlite3.Row
        connection.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
        connection.execute("PRAGMA foreign_keys = ON")
        return connection

    def _migrate(self) -> None:
        files = migrations()
        version = int(self._writer.execute("PRAGMA user_version").fetchone()[0])
        if version > len(files):
            raise DatabaseTooNew(
                f"{self.path} is of version {version}; this program knows up to {len(files)}: update the program"
            )
        if 0 < version < len(files):
            self._copy_before(version)
        for number, file in enumerate(files, start=1):
            if number > version:
                # one script, so that the step and its record stand or fall together
                self._writer.executescript(
                    f"BEGIN IMMEDIATE; {file.read_text()} PRAGMA user_version = {number}; COMMIT;"
                )

    def _copy_before(self, version: int) -> None:
        """Keep a copy of the database as it is before it is changed; only the latest few are kept."""
        folder = self.path.parent / COPIES_FOLDER
        folder.mkdir(exist_ok=True, mode=FOLDER_MODE)
        online_copy(self.path, folder / f"{datetime.now():%Y%m%d-%H%M%S}-version-{version}.db")
        for old in sorted(folder.glob("*.db"))[:-COPIES_KEPT]:
            old.unlink()

    @contextmanager
    def read(self) -> Iterator[sqlite3.Connection]:
        """A connection of its own that sees one state of the data and cannot change it. Never waits for a writer."""
        _off_the_loop()
        try:
            connection = self._idle.pop()
        except IndexError:
            connection = self._connect(read_only=True)
        try:
            connection.execute("BEGIN")
            yield connection
        finally:
            if connection.in_transaction and len(self._idle) < IDLE_MOST and not self._closed:
                connection.execute("ROLLBACK")
                self._idle.append(connection)
            else:
                connection.close()

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """A transaction: kept if the block ends well, undone if it raises. Writers come one after the other, people first."""
        _off_the_loop()
        with self._lock:
            self._writer.execute("BEGIN IMMEDIATE")
            try:
                yield self._writer
                act = act_to_write() if self.note_act else None
                if act and self.note_act:
                    self.note_act(self._writer, act)
                self._writer.execute("COMMIT")
                if act:
                    act.written = True
            except BaseException:
                if self._writer.in_transaction:  # a full disk may have undone it already
                    self._writer.execute("ROLLBACK")
                raise

    def compact(self) -> None:
        """Write the file again without what was deleted, so that nothing of it is left on the disk. Writers wait meanwhile."""
        _off_the_loop()
        with self._lock:
            self._writer.execute("VACUUM")
            self._writer.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def close(self) -> None:
        """End the connections."""
        self._closed = True
        while self._idle:
            self._idle.pop().close()
        with self._lock:
            self._writer.close()
