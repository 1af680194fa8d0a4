"""Backups by the clock: encrypted so that this machine cannot open them, tried out, the oldest deleted, put back by their key."""

import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import timedelta
from pathlib import Path

import pyrage
import pytest

from openacorn.agency import backing_up
from openacorn.agency.backing_up import (
    BackupFailed,
    NoBackupKey,
    WrongBackupKey,
    back_up_if_due,
    decrypt,
    is_due,
    is_encrypted,
    kept_backups,
    make_encrypted,
    new_key,
)
from openacorn.clock import now
from openacorn.db.database import Database
from openacorn.db.folder import DATABASE
from openacorn.runs.store import schedules
from openacorn.settings import Settings
from tests.application import ROOT


@pytest.fixture
def data(tmp_path: Path) -> Path:
    folder = tmp_path / "data"
    with closing(Database(folder / DATABASE)) as database, database.write() as conn:
        conn.execute("INSERT INTO shortlist (name, created_at) VALUES ('Gullhaven, first calls', '2026-11-30')")
    return folder


@pytest.fixture
def keyed() -> tuple[Settings, str]:
    lock, key = new_key()
    return Settings(backup_every="day", backup_key=lock, backup_keep=2), key


def test_what_is_written_only_the_key_opens(data: Path, keyed: tuple[Settings, str], tmp_path: Path) -> None:
    settings, key = keyed
    made = make_encrypted(data, settings)
    path = data / "acorn-backups" / made.name
    assert is_encrypted(path)
    assert path.stat().st_mode & 0o077 == 0
    body = path.read_bytes()
    assert b"Gullhaven" not in body
    assert b"PK\x03\x04" not in body[:200]
    assert key.encode() not in b"".join(one.read_bytes() for one in data.rglob("*") if one.is_file()), (
        "the key is nowhere here"
    )
    whole = pyrage.decrypt(body, [pyrage.x25519.Identity.from_str(key)])
    assert whole.startswith(b"PK\x03\x04"), "any program for the format opens it"
    with pytest.raises(WrongBackupKey):
        decrypt(path, tmp_path / "x.zip", new_key()[1])
    with pytest.raises(WrongBackupKey):
        decrypt(path, tmp_path / "x.zip", "what is this?")
    assert not (tmp_path / "x.zip").exists()
    path.write_bytes(body[:-20])
    with pytest.raises(WrongBackupKey):
        decrypt(path, tmp_path / "x.zip", key)
    assert not list(data.glob(".acorn-*")), "nothing unencrypted is left"


def test_put_back_at_the_terminal(data: Path, keyed: tuple[Settings, str], tmp_path: Path) -> None:
    settings, key = keyed
    path = data / "acorn-backups" / make_encrypted(data, settings).name
    key_file, other = tmp_path / "key.txt", tmp_path / "other"
    key_file.write_text(f"# of the desk\n{key}\n", encoding="utf-8")

    def restore(*more: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "openacorn.cli", "restore", str(path), "--data", str(other), *more]
        return subprocess.run(command, capture_output=True, text=True, cwd=ROOT, timeout=120, check=False)

    refused = restore()
    assert refused.returncode != 0
    assert "--key" in refused.stderr
    done = restore("--key", str(key_file))
    assert done.returncode == 0, done.stderr
    with closing(sqlite3.connect(other / DATABASE)) as conn:
        assert conn.execute("SELECT name FROM shortlist").fetchall() == [("Gullhaven, first calls",)]
    assert not list(other.glob(".acorn-*"))


def test_one_a_day_and_the_oldest_go(data: Path, keyed: tuple[Settings, str], monkeypatch: pytest.MonkeyPatch) -> None:
    settings, _ = keyed
    with closing(Database(data / DATABASE)) as database:
        start = now()
        for hours, due in ((0, True), (1, False), (23, False), (24, True), (30, False), (49, True)):
            monkeypatch.setattr(backing_up, "now", lambda hours=hours: start + timedelta(hours=hours))
            assert is_due(data, settings) == due, hours
            assert back_up_if_due(data, database, settings)
        kept = kept_backups(data / "acorn-backups")
        assert [one.at for one in kept] == [
            (start + timedelta(hours=hours)).isoformat(timespec="seconds") for hours in (49, 24)
        ]
        settings.backup_every = "never"
        assert not is_due(data, settings)
        settings.backup_every = "week"
        monkeypatch.setattr(backing_up, "now", lambda: start + timedelta(days=10))
        assert is_due(data, settings)


def test_what_fails_is_said_and_leaves_nothing(data: Path, keyed: tuple[Settings, str], tmp_path: Path) -> None:
    settings, _ = keyed
    blocked = tmp_path / "file"
    blocked.write_text("in the way", encoding="utf-8")
    settings.backup_folder = str(blocked / "inside")
    with pytest.raises(BackupFailed):
        make_encrypted(data, settings)
    with closing(Database(data / DATABASE)) as database:
        assert not back_up_if_due(data, database, settings)
        with database.read() as conn:
            (notice,) = schedules.unseen_notices(conn)
        assert notice.text.startswith("Backup: no backup was made")
        settings.backup_key = ""
        with pytest.raises(NoBackupKey):
            make_encrypted(data, settings)
    assert not list(data.glob(".acorn-*"))


def test_a_database_that_is_damaged_makes_no_backup(data: Path, keyed: tuple[Settings, str]) -> None:
    """It is put back into a folder of its own before it is kept: a backup that cannot be opened is worse than none."""
    settings, _ = keyed
    with closing(sqlite3.connect(data / DATABASE)) as conn:
        conn.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    path = data / DATABASE
    body = bytearray(path.read_bytes())
    for page in range(20, len(body) // 4096 - 1, 3):
        body[page * 4096 : page * 4096 + 600] = b"\xa5" * 600
    path.write_bytes(bytes(body))
    with pytest.raises(BackupFailed):
        make_encrypted(data, settings)
    assert kept_backups(data / "acorn-backups") == []
