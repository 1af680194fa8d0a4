"""Webhooks of a running application, told to a server in another shape and checked by the specification's reference library."""

import http.server
import json
import sqlite3
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from standardwebhooks import Webhook

from openacorn.core.hooks.event import EVENTS
from tests.application import Application, application
from tests.asking import failing, ids_of
from tests.conftest import Coast, Swept, circle
from tests.running import served

pytestmark = pytest.mark.world
PLAN = {"trades": ["boatyards"], "areas": [circle(-37.21, 160.115, 3000, "Thistle Head")]}


class Listener(http.server.ThreadingHTTPServer):
    """Keeps what it is told; answers with `status`."""

    def __init__(self) -> None:
        super().__init__(("127.0.0.1", 0), Telling)
        self.status = 204
        self.told: list[tuple[dict[str, str], bytes]] = []

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.server_address[1]}/hook?who=us"


class Telling(http.server.BaseHTTPRequestHandler):
    server: Listener

    def do_POST(self) -> None:
        body = self.rfile.read(int(self.headers["Content-Length"]))
        self.server.told.append(({name.lower(): value for name, value in self.headers.items()}, body))
        self.send_response(self.server.status)
        self.end_headers()

    def log_message(self, format: str, *args: Any) -> None:
        """Keep quiet."""


@pytest.fixture
def listener() -> Iterator[Listener]:
    with served(Listener()) as server:
        yield server


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder = tmp_path_factory.mktemp("hooks")
    swept(PLAN, folder)
    settings = coast.settings.model_copy(update={"trusted_hosts": ["127.0.0.1"]})
    with application(folder, settings, coast.read("places.json")) as running:
        yield running


def make(app: Application, listener: Listener, *events: str, name: str = "Ours") -> tuple[int, Webhook]:
    found = app.put("/api/webhooks", {"name": name, "url": listener.url, "events": list(events or EVENTS)})
    number = next(hook["id"] for hook in found["webhooks"] if hook["name"] == name)
    return number, Webhook(found["secret"])


def told(listener: Listener, reader: Webhook, count: int) -> list[dict[str, Any]]:
    """What arrived, verified, once there are so many."""
    until = time.monotonic() + 60
    while len(listener.told) < count and time.monotonic() < until:
        time.sleep(0.1)
    return [reader.verify(body, headers) for headers, body in listener.told]


def delivery(app: Application) -> dict[str, Any]:
    found: dict[str, Any] = app.get("/api/webhooks")["deliveries"][0]
    return found


def test_what_happens_is_told_once_and_signed(app: Application, listener: Listener) -> None:
    number, reader = make(app, listener, "stage.changed", "business.won", "business.refused")
    assert "secret" not in json.dumps(app.get("/api/webhooks")["webhooks"])
    won, refused = ids_of(app)[:2]
    may = app.post("/api/shortlists", {"name": "May"})["id"]
    app.post(f"/api/shortlists/{may}/members", {"ids": [won, refused]})
    offer = app.get(f"/api/businesses/{won}/call-sheet")["service"]
    app.post(f"/api/businesses/{won}/contacts", {"result": "won", "by": "Ada", "service": offer, "amount": 2400})
    app.post(f"/api/businesses/{refused}/contacts", {"result": "refused", "by": "Ada"})
    events = told(listener, reader, 4)
    by_type = {event["type"]: event["data"] for event in events}
    assert by_type["business.won"]["amount"] == 2400
    assert by_type["business.won"]["business"]["id"] == won
    assert by_type["business.refused"]["business"]["relationship"] == "refused"
    moves = [(e["data"]["business"]["id"], e["data"]["after"]) for e in events if e["type"] == "stage.changed"]
    assert (won, "won") in moves
    assert len({headers["webhook-id"] for headers, _ in listener.told}) == len(listener.told), "none twice"
    assert all(item["sent_at"] and not item["problem"] for item in app.get("/api/webhooks")["deliveries"])
    app.post(f"/api/webhooks/{number}", method="DELETE")


def test_a_sweep_tells_what_it_found_anew(app: Application, listener: Listener) -> None:
    _, reader = make(app, listener, "run.finished", "businesses.new", name="Sweeps")
    (run, *_) = app.get("/api/runs")
    seen = ids_of(app)[0]
    with sqlite3.connect(app.folder / "acorn.db") as conn:  # as if the first sweep had not seen this one
        conn.execute("DELETE FROM seen WHERE listing_id IN (SELECT id FROM listing WHERE business_id = ?)", (seen,))
    app.wait_for_run(app.post(f"/api/sweeps/{run['sweep_id']}/runs")["run_id"])
    finished, new = told(listener, reader, 2)
    assert (finished["data"]["run"]["state"], finished["type"]) == ("done", "run.finished")
    assert [business["id"] for business in new["data"]["businesses"]] == [seen]


def test_what_does_not_arrive_is_tried_again_and_can_be_sent_again(app: Application, listener: Listener) -> None:
    number, reader = make(app, listener, "business.lost", name="Weak")
    listener.status = 500
    found = app.post(f"/api/webhooks/{number}/test")
    last = found["deliveries"][0]
    assert (last["event"], last["attempts"], last["problem"]) == ("test", 1, "it answered HTTP 500")
    assert last["next_at"] > last["at"]
    assert next(hook["problem"] for hook in found["webhooks"] if hook["id"] == number) == "it answered HTTP 500"
    listener.status = 200
    app.post(f"/api/webhook-deliveries/{last['id']}/again")
    one, other = told(listener, reader, 2)
    assert one == other, "the same to the letter"
    renewed = app.post(f"/api/webhooks/{number}/secret")["secret"]
    listener.told.clear()
    app.post(f"/api/webhooks/{number}/test")
    (event,) = told(listener, Webhook(renewed), 1)
    assert event["type"] == "test"
    listener.status = 410
    gone = app.post(f"/api/webhooks/{number}/test")["webhooks"]
    assert next(hook["paused"] for hook in gone if hook["id"] == number) is True, (
        "an address that is gone is not asked again"
    )
    assert delivery(app)["next_at"] == ""


def test_what_cannot_be_a_webhook(app: Application, listener: Listener) -> None:
    asked = {"name": "X", "url": listener.url, "events": ["business.won"]}
    for wrong, where in (({"events": ["nothing"]}, "events"), ({"events": []}, "events"), ({"url": "ftp://x/"}, "url")):
        status, problem = failing(app, "PUT", "/api/webhooks", asked | wrong)
        assert (status, problem["where"]) == (422, where)
    number, _ = make(app, listener, name="Only one")
    assert failing(app, "PUT", "/api/webhooks", asked | {"name": "Only one"})[0] == 409
    app.put("/api/settings", {"values": {"trusted_hosts": []}})
    app.post(f"/api/webhooks/{number}/test")
    assert "private network" in delivery(app)["problem"]
    assert listener.told == []
    app.put("/api/settings", {"values": {"trusted_hosts": ["127.0.0.1"]}})


def test_without_webhooks_nothing_is_noted(app: Application) -> None:
    for hook in app.get("/api/webhooks")["webhooks"]:
        app.post(f"/api/webhooks/{hook['id']}", method="DELETE")
    shortlist = app.post("/api/shortlists", {"name": "June"})["id"]
    business = ids_of(app)[-1]
    app.post(f"/api/shortlists/{shortlist}/members", {"ids": [business]})
    app.post(f"/api/businesses/{business}/contacts", {"result": "talking", "by": "Ada"})
    with sqlite3.connect(Path(app.folder) / "acorn.db") as conn:
        assert conn.execute("SELECT count(*) FROM event").fetchone() == (0,)
