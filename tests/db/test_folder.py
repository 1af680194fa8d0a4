"""The data folder: private, held by one process, and safe against half-written files; backups made under load and put back."""

import contextlib
import json
import os
import sqlite3
import subprocess
import sys
import threading
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from openacorn.business.store import shortlists
from openacorn.db import secrets
from openacorn.db.backup import BackupError, finish_restore, make_backup, restore_backup
from openacorn.db.database import Database, DatabaseDamaged, known_version, migrations
from openacorn.db.folder import FolderError, locked, make_private, write_private
from openacorn.settings import Settings
from openacorn.settings_file import save_settings

HOLD = "import sys, time; from openacorn.db.folder import locked; from pathlib import Path\nwith locked(Path(sys.argv[1])): print('held', flush=True); time.sleep(60)"


def modes(folder: Path) -> dict[str, str]:
    return {str(path.relative_to(folder)): oct(path.stat().st_mode & 0o777) for path in sorted(folder.rglob("*"))}


def test_the_folder_is_its_owners_alone_and_what_is_not_ours_is_left_alone(tmp_path: Path) -> None:
    data = tmp_path / "data"
    save_settings(data, Settings())
    Database(data / "acorn.db").close()
    assert data.stat().st_mode & 0o777 == 0o700
    assert set(modes(data).values()) == {"0o600"}
    home = tmp_path / "home"
    home.mkdir(mode=0o755)
    (home / "letter.txt").write_text("mine")
    (home / "letter.txt").chmod(0o644)
    (home / "acorn.db").touch(0o644)
    make_private(home)
    assert (home.stat().st_mode & 0o777, modes(home)) == (0o755, {"acorn.db": "0o600", "letter.txt": "0o644"})


def test_one_process_holds_the_folder_and_a_killed_one_holds_nothing(tmp_path: Path) -> None:
    holder = subprocess.Popen(
        [sys.executable, "-c", HOLD, str(tmp_path)],
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "PYTHONPATH": "."},
    )
    assert holder.stdout is not None
    assert holder.stdout.readline() == "held\n"
    with (
        pytest.raises(FolderError, match=rf"another Open Acorn \(process {holder.pid}\) is using .*; stop it first"),
        locked(tmp_path),
    ):
        pass
    holder.kill()
    holder.communicate()
    with locked(tmp_path):
        pass


def test_a_write_that_fails_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    write_private(tmp_path / "secret.key", b"old")
    monkeypatch.setattr(os, "fsync", lambda _: (_ for _ in ()).throw(OSError(28, "No space left on device")))
    with pytest.raises(OSError, match="No space"):
        write_private(tmp_path / "secret.key", b"new")
    assert [(path.name, path.read_bytes()) for path in tmp_path.iterdir()] == [("secret.key", b"old")]


def test_an_empty_key_of_a_crash_is_replaced_and_a_damaged_one_is_named(database: Database, tmp_path: Path) -> None:
    (tmp_path / "secret.key").touch()
    with database.write() as conn:
        secrets.keep(conn, tmp_path, "directory:1", "s3cret", "now")
        assert secrets.reveal(conn, tmp_path, "directory:1") == "s3cret"
        (tmp_path / "secret.key").write_bytes(b"half a k")
        with pytest.raises(secrets.SealBroken, match=r"secret\.key is damaged"):
            secrets.keep(conn, tmp_path, "directory:2", "x", "now")


def filled(folder: Path) -> Database:
    """A data folder with every part that a backup takes."""
    save_settings(folder, Settings(agency="Wrenfold Studio"))
    (folder / "imports").mkdir()
    (folder / "imports" / "7").write_bytes(os.urandom(50_000))
    database = Database(folder / "acorn.db")
    with database.write() as conn:
        secrets.keep(conn, folder, "directory:1", "s3cret", "now")
        conn.execute("CREATE TABLE picture_like (id INTEGER PRIMARY KEY, body BLOB)")
        conn.executemany("INSERT INTO picture_like (body) VALUES (?)", ((os.urandom(40_000),) for _ in range(100)))
    return database


def dump(path: Path) -> list[str]:
    with sqlite3.connect(path) as conn:
        return list(conn.iterdump())


def test_a_backup_under_load_restored_elsewhere_is_equal_by_content(tmp_path: Path) -> None:
    """One moment of the data while another thread writes pairs: no pair may be torn, and nothing else may differ."""
    database, ended = filled(tmp_path / "data"), threading.Event()

    def write_pairs() -> None:
        number = 0
        while not ended.is_set():
            number += 1
            with database.write() as conn:
                for half in ("left", "right"):
                    shortlists.add_shortlist(conn, f"{half} {number}", "now")

    writer = threading.Thread(target=write_pairs)
    writer.start()
    shares: list[float] = []
    try:
        make_backup(tmp_path / "data", tmp_path / "first.acorn", shares.append)
    finally:
        ended.set()
        writer.join()
    assert shares[-1] == 1.0
    make_backup(tmp_path / "data", tmp_path / "second.acorn")
    assert (tmp_path / "second.acorn").stat().st_mode & 0o777 == 0o600
    assert restore_backup(tmp_path / "first.acorn", tmp_path / "one") is None
    restore_backup(tmp_path / "second.acorn", tmp_path / "two")
    names = [str(row) for row in dump(tmp_path / "one" / "acorn.db") if 'INTO "shortlist"' in row]
    assert sum("'left" in name for name in names) == sum("'right" in name for name in names)
    assert dump(tmp_path / "two" / "acorn.db") == dump(tmp_path / "data" / "acorn.db")
    for name in ("settings.json", "secret.key", "imports/7"):
        assert (tmp_path / "two" / name).read_bytes() == (tmp_path / "data" / name).read_bytes()
    assert (tmp_path / "two").stat().st_mode & 0o777 == 0o700
    restored = Database(tmp_path / "two" / "acorn.db")
    with restored.read() as conn:
        assert secrets.reveal(conn, tmp_path / "two", "directory:1") == "s3cret"
    restored.close()
    database.close()


def _newer(path: Path) -> None:
    with zipfile.ZipFile(path) as pack:
        parts = {name: pack.read(name) for name in pack.namelist()}
    about = json.loads(parts["manifest.json"])
    about["database"] = known_version() + 1
    parts["manifest.json"] = json.dumps(about).encode()
    with zipfile.ZipFile(path, "w") as pack:
        for name, body in parts.items():
            pack.writestr(name, body)


def _flipped(path: Path) -> None:
    body = bytearray(path.read_bytes())
    body[len(body) // 2] ^= 0xFF
    path.write_bytes(body)


def _escaping(path: Path) -> None:
    with zipfile.ZipFile(path, "w") as pack:
        files = {name: {"sha256": "", "bytes": 1} for name in ("acorn.db", "../../evil")}
        pack.writestr("manifest.json", json.dumps({"format": 1, "database": 1, "files": files}))


UNUSABLE: list[tuple[Callable[[Path], object], str]] = [
    (_newer, "made by a newer version"),
    (_flipped, "damaged"),
    (lambda path: path.write_bytes(path.read_bytes()[:5000]), "cannot be read as a backup|no backup"),
    (lambda path: path.write_text("my notes"), "cannot be read as a backup"),
    (lambda path: zipfile.ZipFile(path, "w").close(), "no backup of this program"),
    (lambda path: path.unlink(), "No such file"),
    (_escaping, "lists files that no backup holds"),
]


@pytest.mark.parametrize(("damage", "says"), UNUSABLE, ids=[says for _, says in UNUSABLE])
def test_an_unusable_backup_is_refused_and_what_was_there_stays(
    damage: Callable[[Path], object], says: str, tmp_path: Path
) -> None:
    filled(tmp_path / "data").close()
    make_backup(tmp_path / "data", tmp_path / "b.acorn")
    damage(tmp_path / "b.acorn")
    before = {path: path.read_bytes() for path in (tmp_path / "data").rglob("*") if path.is_file()}
    with pytest.raises(BackupError, match=says):
        restore_backup(tmp_path / "b.acorn", tmp_path / "data")
    assert {path: path.read_bytes() for path in (tmp_path / "data").rglob("*") if path.is_file()} == before
    assert not (tmp_path / "evil").exists()


@pytest.mark.parametrize("killed_after", [0, 1, 2, 3, 4, 5, 6])
def test_a_restore_that_is_killed_halfway_is_finished_at_the_next_start(
    killed_after: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    filled(tmp_path / "new").close()
    make_backup(tmp_path / "new", tmp_path / "b.acorn")
    old = filled(tmp_path / "data")
    with old.write() as conn:
        shortlists.add_shortlist(conn, "the old one", "now")
    old.close()
    moved, real = list[Path](), os.replace

    def replace(source: Path, target: Path) -> None:
        if Path(source).parent.name != "files" and ".acorn-" not in Path(source).name and len(moved) >= killed_after:
            raise KeyboardInterrupt
        moved.append(source)
        real(source, target)

    monkeypatch.setattr(os, "replace", replace)
    with contextlib.suppress(KeyboardInterrupt):
        restore_backup(tmp_path / "b.acorn", tmp_path / "data")
    monkeypatch.setattr(os, "replace", real)
    finish_restore(tmp_path / "data")
    assert dump(tmp_path / "data" / "acorn.db") == dump(tmp_path / "new" / "acorn.db")
    (aside,) = (tmp_path / "data").glob("before-restore-*")
    assert any("the old one" in line for line in dump(aside / "acorn.db"))
    assert finish_restore(tmp_path / "data") is None


def test_a_backup_writes_over_no_foreign_file_and_needs_data(tmp_path: Path) -> None:
    with pytest.raises(BackupError, match="there is no data in"):
        make_backup(tmp_path, tmp_path / "b")
    filled(tmp_path / "data").close()
    (tmp_path / "thesis.doc").write_text("years of work")
    with pytest.raises(BackupError, match="is there already and is no backup"):
        make_backup(tmp_path / "data", tmp_path / "thesis.doc")
    assert (tmp_path / "thesis.doc").read_text() == "years of work"
    make_backup(tmp_path / "data", tmp_path / "b.acorn")
    make_backup(tmp_path / "data", tmp_path / "b.acorn")


def test_a_copy_is_made_before_a_migration_and_a_garbage_database_is_named(tmp_path: Path) -> None:
    path = tmp_path / "acorn.db"
    with contextlib.closing(sqlite3.connect(path)) as earlier:  # as the version before this one left it
        for file in migrations()[:-1]:
            earlier.executescript(file.read_text())
        earlier.execute("INSERT INTO shortlist (name, created_at) VALUES ('kept', 'now')")
        earlier.execute(f"PRAGMA user_version = {known_version() - 1}")
        earlier.commit()
    before = dump(path)
    Database(path).close()
    (copy,) = (tmp_path / "copies").glob(f"*-version-{known_version() - 1}.db")
    assert dump(copy) == before
    for garbage in (b"this is a letter, not a database" * 50, path.read_bytes()[:100] + b"\0" * 40_000):
        path.write_bytes(garbage)
        with pytest.raises(DatabaseDamaged, match=r"restore a backup with \./acorn restore FILE"):
            Database(path)
        assert path.read_bytes() == garbage
