"""Backups by the clock: made while the application runs, tried out, encrypted (age, age-encryption.org/v1), the oldest deleted."""

import asyncio
import logging
import re
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pyrage

from openacorn.clock import now, utc_now
from openacorn.db.backup import BackupError, make_backup, restore_backup
from openacorn.db.database import Database
from openacorn.db.folder import FOLDER_MODE, drafted, open_private
from openacorn.errors import Conflict, InvalidInput
from openacorn.runs.recurring import Recurring
from openacorn.runs.store import schedules
from openacorn.settings import Settings

EVERY = {"day": timedelta(days=1), "week": timedelta(days=7)}
LOOKED_S = 300.0
"""Between two looks whether a backup is due; after one that failed, an hour."""

AGAIN_S = 3600.0
NAME = re.compile(r"^open-acorn-(\d{4}-\d\d-\d\d-\d{6})\.zip\.age$")
MAGIC = b"age-encryption.org/v1"
log = logging.getLogger(__name__)


class NoBackupKey(Conflict):
    """There is no key to encrypt backups for."""

    where = "backup_key"
    remedy = "make a key under Backups in Settings"


class BackupFailed(Conflict):
    """A backup could not be made, or the one that was made could not be opened."""

    where = "backup_folder"
    remedy = "make room, or choose another folder under Backups in Settings"


class WrongBackupKey(InvalidInput):
    """A key that does not open this backup."""

    where = "key"
    remedy = "give the key that was shown when it was made: a line that begins with AGE-SECRET-KEY-"


@dataclass(frozen=True, slots=True)
class KeptBackup:
    """One of the backups there are."""

    name: str
    at: str
    bytes: int


def new_key() -> tuple[str, str]:
    """(the lock that backups are encrypted with, the key that opens them: shown once, kept nowhere here)."""
    key = pyrage.x25519.Identity.generate()
    return str(key.to_public()), str(key)


def folder_of(data: Path, settings: Settings) -> Path:
    """Where backups are put."""
    return Path(settings.backup_folder) if settings.backup_folder else data / "acorn-backups"


def kept_backups(folder: Path) -> list[KeptBackup]:
    """The backups in a folder, the newest first."""
    found = []
    with suppress(OSError):
        for path in folder.iterdir():
            if (name := NAME.match(path.name)) and path.is_file():
                made = datetime.strptime(name[1], "%Y-%m-%d-%H%M%S").replace(tzinfo=UTC)
                found.append(KeptBackup(path.name, made.isoformat(timespec="seconds"), path.stat().st_size))
    return sorted(found, key=lambda one: one.at, reverse=True)


def make_encrypted(data: Path, settings: Settings) -> KeptBackup:
    """Make a backup, try it out, encrypt it, and delete the oldest. Raises NoBackupKey, BackupFailed."""
    if not settings.backup_key:
        raise NoBackupKey("backups are encrypted, and there is no key yet")
    folder = folder_of(data, settings)
    name = f"open-acorn-{now():%Y-%m-%d-%H%M%S}.zip.age"
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
        with tempfile.TemporaryDirectory(dir=data, prefix=".acorn-backup-") as place:
            plain = Path(place) / "plain.zip"
            make_backup(data, plain)
            restore_backup(plain, Path(place) / "trial")
            with drafted(folder / name) as draft, plain.open("rb") as source, open_private(draft) as target:
                pyrage.encrypt_io(source, target, [pyrage.x25519.Recipient.from_str(settings.backup_key)])
    except (OSError, BackupError) as error:
        raise BackupFailed(f"no backup was made: {error}") from None
    kept = kept_backups(folder)
    for old in kept[settings.backup_keep :]:
        with suppress(OSError):
            (folder / old.name).unlink()
    return next(one for one in kept if one.name == name)


def is_encrypted(path: Path) -> bool:
    """Is it a file in the age format?"""
    with path.open("rb") as file:
        return file.read(len(MAGIC)) == MAGIC


def decrypt(source: Path, target: Path, key: str) -> None:
    """Write what is in an encrypted backup. Raises WrongBackupKey."""
    line = next((line.strip() for line in key.splitlines() if line.strip().startswith("AGE-SECRET-KEY-")), "")
    try:
        identity = pyrage.x25519.Identity.from_str(line)
        with source.open("rb") as file, open_private(target) as out:
            pyrage.decrypt_io(file, out, [identity])
    except (pyrage.IdentityError, pyrage.DecryptError, OSError):
        target.unlink(missing_ok=True)
        raise WrongBackupKey(f"this key does not open {source.name}, or the file is damaged") from None


@contextmanager
def opened(path: Path, key_file: Path | None, data: Path) -> Iterator[Path]:
    """A backup that can be put back: the file itself, or what is in it while the block lasts. Raises WrongBackupKey."""
    if not path.is_file() or not is_encrypted(path):
        yield path
        return
    if key_file is None:
        raise WrongBackupKey(f"{path.name} is encrypted; name the file with its key by --key")
    data.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    with tempfile.TemporaryDirectory(dir=data, prefix=".acorn-opening-") as place:
        plain = Path(place) / "plain.zip"
        decrypt(path, plain, key_file.read_text(encoding="utf-8"))
        yield plain


def is_due(data: Path, settings: Settings) -> bool:
    """Is the last one older than the settings say?"""
    every = EVERY.get(settings.backup_every)
    if every is None:
        return False
    newest = next(iter(kept_backups(folder_of(data, settings))), None)
    return newest is None or now() - datetime.fromisoformat(newest.at) >= every


def back_up_if_due(data: Path, database: Database, settings: Settings) -> bool:
    """Make a backup if one is due; False if that failed, which a notice says."""
    if not is_due(data, settings):
        return True
    try:
        make_encrypted(data, settings)
    except (NoBackupKey, BackupFailed) as error:
        log.warning("%s", error)
        with database.write() as conn:
            schedules.add_notice(conn, utc_now(), f"Backup: {error}", None, trouble=True)
        return False
    return True


class BackingUp(Recurring):
    """Looks now and then whether a backup is due, while the application runs."""

    def __init__(self, folder: Path, database: Database, settings: Settings) -> None:
        super().__init__("no backup could be made", LOOKED_S)
        self._folder, self._database, self._settings = folder, database, settings

    async def _round(self) -> float:
        fine = await asyncio.to_thread(back_up_if_due, self._folder, self._database, self._settings)
        return LOOKED_S if fine else AGAIN_S
