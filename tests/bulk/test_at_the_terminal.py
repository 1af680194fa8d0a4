"""`./acorn everything`: out, in, and what a person is told who mistypes."""

import json
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest

from tests.application import ROOT
from tests.bulk.test_odd_lines import HEADER, WHOLE, named

pytestmark = pytest.mark.world


def acorn(*words: str | Path) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "openacorn.cli", "everything", *map(str, words)]
    return subprocess.run(command, capture_output=True, text=True, cwd=ROOT, timeout=120, check=False)


@pytest.fixture
def file(tmp_path: Path) -> Path:
    path = tmp_path / "theirs.ndjson"
    lines = [HEADER, WHOLE, named(WHOLE, 11), {"colour": "red"}]
    path.write_text("\n".join(map(json.dumps, lines)), encoding="utf-8")
    return path


def test_in_and_out_again(file: Path, tmp_path: Path) -> None:
    data = tmp_path / "data"
    done = acorn("import", file, "--data", data)
    assert done.returncode == 0, done.stderr
    assert "line 4: " in done.stdout
    assert "2 businesses taken in, 2 of them new; 1 lines refused" in done.stdout
    for name in ("all.ndjson", "all.sqlite"):
        done = acorn("export", tmp_path / name, "--data", data)
        assert done.returncode == 0, done.stderr
        assert "2 businesses; it holds people's names" in done.stdout
        assert (tmp_path / name).stat().st_mode & 0o077 == 0, "for its owner alone"
    lines = [json.loads(line) for line in (tmp_path / "all.ndjson").read_text().splitlines()]
    assert {line["business"]["name"] for line in lines[1:]} == {"Gullhaven Vets", "Vets of Pier 11"}
    assert lines[1]["history"] == WHOLE["history"]
    with closing(sqlite3.connect(tmp_path / "all.sqlite")) as conn:
        assert conn.execute("SELECT count(*) FROM won").fetchone()[0] == 2
        assert conn.execute("SELECT value FROM about WHERE name = 'open_acorn'").fetchone()[0] == "1"
    again = acorn("import", tmp_path / "all.ndjson", "--data", data)
    assert "2 businesses taken in, 0 of them new" in again.stdout


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("export", "x.ndjson", "--data", "{tmp}/nowhere"), "there is no data in"),
        (("import", "{tmp}/missing.ndjson", "--data", "{tmp}/data"), "cannot be read"),
        (("import", "{tmp}/notes.txt", "--data", "{tmp}/data"), "its first line does not say"),
    ],
)
def test_a_mistake_is_one_line_and_changes_nothing(tmp_path: Path, words: tuple[str, ...], said: str) -> None:
    (tmp_path / "notes.txt").write_text("Dear diary\n", encoding="utf-8")
    done = acorn(*(word.format(tmp=tmp_path) for word in words))
    assert done.returncode == 1
    assert said in done.stderr
    assert "Traceback" not in done.stderr
    assert not (tmp_path / "nowhere").exists()
