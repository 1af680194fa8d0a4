"""Set-up steps: done once, done again when what they stand on changes, and explained when they fail."""

import contextlib
import os
import pty
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from typer.main import get_command

from bench import BENCHES
from openacorn import bootstrap
from openacorn.bootstrap import SetupError
from openacorn.cli import app
from openacorn.usage import commands


def test_a_step_runs_once_and_again_when_its_ground_changes(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    stamp, log = tmp_path / "stamp", tmp_path / "log"
    command = [[sys.executable, "-c", f"open({str(log)!r}, 'a').write('x')"]]
    for state in ("one", "one", "two"):
        bootstrap._step("a thing", stamp, state, command, tmp_path)
    assert log.read_text() == "xx"
    assert capsys.readouterr().err.count("a thing …") == 2


def test_a_step_that_fails_shows_its_output_and_is_not_taken_as_done(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    stamp = tmp_path / "stamp"
    command = [[sys.executable, "-c", "print('the reason'); raise SystemExit(3)"]]
    with pytest.raises(SetupError, match=r"a thing failed: .* \(exit 3\)"):
        bootstrap._step("a thing", stamp, "one", command, tmp_path)
    assert "the reason" in capsys.readouterr().err
    assert not stamp.exists()


@pytest.mark.parametrize(
    ("answer", "says"),
    [(None, "was not found"), ("v18.20.1\n", "this is v18.20.1"), ("v20.1.0\n", None), ("v22.0.0\n", None)],
)
def test_a_missing_or_old_node_is_named(answer: str | None, says: str | None, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("openacorn.bootstrap.shutil.which", lambda name: f"/usr/bin/{name}" if answer else None)
    monkeypatch.setattr(
        "openacorn.bootstrap.subprocess.run", lambda *_, **__: subprocess.CompletedProcess([], 0, answer, "")
    )
    if says is None:
        bootstrap._check_node()
        return
    with pytest.raises(SetupError, match=says):
        bootstrap._check_node()


def test_without_root_the_line_to_run_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(
        "openacorn.bootstrap.shutil.which", lambda name: "/usr/bin/apt-get" if name == "apt-get" else None
    )
    monkeypatch.setattr("openacorn.bootstrap.os.geteuid", lambda: 1000)
    with pytest.raises(SetupError, match="run as root: apt-get update && apt-get install -y chromium chromium-driver"):
        bootstrap.set_up_browser()


def test_locks_carry_no_addresses() -> None:
    for name in (
        "requirements.lock",
        "requirements-dev.lock",
        "web/package-lock.json",
        "tests/references/package-lock.json",
    ):
        text = (bootstrap.ROOT / name).read_text(encoding="utf-8")
        assert '"resolved"' not in text
        assert "--index" not in text
        assert "@ http" not in text


def test_the_help_lists_every_command_and_flag() -> None:
    """The help is read from the source, since nothing is installed when it is first asked for; typer says what is there."""
    listed = {command.name: command.synopsis for command in commands()}
    registered: dict[str, Any] = dict(get_command(app).commands)  # type: ignore[attr-defined]
    for group in ("user", "everything"):
        registered |= {f"{group} {name}": command for name, command in registered.pop(group).commands.items()}
    assert set(listed) == set(registered)
    for name, command in registered.items():
        flags = [option.opts[0] for option in command.params if option.opts[0].startswith("--")]
        assert all(flag in listed[name] for flag in flags if flag != "--help"), name
    assert set(listed["bench"].split()[0].strip("[]").split("|")) == set(BENCHES)
    readme = (bootstrap.ROOT / "README.md").read_text(encoding="utf-8")
    assert all(f"./acorn {command}" in readme for command in listed)


def test_what_is_imported_is_declared_and_what_is_declared_is_imported() -> None:
    done = subprocess.run(
        [sys.executable, "-m", "deptry", ".", "--no-ansi"], cwd=bootstrap.ROOT, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr


def shown(terminal: bool) -> str:
    """What two updates of a step look like, on a terminal (a real one, `pty`) or in a file."""
    script = (
        "import time; from openacorn import progress; progress.LINE_EVERY_S = 0.3\n"
        "with progress.step('first sweep') as step:\n"
        "    step.update(0.5, '188 of 376'); time.sleep(0.5); step.update(1.0, '376 of 376')"
    )
    command = [sys.executable, "-c", script]
    if not terminal:
        return subprocess.run(command, cwd=bootstrap.ROOT, capture_output=True, text=True).stderr
    main, side = pty.openpty()
    subprocess.run(command, cwd=bootstrap.ROOT, stderr=side)
    os.close(side)
    with contextlib.suppress(OSError), os.fdopen(main, "rb") as file:
        return file.read1(100_000).decode()
    return ""


def test_progress_is_a_bar_on_a_terminal_and_plain_lines_elsewhere() -> None:
    lines = shown(terminal=False).splitlines()
    assert lines[0] == "  first sweep …"
    assert re.fullmatch(r"  first sweep: 188 of 376, \d+ s so far", lines[1])
    assert lines[-1].startswith("  first sweep: 376 of 376, done in ")
    assert not any("\r" in line or "━" in line for line in lines)
    drawn = shown(terminal=True)
    assert "━━━━━━━━━━━━────────────" in drawn
    assert drawn.count("\r") > 2
