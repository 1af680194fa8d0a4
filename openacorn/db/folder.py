"""The data folder: readable by its owner alone, used by one process at a time, written in whole files."""

import contextlib
import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

DATABASE = "acorn.db"
LOCK = "in-use.lock"
TABLE_COPY = "table.columns"
"""A copy of the table's columns, so that the next start is quicker; made again when it is not there."""

LAST_BACKUP = "last-backup"
"""Holds the time of the last backup, ISO 8601."""

FOLDER_MODE, FILE_MODE = 0o700, 0o600
COPIES_FOLDER = "copies"
"""Of copies made before a migration."""

KEPT_ASIDE = "before-restore"
"""Folders of this name hold what stood there before a restore."""

OWN_PARTS = (
    DATABASE,
    LOCK,
    TABLE_COPY,
    "settings.json",
    "secret.key",
    LAST_BACKUP,
    "imports",
    COPIES_FOLDER,
    "world",
    KEPT_ASIDE,
    ".restoring",
    ".acorn",
    "acorn-backups",
)
"""How the names begin of all that the program puts into its data folder."""


class FolderError(Exception):
    """The data folder cannot be used; the message says why and what to do."""


def write_private(path: Path, body: bytes) -> None:
    """Replace a file in one step, so that a crash leaves the old one or the new one, never half of it or an empty one."""
    draft = path.with_name(f".acorn-{path.name}.{os.getpid()}.new")
    try:
        with open_private(draft) as file:
            file.write(body)
            file.flush()
            os.fsync(file.fileno())
        os.replace(draft, path)
    except BaseException:
        draft.unlink(missing_ok=True)
        raise


@contextmanager
def drafted(path: Path) -> Iterator[Path]:
    """A draft beside a file that takes its place once the block has filled it; if the block raises, nothing of it stays."""
    draft = path.with_name(f".{path.name}.part")
    try:
        yield draft
        os.replace(draft, path)
    finally:
        with contextlib.suppress(OSError):
            draft.unlink(missing_ok=True)


def open_private(path: Path, mode: str = "w") -> IO[bytes]:
    """Open a file to write ("w") or to add to ("a") bytes; a new one is readable by its owner alone."""
    return open(path, f"{mode}b", opener=lambda name, flags: os.open(name, flags, FILE_MODE))


def own_parts(folder: Path) -> list[Path]:
    """What lies in the data folder and is ours; anything else in it belongs to somebody else and is left alone."""
    return [path for path in folder.iterdir() if path.name.startswith(OWN_PARTS)]


def make_private(folder: Path) -> None:
    """Make the folder if it is not there, and take from others what they may read of our data. Raises FolderError.

    A folder that holds other things too (somebody's home, say) keeps its own permissions.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
        ours = own_parts(folder)
        if len(ours) == sum(1 for _ in folder.iterdir()):
            ours.append(folder)
        for path in [*ours, *(inner for part in ours if part != folder and part.is_dir() for inner in part.rglob("*"))]:
            with contextlib.suppress(FileNotFoundError):  # a draft of another process
                if not path.is_symlink() and path.stat().st_mode & 0o077:
                    path.chmod(FOLDER_MODE if path.is_dir() else FILE_MODE)
    except OSError as error:
        raise FolderError(
            f"the data folder {folder} cannot be used: {error.strerror or error}; choose another with --data DIR"
        ) from None


@contextmanager
def locked(folder: Path) -> Iterator[None]:
    """Hold the folder for this process. Raises FolderError if another process holds it; a killed one holds nothing."""
    make_private(folder)
    try:
        file = open_private(folder / LOCK, "a")
    except OSError as error:
        raise FolderError(f"{folder} cannot be written to: {error.strerror}; choose another with --data DIR") from None
    with file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            holder = (folder / LOCK).read_text().strip()
            who = f" (process {holder})" if holder else ""
            raise FolderError(
                f"another Open Acorn{who} is using {folder}; stop it first, or choose another folder with --data DIR"
            ) from None
        file.truncate(0)
        file.write(f"{os.getpid()}\n".encode())
        file.flush()
        yield
