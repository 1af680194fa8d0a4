"""Set-up steps: done once, done again when what they stand on changes, and explained when they fail."""

import subprocess
import sys
from pathlib import Path

import pytest

from openacorn import bootstrap
from openacorn.bootstrap import SetupError
from openacorn.cli import app


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


def test_every_command_of_the_usage_is_one_that_runs() -> None:
    documented = {
        line.split()[0] for line in bootstrap.USAGE.splitlines() if line.startswith("  ") and not line.startswith("   ")
    }
    assert documented == bootstrap.NEEDS_PAGES | bootstrap.NEEDS_PYTHON
    assert documented - {"test"} == {
        str(command.callback.__name__) for command in app.registered_commands if command.callback
    }
    readme = (bootstrap.ROOT / "README.md").read_text(encoding="utf-8")
    assert all(f"./acorn {command}" in readme for command in documented)
