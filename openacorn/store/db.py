"""SQLite: one writer at a time, readers that never wait for it, migrations at the door."""

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

MIGRATIONS = Path(__file__).parent / "migrations"
BUSY_MS = 15_000


class DatabaseTooNew(Exception):
    """The file was written by a newer version of the program."""


class Database:
    """A database file. `read()` gives a connection that cannot write; `write()` a transaction, one at a time."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self._lock = threading.Lock()
        self._writer = self._connect(read_only=False)
        self._writer.execute("PRAGMA journal_mode = WAL")
        self._writer.execute("PRAGMA synchronous = NORMAL")
        self._migrate()

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
        files = sorted(MIGRATIONS.glob("[0-9][0-9][0-9][0-9]_*.sql"))
        version = int(self._writer.execute("PRAGMA user_version").fetchone()[0])
        if version > len(files):
            raise DatabaseTooNew(
                f"{self.path} is of version {version}; this program knows up to {len(files)}: update the program"
            )
        for number, file in enumerate(files, start=1):
            if number > version:
                # one script, so that the step and its record stand or fall together
                self._writer.executescript(
                    f"BEGIN IMMEDIATE; {file.read_text()} PRAGMA user_version = {number}; COMMIT;"
                )

    @contextmanager
    def read(self) -> Iterator[sqlite3.Connection]:
        """A connection of its own that sees one state of the data and cannot change it."""
        connection = self._connect(read_only=True)
        try:
            connection.execute("BEGIN")
            yield connection
        finally:
            connection.close()

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """A transaction: kept if the block ends well, undone if it raises."""
        with self._lock:
            self._writer.execute("BEGIN IMMEDIATE")
            try:
                yield self._writer
            except BaseException:
                self._writer.execute("ROLLBACK")
                raise
            self._writer.execute("COMMIT")

    def close(self) -> None:
        """End the writer's connection."""
        with self._lock:
            self._writer.close()
