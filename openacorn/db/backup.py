"""The whole of the data as one file: made while the application runs, checked before it is put back.

A backup is a ZIP archive: `manifest.json` (format, version of the database, SHA-256 and size of each file), the database as
one consistent copy, and every other file of the data folder.
"""

import contextlib
import hashlib
import json
import os
import shutil
import sqlite3
import zipfile
import zlib
from collections.abc import Callable, Iterator
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from openacorn.db.database import Database, DatabaseError, known_version, online_copy
from openacorn.db.folder import (
    COPIES_FOLDER,
    DATABASE,
    FOLDER_MODE,
    KEPT_ASIDE,
    LAST_BACKUP,
    LOCK,
    TABLE_COPY,
    make_private,
    open_private,
    own_parts,
    write_private,
)

FORMAT = 1
MANIFEST = "manifest.json"
ARRIVING = ".restoring"
READY = "complete"
CHUNK = 1024 * 1024
LEFT_OUT = (LOCK, LAST_BACKUP, TABLE_COPY, "world", "acorn-backups", COPIES_FOLDER, KEPT_ASIDE, ".")
"""Parts of the data folder that a backup leaves out: the lock, the demo's simulated world, backups, copies, and drafts."""

Report = Callable[[float], None]


class BackupError(Exception):
    """A backup cannot be made or put back; the message says why. Nothing was changed."""


def _kept_parts(folder: Path) -> list[Path]:
    """The parts of the data folder that a backup takes."""
    return [path for path in own_parts(folder) if not path.name.startswith(LEFT_OUT)]


def _kept_files(folder: Path) -> Iterator[Path]:
    """Every file that a backup takes, the database aside; paths relative to the folder."""
    for part in _kept_parts(folder):
        for path in [part] if part.is_file() else sorted(part.rglob("*")):
            if path.is_file() and not part.name.startswith(DATABASE):
                yield path.relative_to(folder)


def _add(pack: zipfile.ZipFile, name: str, source: Path, listed: dict[str, dict[str, Any]]) -> None:
    """Copy a file into the archive and note its digest."""
    digest, size = hashlib.sha256(), 0
    with source.open("rb") as file, pack.open(name, "w", force_zip64=True) as entry:
        while chunk := file.read(CHUNK):
            digest.update(chunk)
            size += len(chunk)
            entry.write(chunk)
    listed[name] = {"sha256": digest.hexdigest(), "bytes": size}


def make_backup(folder: Path, target: Path, report: Report = lambda _: None) -> int:
    """Write a backup of `folder` to `target`; return its size in bytes. The application may be running. Raises BackupError."""
    if not (folder / DATABASE).exists():
        raise BackupError(f"there is no data in {folder}; name the folder with --data DIR")
    if target.is_dir() or (target.exists() and target.stat().st_size and not zipfile.is_zipfile(target)):
        raise BackupError(f"{target} is there already and is no backup; choose another name")
    draft, copy = (target.with_name(f".{target.name}.{part}") for part in ("part", "db"))
    listed: dict[str, dict[str, Any]] = {}
    try:
        with open_private(draft) as out, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as pack:
            # files both before and after the database: an upload that ends meanwhile is deleted, a new one is added
            for name in _kept_files(folder):
                _add_if_there(pack, folder, name, listed)
            version = online_copy(folder / DATABASE, copy, report)
            _add(pack, DATABASE, copy, listed)
            for name in _kept_files(folder):
                if str(name) not in listed:
                    _add_if_there(pack, folder, name, listed)
            about = {"format": FORMAT, "database": version, "made_at": datetime.now(UTC).isoformat(), "files": listed}
            pack.writestr(MANIFEST, json.dumps(about, indent=1))
        os.replace(draft, target)
        with contextlib.suppress(OSError):
            write_private(folder / LAST_BACKUP, str(about["made_at"]).encode())
    except (OSError, DatabaseError, sqlite3.Error) as error:
        raise BackupError(f"the backup could not be written to {target}: {error}") from None
    finally:
        draft.unlink(missing_ok=True)
        copy.unlink(missing_ok=True)
    return target.stat().st_size


def _add_if_there(pack: zipfile.ZipFile, folder: Path, name: Path, listed: dict[str, dict[str, Any]]) -> None:
    if (folder / name).exists():
        _add(pack, str(name), folder / name, listed)


def _manifest(pack: zipfile.ZipFile, source: Path) -> dict[str, dict[str, Any]]:
    """The files that the backup lists. Raises BackupError if it is not from this program, damaged, or newer."""
    try:
        about = json.loads(pack.read(MANIFEST))
        form, version, files = int(about["format"]), int(about["database"]), dict(about["files"])
    except (KeyError, ValueError, TypeError, zipfile.BadZipFile, zlib.error):
        raise BackupError(f"{source} is no backup of this program, or is damaged; nothing was changed") from None
    if form > FORMAT or version > known_version():
        raise BackupError(
            f"{source} was made by a newer version of this program (database {version}, known here {known_version()}); "
            "update the program first; nothing was changed"
        )
    strange = [name for name in files if Path(name).is_absolute() or ".." in Path(name).parts]
    if strange or DATABASE not in files:
        raise BackupError(
            f"{source} lists files that no backup holds ({strange[:1] or 'no database'}); nothing was changed"
        )
    return files


def _unpack(pack: zipfile.ZipFile, files: dict[str, dict[str, Any]], into: Path, source: Path, report: Report) -> None:
    """Unpack every listed file and compare it with its digest. Raises BackupError."""
    whole, done = sum(int(about["bytes"]) for about in files.values()) or 1, 0
    for name, about in files.items():
        path, digest = into / name, hashlib.sha256()
        path.parent.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
        try:
            with pack.open(name) as entry, open_private(path) as out:
                while chunk := entry.read(CHUNK):
                    digest.update(chunk)
                    out.write(chunk)
                    done += len(chunk)
                    report(done / whole)
            fault = "" if digest.hexdigest() == about["sha256"] else "its content is not what was written"
        except (KeyError, EOFError, zipfile.BadZipFile, zlib.error) as error:
            fault = str(error)
        if fault:
            raise BackupError(f"{source} is damaged: {name}: {fault}; nothing was changed")


def restore_backup(source: Path, folder: Path, report: Report = lambda _: None) -> Path | None:
    """Put a backup back into `folder`, which nobody may be using; return where what stood there before was put.

    Raises BackupError if the file is damaged, newer, or not from this program; nothing is changed then.
    """
    make_private(folder)
    arriving = folder / ARRIVING
    shutil.rmtree(arriving, ignore_errors=True)
    try:
        with zipfile.ZipFile(source) as pack:
            files = _manifest(pack, source)
            _unpack(pack, files, arriving / "files", source, report)
        with closing(sqlite3.connect(arriving / "files" / DATABASE)) as conn:
            verdict = str(conn.execute("PRAGMA quick_check(1)").fetchone()[0])
        if verdict != "ok":
            raise BackupError(f"{source} is damaged: {DATABASE}: {verdict}; nothing was changed")
        (arriving / READY).touch()
    except BackupError:
        shutil.rmtree(arriving, ignore_errors=True)
        raise
    except (OSError, zipfile.BadZipFile, sqlite3.Error) as error:
        shutil.rmtree(arriving, ignore_errors=True)
        raise BackupError(f"{source} cannot be read as a backup: {error}; nothing was changed") from None
    return finish_restore(folder)


def finish_restore(folder: Path) -> Path | None:
    """Move a completely unpacked backup into place; go on with that if a crash came in between. Returns where the earlier
    data was put, None if there was none or nothing to finish."""
    arriving = folder / ARRIVING
    if not (arriving / READY).exists():
        return None
    name, _, aside_done = (arriving / READY).read_text().partition("\n")
    aside = folder / (name or f"{KEPT_ASIDE}-{datetime.now():%Y%m%d-%H%M%S}")
    if not aside_done:
        write_private(arriving / READY, aside.name.encode())
        for path in _kept_parts(folder):
            aside.mkdir(exist_ok=True, mode=FOLDER_MODE)
            os.replace(path, aside / path.name)
        write_private(arriving / READY, f"{aside.name}\nmoved aside".encode())
    for path in list((arriving / "files").iterdir()):
        os.replace(path, folder / path.name)
    shutil.rmtree(arriving)
    make_private(folder)
    Database(folder / DATABASE).close()  # bring an older one up to date now
    return aside if aside.exists() else None
