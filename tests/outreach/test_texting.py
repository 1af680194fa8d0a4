"""Texts by a gateway: a server written for the test takes them, and tells of answers by a webhook or when it is asked."""

import base64
import json
import threading
import urllib.error
import urllib.request
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import pytest

from tests.application import Application
from tests.asking import failing, ids_of, make_list
from tests.outreach.test_sequences import ANY_TIME, app, rows, until

__all__ = ["app"]
pytestmark = pytest.mark.world


class Gateway(BaseHTTPRequestHandler):
    """Takes texts as JSON behind a key; lists what came in; refuses numbers that end in 9; breaks off for those in 8."""

    taken: list[dict[str, str]]
    arrived: list[dict[str, str]]

    def do_POST(self) -> None:
        asked = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        if self.headers.get("X-Key") != "s3cret":
            self._answer(401, {"error": "who are you?"})
        elif asked["recipient"].endswith("8"):
            self.taken.append(asked)
            self.connection.close()
        elif asked["recipient"].endswith("9"):
            self._answer(200, {"error": "not reachable"})
        else:
            self.taken.append(asked)
            self._answer(202, {"id": f"g-{len(self.taken)}"})

    def do_GET(self) -> None:
        self._answer(200, {"items": self.arrived})

    def _answer(self, status: int, body: Any) -> None:
        self.send_response(status)
        self.end_headers()
        self.wfile.write(json.dumps(body).encode())

    def log_message(self, format: str, *args: Any) -> None:
        """Keep quiet."""


@pytest.fixture
def gateway() -> Iterator[str]:
    Gateway.taken, Gateway.arrived = [], []
    server = ThreadingHTTPServer(("127.0.0.1", 0), Gateway)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()


def set_up(app: Application, address: str, **more: Any) -> dict[str, Any]:
    recipe = {
        "address": f"{address}/send", "body": '{"recipient": "{to}", "content": "{text}", "ref": "{reference}"}', "key": "s3cret",
        "key_name": "X-Key", "key_prefix": "", "number": "id", "error": "error", "incoming": "items", "countries": ["au"],
        "daily_limit": 500,
    }  # fmt: skip
    found: dict[str, Any] = app.put("/api/text-gateway", recipe | more)
    return found


def texted(app: Application) -> None:
    """Everybody of the coast is in a sequence of one text."""
    app.put("/api/sending", {"by_hand": 0, "post_address": "4 Harbour Road, Port Ellery", **ANY_TIME})
    number = make_list(app, "To text", ids_of(app)[:300])
    steps = [{"kind": "text"}]
    sequence = next(
        item["id"]
        for item in app.put("/api/sequences", {"name": "T", "steps": steps, "quiet_days": 0})
        if item["name"] == "T"
    )
    app.post(f"/api/sequences/{sequence}/enrolments", {"shortlist": number, "by": "Ada"})
    until(lambda: rows(app, "SELECT count(*) FROM enrolment WHERE state = 'active' AND next_at != ''") == [(0,)])


def test_texts_go_to_mobiles_once_and_answers_end_what_they_must(app: Application, gateway: str) -> None:
    found = set_up(app, gateway)
    assert (found["gateway"]["key"], found["key_kept"]) == ("", True)
    assert app.post("/api/text-gateway/test", {"to": "0491 570 156"}) == {"problem": "", "number": "g-1"}
    barred = base64.b64encode("\n".join(f"0491 57{i} 1{i}" for i in range(3)).encode() + b"\n0491 570 157\n").decode()
    register = {"title": "State register", "dated": "2026-11-01", "name": "register.csv", "content": barred}
    assert app.post("/api/do-not-call", register)["numbers"] >= 1
    texted(app)
    until(
        lambda: (
            rows(app, "SELECT count(*) FROM message WHERE kind = 'text' AND state IN ('waiting', 'sending')") == [(0,)]
        ),
        90,
    )
    sent = Gateway.taken[1:]
    numbers = [item["recipient"] for item in sent]
    assert len(numbers) >= 5
    assert len(set(numbers)) == len(numbers), "nobody twice"
    assert all(number.startswith("+614") for number in numbers), "mobiles only"
    assert "+61491570157" not in numbers, "on the register"
    assert all(len(item["content"]) <= 160 for item in sent)
    states = dict(rows(app, "SELECT address, state FROM message WHERE kind = 'text'"))
    assert {states[number] for number in numbers if number.endswith("8")} <= {"perhaps sent"}
    assert {state for number, state in states.items() if number.endswith("9")} <= {"failed"}
    assert {state for number, state in states.items() if number[-1] not in "89"} == {"sent"}

    good = [number for number, state in states.items() if state == "sent"]
    told = urllib.request.Request(
        app.owners_url + "/o/texts/" + found["webhook"].rpartition("/")[2],
        json.dumps({"items": [{"from": good[0], "text": "Stop", "id": "w1"}]}).encode(), {"Content-Type": "application/json"},
    )  # fmt: skip
    for _ in range(2):  # gateways tell again what was not acknowledged in time
        with urllib.request.urlopen(told, timeout=30) as answer:
            assert answer.status == 200
    assert rows(
        app,
        f"SELECT relationship FROM business WHERE id = (SELECT business_id FROM message WHERE address = '{good[0]}')",
    ) == [("refused",)]
    Gateway.arrived = [{"from": good[1], "text": "Yes, ring me tomorrow", "id": "p1"}]
    set_up(app, gateway, inbox=f"{gateway}/inbox?since={{since}}", key="")
    until(lambda: any(item["address"] == good[1] for item in app.get("/api/inbox")["arrived"]), 90)
    (reply,) = [item for item in app.get("/api/inbox")["arrived"] if item["address"] == good[1]]
    assert rows(app, "SELECT count(*) FROM incoming WHERE mailbox_id = 0") == [(2,)]
    before = len(Gateway.taken)
    app.post(
        f"/api/businesses/{reply['business_id']}/conversation",
        {"answers": reply["id"], "text": "Gladly, at ten.", "by": "Ada"},
    )
    until(lambda: len(Gateway.taken) > before, 60)
    assert Gateway.taken[-1] | {"ref": ""} == {"recipient": good[1], "content": "Gladly, at ten.", "ref": ""}


def test_without_confirmed_rules_or_gateway_a_person_does_it(app: Application, gateway: str) -> None:
    set_up(app, gateway, countries=["NZ"])
    texted(app)
    assert rows(app, "SELECT count(*) FROM message WHERE kind = 'text'") == [(0,)]
    assert rows(app, "SELECT count(*) > 0 FROM step WHERE text LIKE '%send a text message%'") == [(1,)]
    assert Gateway.taken == []


def test_a_gateway_that_cannot_work_says_why(app: Application, gateway: str) -> None:
    assert app.post("/api/text-gateway/test", {"to": "0491570156"})["problem"] == "there is no gateway yet"
    set_up(app, gateway, key="wrong")
    assert "who are you" in app.post("/api/text-gateway/test", {"to": "0491570156"})["problem"]
    set_up(app, "http://127.0.0.1:9")
    assert "cannot be reached" in app.post("/api/text-gateway/test", {"to": "0491570156"})["problem"]
    assert failing(app, "PUT", "/api/text-gateway", {"address": "https://x.example"})[0] == 422
    with pytest.raises(urllib.error.HTTPError, match="404"):
        urllib.request.urlopen(
            urllib.request.Request(app.owners_url + "/o/texts/guess", b"{}", method="POST"), timeout=30
        )
