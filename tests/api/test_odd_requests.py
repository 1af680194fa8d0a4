"""Requests that no page of ours sends: odd addresses, characters, times and tokens; each is answered, none with a server error."""

import http.client
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from openacorn.settings import Settings
from tests.application import Application, application

pytestmark = pytest.mark.world

HALF = "\ud800"
"""Half of a surrogate pair: JSON can write it, no encoding can hold it."""


@pytest.fixture(scope="module")
def app(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    with application(tmp_path_factory.mktemp("odd"), Settings(), []) as running:
        yield running


def ask(app: Application, method: str, path: str, body: Any = None) -> tuple[int, str]:
    """Status and text; the path goes out as it is, with no library between that would mend it."""
    connection = http.client.HTTPConnection("127.0.0.1", app.port, timeout=60)
    try:
        data = json.dumps(body).encode() if body is not None else None
        connection.request(method, path, data, {"Content-Type": "application/json"} if data else {})
        answer = connection.getresponse()
        return answer.status, answer.read().decode("utf-8", "replace")
    finally:
        connection.close()


@pytest.mark.parametrize(
    "path",
    [
        "/%00",
        "/" + "a" * 300,
        "/" + "a/" * 2000,
        "/..%2f..%2fREADME.md",
        "/%2e%2e/openacorn/cli.py",
        "/%ff%fe",
        "/assets/%00",
        "/assets/" + "a" * 300,
    ],
)
def test_an_address_that_is_no_file_is_the_application_itself_or_not_there(app: Application, path: str) -> None:
    status, text = ask(app, "GET", path)
    assert status in {200, 404}
    assert "openacorn.cli" not in text


def test_a_link_gives_nothing_away_whatever_its_token(app: Application) -> None:
    preset = app.post("/api/presets", {"name": "x", "format": "csv", "link": True})
    wrong = [
        f"/api/feeds/{number}?token={token}"
        for number in (preset["id"], 999)
        for token in ("%C3%A9", "", "x", "%ED%A0%80", "%00")
    ]
    assert {ask(app, "GET", path) for path in wrong} == {ask(app, "GET", "/api/feeds/999?token=x")}
    assert ask(app, "GET", "/api/feeds/999")[0] == 404


BODIES: list[tuple[str, str, Any]] = [
    ("POST", "/api/shortlists", {"name": f"Mon{HALF}day"}),
    ("POST", "/api/presets", {"name": f"x{HALF}", "format": "csv"}),
    ("POST", "/api/presets", {"name": "x", "format": "csv", "filter": {f"q{HALF}": "y"}}),
    ("POST", "/api/presets", {"name": "x", "format": f"csv{HALF}"}),
    ("POST", "/api/trades", {"label": f"Cat {HALF}", "plural": "Cats", "words": []}),
    ("POST", "/api/imports/pasted", {"kind": "list", "text": f"Gull {HALF} Vets\n(03) 5550 1234"}),
    ("POST", f"/api/imports/pasted?{'a' * 300}=1", {f"kind{HALF}": "list"}),
    ("POST", "/api/relationships", {"text": f"gull{HALF}.example", "kind": "client"}),
    ("PUT", "/api/settings/home", {"country": f"{HALF}x"}),
    ("PUT", "/api/settings", {"values": {"agency": f"Gull {HALF}"}}),
]


@pytest.mark.parametrize(
    ("method", "path", "body"), BODIES, ids=[f"{path} {number}" for number, (_, path, _) in enumerate(BODIES)]
)
def test_half_a_character_is_refused_in_the_one_shape_of_errors(
    app: Application, method: str, path: str, body: Any
) -> None:
    status, text = ask(app, method, path, body)
    assert status == 422
    assert set(json.loads(text)["error"]) == {"what", "where", "remedy"}


def test_names_and_times_beyond_all_bounds_are_refused(app: Application, tmp_path: Path) -> None:
    for name in ("a" * 300, "\0", "/" * 300):
        assert ask(app, "POST", "/api/presets", {"name": name, "format": "csv", "folder": str(tmp_path)})[0] in {
            201,
            422,
        }
        assert ask(app, "POST", f"/api/imports?name={name.replace(chr(0), '%00')}", {})[0] in {201, 422}
    run = app.post(
        "/api/sweeps",
        {
            "name": "x",
            "plan": {
                "trades": ["vets"],
                "areas": [{"name": "x", "lat": 0, "lon": 0, "radius_m": 1000}],
                "sources": ["map_data"],
            },
        },
    )
    sweep = app.wait_for_run(run["run_id"])["sweep_id"]
    for at in (
        "0001-01-01T00:00",
        "9999-12-31T23:59",
        "9999-12-31T23:59+00:00",
        "0001-01-01T00:00-14:00",
        "tomorrow at noon",
    ):
        for every in ("once", "daily", "weekly", "monthly"):
            assert ask(app, "PUT", f"/api/sweeps/{sweep}/schedule", {"every": every, "at": at})[0] == 422


def test_a_country_is_set_once_and_kept(app: Application) -> None:
    assert app.get("/api/status")["country"] == ""
    assert ask(app, "PUT", "/api/settings/home", {"country": "XX"})[0] == 422
    assert {"AU", "DE", "US"} <= set(app.get("/api/countries"))
    app.put("/api/settings/home", {"country": "au"})
    app.end()
    app.start()
    assert app.get("/api/status")["country"] == "AU"
