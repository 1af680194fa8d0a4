"""The commands: their flags and JSON keys are a contract; every failure is one clear line."""

import json
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import urllib.request
from collections.abc import Callable
from pathlib import Path

import pytest

from openacorn.db.database import Database
from openacorn.settings_file import save_settings
from openacorn.sim.serve import free_ports
from tests.application import NURSERY, ROOT
from tests.conftest import Coast

pytestmark = pytest.mark.world


def acorn(*arguments: str, data: Path | None = None) -> subprocess.CompletedProcess[str]:
    return NURSERY.run(list(arguments), data, within_s=120)


@pytest.fixture
def data(coast: Coast, tmp_path: Path) -> Path:
    save_settings(tmp_path, coast.settings)
    return tmp_path


@pytest.mark.world
def test_audit_prints_the_contracts_keys(coast: Coast, data: Path) -> None:
    sites = [
        row
        for row in coast.read("sites.json")
        if row["transport"] == "ok"
        and row["look"] == "modern"
        and row["email_where"] == "home"
        and row["email_how"] == "link"
    ]
    site = sites[0]
    done = acorn("audit", site["host"], "no-such-name.example", "--json", data=data)
    assert (done.returncode, done.stderr) == (0, "")
    first, second = json.loads(done.stdout)
    assert first["url"] == site["host"]
    assert first["final_url"] == f"https://{site['host']}/"
    assert set(first["outcome_by_check"]["title"]) == {"outcome", "value", "evidence", "reason"}
    assert first["contacts"]["emails"] == [site["email"]]
    assert set(first["contacts"]) == {"emails", "phones", "socials"}
    assert first["timing"]["total_s"] > 0
    assert second["outcome_by_check"]["answers"]["outcome"] == "gap"
    assert second["outcome_by_check"]["title"]["outcome"] == "unknown"


@pytest.mark.world
def test_audit_reads_a_file_and_writes_line_by_line(coast: Coast, data: Path) -> None:
    hosts = [row["host"] for row in coast.read("sites.json") if row["transport"] == "ok"][:5]
    listed = data / "sites.txt"
    listed.write_bytes(("\r\n".join(hosts) + "\r\n\r\n").encode("utf-16"))  # as a spreadsheet or an editor may save it
    done = acorn("audit", "--file", str(listed), "--ndjson", data=data)
    assert {json.loads(line)["url"] for line in done.stdout.splitlines()} == set(hosts)
    table = acorn("audit", hosts[0], data=data)
    assert "Page title" in table.stdout


def test_a_private_address_is_refused_unless_allowed(tmp_path: Path) -> None:
    with socket.socket() as server:
        server.bind(("127.0.0.1", 0))
        port = server.getsockname()[1]
        for address in (f"http://127.0.0.1:{port}/", f"http://localhost:{port}/"):
            done = acorn("audit", address, data=tmp_path)
            assert done.returncode == 1
            assert done.stderr.startswith("acorn: refused, a private address")
            assert done.stderr.count("\n") == 1
        allowed = acorn("audit", f"http://127.0.0.1:{port}/", "--allow-private", "--json", data=tmp_path)
    assert allowed.returncode == 0
    assert json.loads(allowed.stdout)[0]["outcome_by_check"]["answers"]["value"] == "connection refused"


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (("audit",), "no address given"),
        (("audit", "--file", "/no/such/file"), "cannot be read"),
        (("audit", "x.example", "--json", "--ndjson"), "not both"),
        (("bench", "weather"), "no bench 'weather'; choose from audit, desk"),
        (("audit", "--colour", "x"), "No such option: --colour"),
        (("match",), "Missing argument"),
        (("serve", "--port", "99999"), "Invalid value for '--port'"),
        (("serve", "--data", "/dev/null"), "cannot be used"),
        (("backup", "b.acorn"), "there is no data in"),
        (("restore", "/no/such/file"), "cannot be read as a backup"),
        (("test", "slow"), "no kind of test 'slow'"),
    ],
)
def test_a_command_that_cannot_go_on_says_why_in_one_line(
    arguments: tuple[str, ...], says: str, tmp_path: Path
) -> None:
    done = acorn(*arguments, data=tmp_path)
    assert done.returncode == 1
    assert says in done.stderr
    assert [line for line in done.stderr.splitlines() if not line.startswith("  ")] == [done.stderr.splitlines()[-1]]


def _newer(data: Path) -> None:
    Database(data / "acorn.db").close()
    with sqlite3.connect(data / "acorn.db") as conn:
        conn.execute("PRAGMA user_version = 999")
    conn.close()


UNUSABLE: list[tuple[str, Callable[[Path], object], str]] = [
    ("newer", _newer, "is of version 999; this program knows up to"),
    (
        "garbage",
        lambda data: (data / "acorn.db").write_bytes(b"no database" * 999),
        "restore a backup with ./acorn restore FILE",
    ),
    (
        "settings in Latin-1",
        lambda data: (data / "settings.json").write_bytes('{"agency": "Küche"}'.encode("latin-1")),
        "is not UTF-8 text",
    ),
    (
        "settings with a mark",
        lambda data: (data / "settings.json").write_bytes(b'\xef\xbb\xbf{"agency": 7}'),
        "line 1: agency: this must be a text",
    ),
    ("settings that are a folder", lambda data: (data / "settings.json").mkdir(), "cannot be read"),
]


@pytest.mark.parametrize(("spoil", "says"), [case[1:] for case in UNUSABLE], ids=[case[0] for case in UNUSABLE])
def test_data_that_cannot_be_used_is_named_in_one_line(
    spoil: Callable[[Path], object], says: str, tmp_path: Path
) -> None:
    spoil(tmp_path)
    done = acorn("serve", "--data", str(tmp_path), "--port", str(free_ports(1)[0]))
    assert (done.returncode, done.stdout) == (1, "")
    assert says in done.stderr
    assert done.stderr.count("\n") == 1


def test_the_address_is_printed_once_it_answers_and_a_second_instance_is_refused(tmp_path: Path) -> None:
    port = free_ports(1)[0]
    command = [sys.executable, "-m", "openacorn.cli", "serve", "--data", str(tmp_path), "--port", str(port)]
    first = subprocess.Popen(command, cwd=ROOT, stdout=subprocess.PIPE, text=True)
    try:
        assert first.stdout is not None
        assert first.stdout.readline().startswith(f"Open Acorn: http://127.0.0.1:{port}/")
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/status", timeout=60) as answer:
            assert answer.status == 200
        second = acorn("serve", "--data", str(tmp_path), "--port", str(free_ports(1)[0]))
        assert (second.returncode, second.stderr.count("\n")) == (1, 1)
        assert f"another Open Acorn (process {first.pid}) is using {tmp_path}; stop it first" in second.stderr
        saved = acorn("backup", str(tmp_path / "now.acorn"), "--data", str(tmp_path))  # while it runs
        assert saved.returncode == 0, saved.stderr
        refused = acorn("restore", str(tmp_path / "now.acorn"), "--data", str(tmp_path))
        assert "stop it first" in refused.stderr
    finally:
        first.send_signal(signal.SIGINT)
        first.communicate(timeout=60)
    assert first.returncode == 0
    restored = acorn("restore", str(tmp_path / "now.acorn"), "--data", str(tmp_path))
    assert restored.returncode == 0, restored.stderr
    assert f"what was there before is in {tmp_path}/before-restore-" in restored.stdout


def test_a_taken_port_and_broken_settings_are_named(tmp_path: Path) -> None:
    with socket.socket() as server:
        server.bind(("127.0.0.1", 0))
        server.listen()
        port = str(server.getsockname()[1])
        assert f"port {port} is taken" in acorn("serve", "--port", port, "--data", str(tmp_path)).stderr
    (tmp_path / "settings.json").write_text("{not json")
    assert (
        "or delete the file to start" in acorn("serve", "--port", str(free_ports(1)[0]), "--data", str(tmp_path)).stderr
    )


def test_an_address_that_is_none_is_a_finding_not_a_crash(tmp_path: Path) -> None:
    done = acorn("audit", "ask in the shop", "--json", data=tmp_path)
    found = json.loads(done.stdout)[0]["outcome_by_check"]["answers"]
    assert (found["outcome"], found["value"]) == ("gap", "not a web address")


def launcher(*arguments: str, path: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        ["/bin/sh", str(ROOT / "acorn"), *arguments], capture_output=True, text=True, env={"PATH": path}, timeout=60
    )


def test_the_launcher_names_what_is_missing(tmp_path: Path) -> None:
    (tmp_path / "dirname").symlink_to("/usr/bin/dirname")
    done = launcher("demo", path=str(tmp_path))
    assert done.returncode == 1
    assert "Python 3.11 or newer is needed" in done.stderr
    done = launcher("dance", path=os.environ["PATH"])
    assert (done.returncode, done.stderr) == (1, "acorn: there is no command 'dance'; ./acorn --help lists them\n")
    assert "demo [--port N] [--reset]" in launcher("--help", path=os.environ["PATH"]).stdout


def test_match_prints_the_contracts_keys(tmp_path: Path) -> None:
    file = tmp_path / "listings.csv"
    file.write_text(
        "Business Name,Address,Phone\nHarbour Vets,14 Harbour St,(03) 5550 1234\n,,\nGull Florist,3 Salt Rd,(03) 5550 1111\n"
        'HARBOUR VETS PTY LTD,"Shop 2, 14 Harbour Street",+61 3 5550 1234\n'
    )
    done = acorn("match", str(file), "--json")
    clusters = json.loads(done.stdout)
    assert done.returncode == 0
    assert [set(item) for item in clusters] == [{"cluster", "rows", "probability"}] * 2
    assert sorted(item["rows"] for item in clusters) == [[0, 3], [2]]
    assert done.stderr == "line 3: neither a name nor a website\n"
    assert "2 businesses; 1 of them" in acorn("match", str(file)).stdout


@pytest.mark.parametrize(("text", "says"), [(None, "No such file"), ("", "empty"), ("a,b\n1,2\n", "say which one")])
def test_match_says_in_one_line_why_it_cannot(tmp_path: Path, text: str | None, says: str) -> None:
    if text is not None:
        (tmp_path / "x.csv").write_text(text)
    done = acorn("match", str(tmp_path / "x.csv"), "--json")
    assert (done.returncode, done.stdout, done.stderr.count("\n")) == (1, "", 1)
    assert says in done.stderr
