"""Every GET of the API's description, asked on stores in four states: it answers without a server error, within a second."""

import json
import os
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Callable, Iterator
from itertools import islice, product
from pathlib import Path

import pytest

from tests.application import Application, application
from tests.conftest import Coast, circle
from tests.gather.test_importer import start, upload

pytestmark = pytest.mark.world
SLOWEST_S = 1.0
MOST_OF_ONE = 12
"""Addresses tried of one operation: the values of its parameters are combined up to so many."""

STREAMS = {"/api/runs/{run_id}/events", "/api/events"}
CLIENTS = b"Name,Phone,Website,Suburb\nGull Florist,(03) 5550 1111,gull-florist.example,Gannet Bay\nHeron Vets,(03) 5550 1234,,Port Ellery\n"


def sweep(app: Application, *sources: str, trades: tuple[str, ...] = ("vets", "florists")) -> None:
    plan = {
        "trades": trades,
        "areas": [circle(-37.02, 160.02, 6000.0)],
        "sources": sources,
        "facts": ["website", "contacts"],
    }
    app.wait_for_run(app.post("/api/sweeps", {"name": "A sweep", "plan": plan})["run_id"])


def empty(_app: Application) -> None:
    """Nothing was done yet."""


def swept(app: Application) -> None:
    """Two sources, a shortlist, an export with a link, a call that was noted."""
    sweep(app, "listing_service", "map_data")
    first = app.get("/api/businesses?limit=3")["rows"]
    ids = [row[0] for row in first]
    monday = app.post("/api/shortlists", {"name": "Monday"})["id"]
    app.post("/api/actions", {"kind": "shortlist", "ids": ids, "word": str(monday)})
    app.post("/api/presets", {"name": "All", "format": "xlsx", "link": True})
    app.post(f"/api/businesses/{ids[0]}/activities", {"text": "rang, nobody there"})


def imported(app: Application) -> None:
    """A file and a directory: sources whose names are made by the user."""
    start(app, upload(app, "clients.csv", CLIENTS))
    app.post("/api/recipes", DIRECTORY)
    sweep(app, "directory:1")


def merged(app: Application) -> None:
    """Pairs joined, a business split, a decision taken back, an action undone."""
    sweep(app, "listing_service", "map_data", "social_pages", trades=("vets", "florists", "opticians"))
    for pair in app.get("/api/duplicates")["pairs"][:2]:
        app.post("/api/duplicates", {"one": pair["left"]["id"], "other": pair["right"]["id"], "verdict": "one"})
    for row in app.get("/api/businesses?limit=40")["rows"]:
        found = app.get(f"/api/businesses/{row[0]}/origins")["listings"]
        if len(found) > 1:
            app.post(f"/api/businesses/{row[0]}/split", {"listings": [found[-1]["id"]]})
            break
    action_id = app.post("/api/actions", {"kind": "reject", "ids": [row[0]], "word": "no"})
    app.post(f"/api/actions/{action_id['id']}/undo")


DIRECTORY = {
    "title": "Tarrow Pages", "address": "http://tarrowpages.example/search?what={term}&where={place}", "item": "ul.results > li.result",
    "fields": [{"field": "name", "selector": "h2, h3"}, {"field": "town", "selector": "[itemprop=addressLocality], .result-town"}],
    "next": "a.pager-next", "limit": 20, "pace_s": 0.03,
}  # fmt: skip
STORES: dict[str, Callable[[Application], None]] = {
    "empty": empty,
    "demo": swept,
    "imported": imported,
    "merged": merged,
}


@pytest.fixture(scope="module", params=STORES)
def app(
    request: pytest.FixtureRequest, coast: Coast, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[Application]:
    settings = coast.settings.model_copy(update={"home": (-37.02, 160.02)})
    with application(tmp_path_factory.mktemp(request.param), settings, coast.read("places.json")) as running:
        STORES[request.param](running)
        yield running


def values(app: Application) -> dict[str, list[str]]:
    """Name of a parameter → values that mean something in this store, and one that does not."""
    ids = [str(row[0]) for row in app.get("/api/businesses?limit=3&state=all")["rows"]]
    checks = [item["id"] for item in app.get("/api/checks")][:2]
    found: dict[str, list[str]] = {
        "business_id": [*ids, "987654321"], "ids": [",".join(ids[:2]) or "1,2"], "q": ["gull", "ö' OR 1=1", ""],
        "format_id": [item["id"] for item in app.get("/api/exports")["formats"]], "token": ["x"],
        "rows": ["trade", "source", "town", f"check.{checks[0]}", "score band"], "columns": ["town", "source", "stage"],
        "of": ["", "source,shortlist", "score"], "sort": ["-value", "name"], "kind": ["phone", "desk"],
        "service_id": [item["id"] for item in app.get("/api/services")][:2], "limit": ["5"],
    }  # fmt: skip
    lists = {
        "run_id": "runs",
        "sweep_id": "sweeps",
        "preset_id": "presets",
        "shortlist_id": "shortlists",
        "plan_id": "recipes",
    }
    for name, path in lists.items():
        found[name] = [*(str(item["id"]) for item in app.get(f"/api/{path}")[:2]), "987654321"]
    return found


def addresses(app: Application) -> Iterator[str]:
    """Every GET, with the values of its parameters combined; once more without those it can do without."""
    known = values(app)
    for path, operations in app.get("/api/openapi.json")["paths"].items():
        if "get" not in operations or path in STREAMS:
            continue
        parameters = operations["get"].get("parameters", [])
        choices = [known.get(item["name"], ["1"] if item["required"] else [""]) for item in parameters]
        for chosen in islice(product(*choices), MOST_OF_ONE):
            pairs = list(zip(parameters, chosen, strict=True))
            place = {item["name"]: urllib.parse.quote(value, safe="") for item, value in pairs if item["in"] == "path"}
            query = urllib.parse.urlencode(
                [(item["name"], value) for item, value in pairs if item["in"] == "query" and value]
            )
            yield path.format_map(place) + (f"?{query}" if query else "")


def answer(app: Application, path: str) -> tuple[int, float, bytes]:
    """Status, seconds, and the body of an error."""
    started = time.perf_counter()
    try:
        with urllib.request.urlopen(app.url + path, timeout=30) as reply:
            reply.read()
            return reply.status, time.perf_counter() - started, b""
    except urllib.error.HTTPError as error:
        with error:
            return error.code, time.perf_counter() - started, error.read()


def processor_s(app: Application, path: str) -> float:
    """Seconds of processor time that the application takes to answer."""

    def used() -> float:
        fields = Path(f"/proc/{app.process_id}/stat").read_text().rpartition(")")[2].split()
        return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")  # utime and stime, proc(5)

    before = used()
    answer(app, path)
    return used() - before


def test_every_get_answers(app: Application) -> None:
    answered = {path: answer(app, path) for path in addresses(app)}
    assert len(answered) > 85
    assert sum(status == 200 for status, *_ in answered.values()) > len(answered) / 3
    assert {path: body[:300] for path, (status, _, body) in answered.items() if status >= 500 and status != 501} == {}
    shapes = {frozenset(json.loads(body)["error"]) for status, _, body in answered.values() if status != 200}
    assert shapes <= {frozenset({"what", "where", "remedy"})}
    # the slow ones again: the first of a process loads what it needs; by the processor's time, which a busy machine leaves as it is
    slow = [path for path, (_, seconds, _) in answered.items() if seconds > SLOWEST_S]
    assert {path: seconds for path in slow if (seconds := processor_s(app, path)) > SLOWEST_S} == {}
