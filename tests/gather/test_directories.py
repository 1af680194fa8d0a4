"""Directories of three foreign builds: pointed at or found, swept whole, with each firm's own page; and what happens when one changes."""

import json
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selectolax.lexbor import LexborHTMLParser

from tests.application import Application
from tests.conftest import circle
from tests.gather.directory_servers import FIRMS, SITES, Server, directory
from tests.running import new_application

pytestmark = pytest.mark.world
HOME = (-36.905, 161.404)
AREA = circle(*HOME, 9000.0, "Brindle Quay")
NAMES = {str(firm["name"]) for firm in FIRMS}


@pytest.fixture
def server(request: pytest.FixtureRequest) -> Iterator[Server]:
    shape, _, mode = request.param.partition(" ")
    with directory(shape, mode) as running:
        yield running


@pytest.fixture
def app(server: Server, tmp_path: Path) -> Iterator[Application]:
    hosts = [f"{name}:{server.server_port}" for name in ("127.0.0.1", *(f"{site}.localhost" for site in SITES))]
    with new_application(tmp_path / "data", home=HOME, region="AU", trusted_hosts=hosts, browser_looks=0) as running:
        yield running


def asked(server: Server, **more: Any) -> dict[str, Any]:
    address = server.url("/suche?was=florists&wo=Brindle+Quay")
    return {"address": address, "term": "florists", "place": "Brindle Quay", "title": server.shape, **more}


def elements(app: Application, page: str) -> dict[str, int]:
    """Text of an element that holds nothing but text → its number on the page as it is shown."""
    with urllib.request.urlopen(f"{app.url}/api/recipes/pages/{page}", timeout=60) as answer:
        shown = answer.read().decode()
        assert "script" not in answer.headers["content-security-policy"].replace("default-src 'none'", "")
    assert "<script" not in shown
    assert "elsewhere.example" not in shown
    found: dict[str, int] = {}
    for node in LexborHTMLParser(shown).css("[data-element]"):
        if node.first_child is not None and not any(child.tag != "-text" for child in node.iter(include_text=True)):
            found.setdefault(node.text().strip(), int(node.attributes["data-element"] or -1))
    return found


def click(
    app: Application, server: Server, answer: dict[str, Any], kind: str, *numbers: int, field: str = "", **more: Any
) -> dict[str, Any]:
    plan = {name: value for name, value in answer["plan"].items() if name not in {"id", "secret_kept"}}
    clicked = {"kind": kind, "elements": list(numbers), "field": field}
    sent = asked(server, plan=plan, page=answer["page"], clicked=clicked) | more
    found: dict[str, Any] = app.post("/api/recipes/page", sent)
    return found


def kept(app: Application, plan: dict[str, Any], **changes: Any) -> str:
    body = {name: value for name, value in plan.items() if name not in {"id", "secret_kept"}}
    return f"directory:{app.post('/api/recipes', body | {'pace_s': 0.02} | changes)['id']}"


def swept(app: Application, source: str) -> dict[str, Any]:
    plan = {"trades": ["florists"], "areas": [AREA], "sources": [source], "facts": []}
    return app.wait_for_run(app.post("/api/sweeps", {"name": "x", "plan": plan})["run_id"])


def held(app: Application, column: str = "name") -> set[str]:
    return {row[0] for row in app.get(f"/api/businesses?limit=500&columns={column}&state=all")["rows"]}


def pointed(app: Application, server: Server) -> dict[str, Any]:
    """The guildhall's recipe, made by clicks alone."""
    first = app.post("/api/recipes/page", asked(server))
    at = elements(app, first["page"])
    one, other = at[str(FIRMS[0]["name"])], at[str(FIRMS[1]["name"])]
    answer = click(app, server, first, "item", one, other)
    assert answer["total"] == 8
    assert len(answer["taken"]["items"]) == 8
    answer = click(app, server, answer, "field", at["Brindle Quay"], field="town")
    answer = click(app, server, answer, "field", at[str(FIRMS[0]["street"])], field="street")
    answer = click(app, server, answer, "field", one, field="own_page")
    answer = click(app, server, answer, "next", at["weiter"])
    assert answer["next"].endswith("seite=2")
    return answer


@pytest.mark.parametrize("server", ["guildhall"], indirect=True)
def test_a_directory_is_read_by_pointing_with_each_firms_own_page(app: Application, server: Server) -> None:
    answer = pointed(app, server)
    assert answer["rows"][0] == {"name": FIRMS[0]["name"], "street": FIRMS[0]["street"], "town": "Brindle Quay"}
    first = {"address": answer["own_page"], "own": True, "page": "", "clicked": None}
    plan = {name: value for name, value in answer["plan"].items() if name not in {"id", "secret_kept"}}
    own = app.post("/api/recipes/page", asked(server, plan=plan) | first)
    assert own["rows"][0]["email"] == FIRMS[0]["mail"]  # found by itself, unveiled
    at = elements(app, own["page"])
    own = click(app, server, own, "field", at[str(FIRMS[0]["phone"])], field="phone", **first | {"page": own["page"]}
                | {"clicked": {"kind": "field", "elements": [at[str(FIRMS[0]["phone"])]], "field": "phone"}})  # fmt: skip
    assert own["rows"][0] == {"email": FIRMS[0]["mail"], "phone": FIRMS[0]["phone"]}

    run = swept(app, kept(app, own["plan"]))
    assert (run["state"], run["why"]) == ("done", "")
    assert held(app) == NAMES
    assert held(app, "phone") == {f"+6137010{4600 + int(str(firm['n']))}" for firm in FIRMS}
    assert held(app, "email") == {firm["mail"] for firm in FIRMS}
    own_pages = [path for path in server.asked if path.startswith("/mitglied/")]
    assert len(own_pages) == len(FIRMS) + 1  # each once, and the first one when the recipe was made


@pytest.mark.parametrize("server", ["beacon"], indirect=True)
def test_a_deleted_recipe_ends_its_lane_alone_and_leaves_what_it_brought(app: Application, server: Server) -> None:
    source = kept(app, app.post("/api/recipes/page", asked(server))["plan"])
    swept(app, source)
    with urllib.request.urlopen(
        urllib.request.Request(f"{app.url}/api/recipes/{source.partition(':')[2]}", method="DELETE"), timeout=60
    ) as answer:
        assert answer.status == 204
    assert held(app) == NAMES
    run = app.wait_for_run(app.post("/api/sweeps/1/runs")["run_id"])
    assert any("its recipe was deleted" in note["text"] for note in run["notes"])
    plan = {"trades": ["vets"], "areas": [AREA], "sources": ["listing_service"], "facts": []}
    assert app.post("/api/sweeps/estimate", plan)["requests"] >= 0  # learnt from runs of a source that is no more


@pytest.mark.parametrize("server", ["guildhall"], indirect=True)
def test_a_changed_layout_is_said_and_nothing_is_kept_of_it(app: Application, server: Server) -> None:
    source = kept(app, pointed(app, server)["plan"])
    server.mode = "changed"
    run = swept(app, source)
    assert any("layout has changed" in note["text"] and "Directories" in note["remedy"] for note in run["notes"]), run[
        "notes"
    ]
    assert held(app) == set()


@pytest.mark.parametrize("server", ["guildhall"], indirect=True)
def test_what_cannot_be_pointed_at_is_said(app: Application, server: Server) -> None:
    answer = pointed(app, server)
    at = elements(app, answer["page"])
    for kind, number, field, said in (
        ("field", at["Verein"], "street", "in none of the businesses"),
        ("next", at[str(FIRMS[0]["street"])], "", "leads to no other page"),
        ("item", 99_999, "", "no element"),
    ):
        with pytest.raises(urllib.error.HTTPError) as caught:
            click(app, server, answer, kind, number, field=field)
        assert said in json.load(caught.value)["error"]["what"]


@pytest.mark.parametrize("server", ["bazaar", "bazaar scroll"], indirect=True)
def test_rows_that_scripts_bring_are_read_in_a_browser_to_the_last(app: Application, server: Server) -> None:
    first = app.post("/api/recipes/page", asked(server))
    assert "no list" in first["why"]
    plan = {name: value for name, value in first["plan"].items() if name not in {"id", "secret_kept"}}
    drawn = app.post("/api/recipes/page", asked(server, plan=plan | {"drawn": True}))
    assert drawn["total"] == 8
    assert {"name", "street", "phone"} <= set(drawn["rows"][0])
    if server.mode == "":
        at = elements(app, drawn["page"])
        drawn = click(app, server, drawn, "next", at["more stalls"])
    run = swept(app, kept(app, drawn["plan"]))
    assert (run["state"], run["why"]) == ("done", "")
    assert held(app) == NAMES


@pytest.mark.parametrize("server", ["beacon"], indirect=True)
def test_what_a_page_describes_for_programs_is_read(app: Application, server: Server) -> None:
    found = app.post("/api/recipes/page", asked(server))
    assert (found["plan"]["structured"], found["total"], found["sure"]) == (True, 8, 1.0)
    assert found["rows"][1] == {
        "name": FIRMS[1]["name"], "street": FIRMS[1]["street"], "town": "Brindle Quay", "postcode": "7999",
        "phone": FIRMS[1]["phone"], "email": FIRMS[1]["mail"], "lat": "-36.905", "lon": "161.405",
    }  # fmt: skip
    run = swept(app, kept(app, found["plan"]))
    assert (run["state"], run["why"]) == ("done", "")
    assert held(app) == NAMES


@pytest.mark.parametrize("server", ["seeker"], indirect=True)
def test_results_of_a_web_search_become_businesses_by_what_their_own_sites_say(
    app: Application, server: Server
) -> None:
    found = app.post("/api/recipes/page", asked(server))
    assert found["plan"]["results"]
    assert found["next"].endswith("seite=2")
    run = swept(app, kept(app, found["plan"]))
    assert (run["state"], run["why"]) == ("done", "")
    rows = app.get("/api/businesses?limit=99&columns=name,phone,email,street,town&state=all&sort=name")["rows"]
    assert [row[:5] for row in rows] == [
        ["Broken Stem", "", "", "", "Brindle Quay"],
        ["Rosehip Florist", "+61370104701", "shop@rosehip.example", "", "Brindle Quay"],
        ["Sorrel", "+61370104704", "", "", "Brindle Quay"],
        ["Tansy & Thyme", "+61370104702", "", "8 Gully Road", "Ferny Bar"],
        ["Yarrow Flowers", "+61370104706", "", "", "Brindle Quay"],
    ]
    text = " ".join(note["text"] for note in run["notes"])
    assert "left out as no single business: 2" in text  # the directory, and a list of ten
    assert "own pages that could not be read: 1 (HTTP 404)" in text
    assert not any(path.startswith("/weg") for path in server.asked)


@pytest.mark.parametrize("server", ["beacon"], indirect=True)
def test_a_recipe_is_handed_on_as_a_file_without_its_secret(app: Application, server: Server) -> None:
    found = app.post("/api/recipes/page", asked(server))
    source = kept(app, found["plan"], header="X-Key", secret="s3cret", user="ada")
    number = source.partition(":")[2]
    with urllib.request.urlopen(f"{app.url}/api/recipes/{number}/file", timeout=60) as answer:
        text = answer.read().decode()
    assert "s3cret" not in text
    assert "ada" not in text
    with pytest.raises(urllib.error.HTTPError) as caught:
        app.post("/api/recipes/files", {"text": text})
    assert "choose another name" in json.load(caught.value)["error"]["what"]
    taken = app.post("/api/recipes/files", {"text": text.replace('"beacon"', '"Beacon of others"')})
    assert taken["title"] == "Beacon of others"
    recipes = {item["id"]: item for item in app.get("/api/recipes")}
    theirs = recipes[int(taken["source"].partition(":")[2])]
    assert (theirs["fields"], theirs["structured"], theirs["secret_kept"]) == (found["plan"]["fields"], True, False)
    for bad, said in (("{", "no JSON"), ("[1]", "no recipe"), ('{"recipe": "directory", "shoe": 1}', "no recipe")):
        with pytest.raises(urllib.error.HTTPError) as caught:
            app.post("/api/recipes/files", {"text": bad + " "})
        assert said in json.load(caught.value)["error"]["what"]
