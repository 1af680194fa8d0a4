"""What somebody does who has nothing of ours: clone, `./acorn demo`, audit one site, match one file, stop.

The clone is of the commit, so that what was not committed is not found by luck; its packages are installed again, from the lock
of the run-time packages alone. Only downloads may be in the caches of pip and npm.
"""

import contextlib
import json
import os
import re
import signal
import subprocess
import threading
import time
import urllib.request
from datetime import datetime
from pathlib import Path
from typing import Any

import pytest

from openacorn.sim.serve import free_ports
from tests.application import ROOT

OURS = ("PYTHON", "VIRTUAL_ENV", "ACORN", "NODE_PATH")
"""Variables of this process that would lead the clone to packages or data of ours."""

pytestmark = pytest.mark.world
STARTED_WITHIN_S = 2400
"""Packages may have to be downloaded, on a slow line; a start that fails ends at once."""
LISTINGS = "name,street,phone\nHarbour Vets,14 Harbour St,(03) 5550 1234\nGull Florist,3 Salt Rd,(03) 5550 1111\nHARBOUR VETS PTY LTD,14 Harbour Street,(03) 5550 1234\n"


def environment() -> dict[str, str]:
    """That of a machine such as container images make: Python is to write no bytecode beside sources."""
    rest = {name: value for name, value in os.environ.items() if not name.startswith(OURS)}
    return rest | {"PYTHONDONTWRITEBYTECODE": "1"}


def processes_of(folder: Path) -> list[str]:
    """Command lines of processes that run anything out of a folder, or work in it."""
    found = []
    for entry in Path("/proc").iterdir():
        try:
            command = (entry / "cmdline").read_bytes().replace(b"\0", b" ").decode("utf-8", "replace")
            if entry.name.isdigit() and (str(folder) in command or os.readlink(entry / "cwd").startswith(str(folder))):
                found.append(command)
        except OSError:
            continue  # ended meanwhile
    return found


class Demo:
    """`./acorn demo` in a clone, as the README says it, with a port of its own."""

    def __init__(self, clone: Path) -> None:
        self.clone, self.lines = clone, list[str]()
        self.port = free_ports(1)[0]
        self.process = subprocess.Popen(
            ["./acorn", "demo", "--port", str(self.port)], cwd=clone, env=environment(), stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, start_new_session=True,
        )  # fmt: skip
        self._reading = threading.Thread(target=self._read, daemon=True)
        self._reading.start()

    def _read(self) -> None:
        assert self.process.stdout is not None
        for line in self.process.stdout:
            self.lines.append(line)

    def address(self) -> str:
        """The address it prints, waited for."""
        until = time.monotonic() + STARTED_WITHIN_S
        while time.monotonic() < until and self.process.poll() is None:
            for line in list(self.lines):
                if found := re.search(r"http://\S+/", line):
                    return found.group()
            time.sleep(0.1)
        raise AssertionError(f"no address was printed (exit {self.process.poll()}):\n{''.join(self.lines)}")

    def stop(self) -> None:
        """What Ctrl-C at a terminal does: an interrupt to the whole foreground group."""
        if self.process.poll() is None:
            os.killpg(self.process.pid, signal.SIGINT)
        self.process.wait(60)
        self._reading.join(5)


@pytest.fixture(scope="module")
def clone(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("stranger") / "open-acorn"
    subprocess.run(["git", "clone", "-q", "--no-hardlinks", str(ROOT), str(folder)], check=True, env=environment())
    return folder


def run(clone: Path, *command: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        ["./acorn", *command], cwd=clone, env=environment(), capture_output=True, text=True, timeout=300
    )


def get(url: str) -> Any:
    with urllib.request.urlopen(url, timeout=60) as answer:
        return json.load(answer)


def assert_lived_in(address: str) -> None:
    """The demo is an agency in its second month: what it has done can be seen everywhere."""
    months = {run["started_at"][:7] for run in get(f"{address}api/runs")}
    assert len(months) > 1
    boards = [get(f"{address}api/shortlists/{item['id']}/board") for item in get(f"{address}api/shortlists")]
    stages = {card["stage"] for board in boards for card in board["members"]}
    assert (len(boards), {"picked", "contacted", "talking", "proposed", "won", "lost"} - stages) == (4, set())
    assert get(f"{address}api/inbox")["arrived"], "somebody has answered a message"
    assert get(f"{address}api/queue?states=sent")["total"] > 0
    today = datetime.now().astimezone().date().isoformat()
    assert any(call["follow_up"] == today for call in get(f"{address}api/calls"))
    learnt = get(f"{address}api/win-model")["services"]
    assert sum(service["trials"] for service in learnt) >= 50
    assert any(service["learnt"] != service["prior"] for service in learnt)
    assert len(get(f"{address}api/replies")["replies"]) == 2
    assert get(f"{address}api/duplicates")["total"] >= 1
    runs = {run["id"]: run["sweep"] for run in get(f"{address}api/runs") if run["state"] == "done"}
    first, again = sorted(number for number, sweep in runs.items() if sweep.startswith("Opticians"))
    assert sum(get(f"{address}api/runs/{again}/compare/{first}")["counts"].values()) > 0


def assert_left_for_nothing(address: str) -> None:
    """One request ends the demo, and the same address opens an installation of one's own that nobody has set up yet."""
    assert (get(f"{address}api/status")["demo"], get(f"{address}api/status")["own_data"]) == (True, False)
    asked = urllib.request.Request(
        f"{address}api/demo/leave", b"{}", {"Content-Type": "application/json"}, method="POST"
    )
    urllib.request.urlopen(asked, timeout=60).close()
    until = time.monotonic() + 60
    status: Any = None
    while time.monotonic() < until and (status is None or status["demo"]):
        with contextlib.suppress(OSError):
            status = get(f"{address}api/status")
        time.sleep(0.2)
    assert (status["demo"], status["fresh"]) == (False, True)


@pytest.mark.timeout(3000)
def test_the_readmes_first_commands_run_where_nothing_was_installed(clone: Path) -> None:
    assert run(clone, "--help").stdout.startswith("usage: ./acorn COMMAND")  # before anything is installed
    assert not (clone / ".venv").exists()
    demo = Demo(clone)
    try:
        address = demo.address()
        table = get(f"{address}api/businesses?limit=50&columns=name,website")  # at once: it answers when it is printed
        assert table["total"] > 100
        with urllib.request.urlopen(address, timeout=60) as page:
            assert b"<div id=" in page.read()
        assert_lived_in(address)
        assert any((clone / ".venv" / "bytecode").rglob("app_state.*.pyc")), "each start compiles everything again"
        assert not any((clone / "openacorn").rglob("*.pyc"))
        strange = [line for line in demo.lines if not line.startswith(("  ", "Open Acorn: "))]
        assert not strange, "".join(demo.lines)  # plain lines, no bar
        site = next(website for _, website in table["rows"] if website)
        audited = run(clone, "audit", site, "--json")
        assert audited.returncode == 0, audited.stderr
        assert json.loads(audited.stdout)[0]["outcome_by_check"]["answers"]["outcome"]
        (clone / "listings.csv").write_text(LISTINGS)
        matched = run(clone, "match", "listings.csv", "--json")
        assert matched.returncode == 0, matched.stderr
        assert sorted(item["rows"] for item in json.loads(matched.stdout)) == [[0, 2], [1]]
    finally:
        demo.stop()
    assert demo.process.returncode == 0, demo.lines
    assert processes_of(clone) == []


@pytest.mark.timeout(600)
def test_the_second_start_installs_nothing_and_a_kill_leaves_nothing_behind(clone: Path) -> None:
    demo = Demo(clone)
    try:
        address = demo.address()
        assert not any("packages" in line for line in demo.lines)
        assert_left_for_nothing(address)
    finally:
        demo.process.kill()
        demo.process.wait()
    for _ in range(600):
        if not processes_of(clone):
            break
        time.sleep(0.1)
    assert processes_of(clone) == []
