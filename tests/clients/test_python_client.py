"""The Python client as somebody gets it: built, installed into a folder of its own, its README run, its types checked."""

import http.server
import os
import re
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest

from tests.application import ROOT, Application, application
from tests.conftest import VETS, Coast, Swept
from tests.team.person import Person, first_owner

CLIENT = ROOT / "clients" / "python"


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where pip put it; what it builds with is here already."""
    place: Path = tmp_path_factory.mktemp("client")
    pip = [sys.executable, "-m", "pip", "install", "-q", "--no-build-isolation", "--no-deps", "--no-index", "--target"]
    subprocess.run([*pip, str(place), str(CLIENT)], check=True, timeout=180)
    return place


def run(installed: Path, code: str, **env: str) -> subprocess.CompletedProcess[str]:
    """Run a program that has the client and nothing of ours."""
    found = {**os.environ, "PYTHONPATH": str(installed), **env}
    return subprocess.run(
        [sys.executable, "-W", "error", "-c", code],
        capture_output=True,
        text=True,
        env=found,
        timeout=120,
        cwd=installed,
        check=False,
    )


def readme_code() -> str:
    return "\n".join(re.findall(r"```python\n(.*?)```", (CLIENT / "README.md").read_text(encoding="utf-8"), re.DOTALL))


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("asked")
    swept(VETS, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def owner(app: Application) -> Person:
    return first_owner(app)


def token(owner: Person, *scopes: str) -> str:
    body = {"name": " ".join(scopes), "scopes": list(scopes), "until": "2099-01-01"}
    answer = owner.ask("POST", "/api/credentials/tokens", body)
    if answer.status != 201:  # no later than a year from now
        body["until"] = re.findall(r"\d{4}-\d\d-\d\d", answer.body.decode())[-1]
        answer = owner.ask("POST", "/api/credentials/tokens", body)
    return str(answer.json["secret"])


@pytest.mark.world
def test_the_readme_runs(installed: Path, app: Application, owner: Person) -> None:
    shown = token(owner, "people", "work", "export")
    done = run(installed, readme_code(), ACORN_URL=app.url, ACORN_TOKEN=shown)
    assert done.returncode == 0, (done.stderr, owner.get("/api/businesses/facets")["counts"])
    total = app_total(owner)
    assert f"{min(25, total)} businesses on the list" in done.stdout
    assert f"Wrenfold Studio has {total + others(owner)} businesses" in done.stdout
    assert re.search(r"^- .+: .+", done.stdout, re.MULTILINE), "a gap with its reason"
    again = run(installed, readme_code(), ACORN_URL=app.url, ACORN_TOKEN=shown)
    assert again.returncode == 1
    assert "choose another name" in again.stderr, "the error is said in words"


def app_total(owner: Person) -> int:
    return int(owner.get("/api/businesses?trade=vets&limit=1&website=listed")["total"])


def others(owner: Person) -> int:
    everybody = int(owner.get("/api/businesses?state=all&limit=1")["total"])
    return everybody - app_total(owner)


@pytest.mark.world
def test_a_token_can_do_no_more_than_its_scopes(installed: Path, app: Application, owner: Person) -> None:
    code = """
from open_acorn_client import AcornError, OpenAcorn
import os
acorn = OpenAcorn(os.environ["ACORN_URL"], os.environ["ACORN_TOKEN"])
print(len(list(acorn.find(columns="id"))))
for refused in (lambda: acorn.everything.get_lines(), lambda: acorn.shortlists.add_shortlist({"name": "x"})):
    try:
        refused()
    except AcornError as error:
        print(error.status, error.what)
"""
    done = run(installed, code, ACORN_URL=app.url, ACORN_TOKEN=token(owner, "see"))
    assert done.returncode == 0, done.stderr
    count, *errors = done.stdout.splitlines()
    assert int(count) == owner.get("/api/businesses?limit=1")["total"]
    assert errors == ["403 your account does not permit this"] * 2
    none = run(installed, code, ACORN_URL=app.url, ACORN_TOKEN="")
    assert "nobody is signed in" in none.stderr


def test_its_types_hold(installed: Path, tmp_path: Path) -> None:
    """By mypy, strictly: the package, and the README's programs; a wrong field is found."""
    program = tmp_path / "program.py"
    program.write_text(readme_code(), encoding="utf-8")
    check = [sys.executable, "-m", "mypy", "--strict", "--no-incremental", "--config-file", os.devnull]
    env = {**os.environ, "MYPYPATH": str(installed)}
    good = subprocess.run(
        [*check, str(program)], capture_output=True, text=True, env=env, timeout=240, cwd=tmp_path, check=False
    )
    assert good.returncode == 0, good.stdout
    program.write_text(
        readme_code().replace('{"name": "Vets, best offers"}', '{"title": "Vets, best offers"}'), encoding="utf-8"
    )
    bad = subprocess.run(
        [*check, str(program)], capture_output=True, text=True, env=env, timeout=240, cwd=tmp_path, check=False
    )
    assert 'Missing key "name"' in bad.stdout


@contextmanager
def scripted(answers: list[Any]) -> Iterator[tuple[str, list[dict[str, str]]]]:
    """A server that gives these answers in turn: a status with headers, or None to break the connection off."""
    seen: list[dict[str, str]] = []

    class Handler(http.server.BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            self.rfile.read(int(self.headers.get("Content-Length", 0)))
            seen.append(dict(self.headers.items()))
            answer = answers[min(len(seen), len(answers)) - 1]
            if answer is None:
                self.connection.close()
                return
            status, headers, body = answer
            self.send_response(status)
            for name, value in headers.items():
                self.send_header(name, value)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, format: str, *args: Any) -> None:
            pass

    server = http.server.HTTPServer(("127.0.0.1", 0), Handler)
    thread = threading.Thread(target=server.serve_forever)
    thread.start()
    yield f"http://127.0.0.1:{server.server_port}", seen
    server.shutdown()
    thread.join()
    server.server_close()


ASK = "from open_acorn_client import OpenAcorn; print(OpenAcorn('{url}', 'acorn_x').shortlists.add_shortlist({{'name': 'A'}}))"
DONE = (201, {"Content-Type": "application/json"}, b'{"id": 7}')


@pytest.mark.parametrize(
    ("answers", "asked", "said"),
    [
        ([DONE], 1, "'id': 7"),
        ([None, DONE], 2, "'id': 7"),
        ([(429, {"Retry-After": "0"}, b""), DONE], 2, "'id': 7"),
        ([(429, {"Retry-After": "0"}, b"")], 4, "HTTP status 429"),
        ([(409, {}, b'{"error": {"what": "taken", "where": "name", "remedy": "another"}}')], 1, "taken (another)"),
        ([(502, {}, b"<html>")], 1, "HTTP status 502"),
    ],
)
def test_it_asks_again_only_where_that_is_safe(installed: Path, answers: list[Any], asked: int, said: str) -> None:
    with scripted(answers) as (url, seen):
        done = run(installed, ASK.format(url=url))
    assert said in done.stdout + done.stderr
    assert len(seen) == asked
    assert len({one["Idempotency-Key"] for one in seen}) == 1, "whatever is sent again is the same request"
    assert seen[0]["Authorization"] == "Bearer acorn_x"
