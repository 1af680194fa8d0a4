"""JSON APIs of three foreign shapes: found from one answer, swept whole past their caps; and each way in which they can go wrong."""

import json
import urllib.error
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.application import Application
from tests.conftest import circle
from tests.gather.api_servers import FIRMS, KEYS, Server, service
from tests.running import new_application

pytestmark = pytest.mark.world
HOME = (-36.905, 161.404)
AREA = circle(*HOME, 9000.0, "Brindle Quay")
SHAPES: dict[str, dict[str, Any]] = {
    "plover": {
        "address": "{root}/v2/nearby?centre=-36.905,161.404&km=7&what=florists&size=20",
        "recipe": {"key_name": "X-Plover-Key"},
        "corrected": {"cursor_name": "resume"},
    },
    "quarry": {
        "address": "{root}/graph/find?apikey=qry-88",
        "body": json.dumps({"where": {"box": [161.3, -37.0, 161.5, -36.8]}, "subject": "florists", "skip": 0, "take": 25}),
        "recipe": {"key_name": "apikey", "key_in": "query"},
    },
    "lantern": {
        "address": "{root}/firms?near=Brindle%20Quay&search=florists",
        "recipe": {"key_name": "Authorization", "key_prefix": "Bearer "},
        "place": "Brindle Quay",
    },
}  # fmt: skip


@pytest.fixture(params=SHAPES)
def server(request: pytest.FixtureRequest) -> Iterator[Server]:
    with service(request.param) as running:
        yield running


@pytest.fixture
def app(server: Server, tmp_path: Path) -> Iterator[Application]:
    hosts = [f"127.0.0.1:{server.server_port}"]
    with new_application(tmp_path / "data", home=HOME, region="AU", trusted_hosts=hosts, browser_looks=0) as running:
        yield running


def found(app: Application, server: Server, **more: Any) -> dict[str, Any]:
    """What is found of the service by pasting one search."""
    shape = SHAPES[server.shape]
    answer: dict[str, Any] = app.post("/api/apis/sample", {
        "address": shape["address"].format(root=f"http://127.0.0.1:{server.server_port}"), "body": shape.get("body", ""),
        "term": "florists", "place": shape.get("place", ""),
        "recipe": {"title": server.shape, "address": "x", "pace_s": 0, "secret": KEYS[server.shape], **shape["recipe"]},
        **more,
    })  # fmt: skip
    return answer


def kept(app: Application, recipe: dict[str, Any], **changes: Any) -> str:
    """The id of the source that a recipe makes."""
    body = {name: value for name, value in recipe.items() if name not in {"id", "by", "secret_kept"}} | changes
    answer = app.post("/api/apis", body)
    assert "secret" not in answer
    return f"api:{answer['id']}"


def swept(app: Application, source: str) -> dict[str, Any]:
    plan = {"trades": ["florists"], "areas": [AREA], "sources": [source], "facts": []}
    return app.wait_for_run(app.post("/api/sweeps", {"name": "x", "plan": plan})["run_id"])


def source_of(app: Application, server: Server, **changes: Any) -> str:
    shape = SHAPES[server.shape]
    recipe = found(app, server)["recipe"]
    return kept(app, recipe, **{"secret": KEYS[server.shape], **shape.get("corrected", {}), **changes})


def held(app: Application) -> set[str]:
    return {row[0] for row in app.get("/api/businesses?limit=500&columns=name&state=all")["rows"]}


FLORISTS = {firm["name"] for firm in FIRMS if firm["kind"] == "florists"}


def test_what_is_pasted_once_becomes_a_source_that_is_swept_whole(app: Application, server: Server) -> None:
    first = found(app, server)
    fields = {rule["field"] for rule in first["recipe"]["fields"]}
    assert {"name", "source_id", "street", "phone", "lat", "lon"} <= fields
    assert first["rows"][0]["name"] in FLORISTS
    assert KEYS[server.shape] not in json.dumps(first)
    source = source_of(app, server)
    (shown,) = [item for item in app.get("/api/sources") if item["id"] == source]
    assert (shown["title"], shown["ready"]) == (server.shape, True)
    run = swept(app, source)
    assert (run["state"], run["why"]) == ("done", "")
    inside = {row for row in held(app) if row in FLORISTS}
    assert len(inside) >= 0.97 * len(FLORISTS)  # a few lie outside the circle
    phones = {row[0] for row in app.get("/api/businesses?limit=500&columns=phone&state=all")["rows"]}
    assert {f"+6137010{4000 + firm['n']}" for firm in FIRMS if firm["name"] in inside} == phones
    secret = KEYS[server.shape].encode()
    assert not any(secret in file.read_bytes() for file in app.folder.glob("acorn.db*"))


MISHAPS = {
    "html": ("a web page instead of JSON", "recipe"),
    "error in a 200": ("unknown region", "recipe"),
    "quota": ("quota exceeded", "key"),
}


@pytest.mark.parametrize("mode", MISHAPS)
def test_each_mishap_is_said_with_its_remedy_and_leaves_no_half_rows(
    app: Application, server: Server, mode: str
) -> None:
    source = source_of(app, server)
    server.mode, server.asked = mode, 0
    run = swept(app, source)
    said, remedy = MISHAPS[mode]
    if mode == "quota" and server.asked <= 3:
        return  # it was done before the quota was used up
    notes = [note for note in run["notes"] if note["kind"] == "failed"]
    assert any(said in note["text"] and remedy in note["remedy"] for note in notes), notes
    assert held(app) <= FLORISTS


def test_a_wrong_key_is_said_at_the_first_try(app: Application, server: Server) -> None:
    source = source_of(app, server, secret="wrong")
    run = swept(app, source)
    assert run["found"] == 0
    assert any("check the key" in note["remedy"] for note in run["notes"])
    with pytest.raises(urllib.error.HTTPError) as caught:
        app.post("/api/apis/sample", {"address": f"http://127.0.0.1:{server.server_port}/v2/nearby"})
    assert "error" in json.load(caught.value)


@pytest.mark.parametrize("server", ["plover"], indirect=True)
def test_an_endless_cursor_is_noticed(app: Application, server: Server) -> None:
    source = source_of(app, server)
    server.mode, server.asked = "endless", 0
    run = swept(app, source)
    assert run["state"] == "done"
    assert any("repeats itself" in note["text"] for note in run["notes"])
    assert server.asked < 200


@pytest.mark.parametrize("server", ["plover"], indirect=True)
def test_a_cap_that_the_api_keeps_quiet_about_is_found_out(app: Application, server: Server) -> None:
    """60 of 120 come, its own count says 60, and no recipe names a cap: an end on a full page is looked behind."""
    source = source_of(app, server)
    server.mode = "lies"
    swept(app, source)
    assert len(held(app) & FLORISTS) >= 0.97 * len(FLORISTS)
