"""Rewording by a server that was written for the test: what holds can be used, what does not is shown with why, and nothing is lost."""

import json
import re
import threading
from collections.abc import Callable, Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import pytest

from tests.application import Application
from tests.asking import failing
from tests.outreach.test_sequences import app, begun, until

__all__ = ["app"]
pytestmark = pytest.mark.world


class Writer(BaseHTTPRequestHandler):
    """Speaks chat completions; rewords by whatever rule the test sets."""

    rule: Callable[[str], str]
    asked: list[tuple[str, dict[str, Any]]]

    def do_POST(self) -> None:
        body = self.rfile.read(int(self.headers["Content-Length"]))
        self.asked.append((self.headers.get("Authorization", ""), json.loads(body)))
        if self.path != "/base/chat/completions":
            self.send_response(307)
            self.send_header("Location", "/base/chat/completions")
            self.end_headers()
            return
        message = json.loads(body)["messages"][-1]["content"].partition("Message:\n")[2]
        answer = {"choices": [{"message": {"content": type(self).rule(message)}, "finish_reason": "stop"}]}
        self.send_response(200)
        self.send_header("Content-Type", "application/json; charset=utf-8")
        self.end_headers()
        self.wfile.write(json.dumps(answer).encode())

    def log_message(self, format: str, *args: Any) -> None:
        """Keep quiet."""


@pytest.fixture
def writer() -> Iterator[str]:
    Writer.asked = []
    server = ThreadingHTTPServer(("127.0.0.1", 0), Writer)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()


def test_rewording(app: Application, writer: str) -> None:
    begun(app, 60, [{"kind": "email"}], by_hand=-1)
    until(lambda: app.get("/api/queue?states=to%20approve")["total"] > 0)
    number = app.get("/api/queue?states=to%20approve")["lines"][0]["id"]
    message = app.get(f"/api/messages/{number}")
    assert message["helper"] == ""
    wish = {"tone": "friendlier", "subject": message["subject"], "text": message["text"]}
    status, problem = failing(app, "POST", f"/api/messages/{number}/reword", wish)
    assert (status, "no writing helper" in problem["what"]) == (422, True)

    app.put(
        "/api/settings",
        {"values": {"writing.address": f"{writer}/base", "writing.key": "s3cret", "writing.model": "m"}},
    )
    assert "s3cret" not in (app.folder / "settings.json").read_text()
    assert app.get(f"/api/messages/{number}")["helper"] == writer.removeprefix("http://")

    # said the same in other words: it can be used, and what a sentence rests on goes along
    resting = next(item for item in message["because"] if item["because"] and item["text"].startswith("Your "))
    said = re.sub(r"^Your ", "Just so you know, your ", resting["text"])
    Writer.rule = lambda text: text.replace("Hello", "Hi").replace(resting["text"], said)
    found = app.post(f"/api/messages/{number}/reword", wish)
    assert (found["holds"], found["lost"]) == (True, []), found["sentences"]
    assert said in found["text"]
    key, asked = Writer.asked[-1]
    assert key == "Bearer s3cret"
    assert all(part["content"] in found["asked"] for part in asked["messages"])
    assert "s3cret" not in found["asked"]
    assert app.get(f"/api/messages/{number}")["text"] == message["text"], "nothing is saved by asking"
    saved = app.put(f"/api/messages/{number}", {"subject": found["subject"], "text": found["text"]})
    assert next(item["because"] for item in saved["because"] if said.endswith(item["text"])) == resting["because"]

    # a number and a claim from nowhere, and a link lost
    Writer.rule = lambda _: "Subject: 97 % off\n\nHi, you lose 97 % of your customers. Call us."
    wrong = app.post(f"/api/messages/{number}/reword", wish)
    assert not wrong["holds"]
    assert any("97" in why for item in wrong["sentences"] for why in item["problems"])
    assert wrong["subject_check"][0]["problems"]

    # a redirect is not followed with what was sent; a server that is gone is named
    app.put("/api/settings", {"values": {"writing.address": f"{writer}/elsewhere"}})
    before = len(Writer.asked)
    assert "redirect" in failing(app, "POST", f"/api/messages/{number}/reword", wish)[1]["what"]
    assert len(Writer.asked) == before + 1
    app.put("/api/settings", {"values": {"writing.address": "http://127.0.0.1:9"}})
    assert "cannot be reached" in failing(app, "POST", f"/api/messages/{number}/reword", wish)[1]["what"]
    trial = app.post("/api/settings/trials", {"what": "writing", "values": {"writing.address": f"{writer}/base"}})
    assert (trial["ok"], "more than the sentence" in trial["said"]) == (True, True)


def test_the_coasts_own_helper(app: Application, coast: Any) -> None:
    """The stand-in that ships: it rewords, and what it makes up is caught."""
    begun(app, 300, [{"kind": "email"}], by_hand=-1)
    until(lambda: app.get("/api/queue?states=to%20approve")["total"] >= 10)
    port = coast.settings.world.agency_ports["writing"]
    values = {
        "writing.address": f"http://127.0.0.1:{port}/v1",
        "writing.model": "tarrow-plain",
        "writing.key": "tarrow-writing-key",
    }
    app.put("/api/settings", {"values": values})
    found = []
    for line in app.get("/api/queue?states=to%20approve")["lines"][:12]:
        message = app.get(f"/api/messages/{line['id']}")
        for tone in ("friendlier", "more formal", "shorter", "plainer"):
            wish = {"tone": tone, "subject": message["subject"], "text": message["text"]}
            found.append(app.post(f"/api/messages/{line['id']}/reword", wish))
    eager = ["Everybody else" in item["text"] for item in found]
    assert 0 < sum(eager) < len(eager)
    assert [item["holds"] for item in found] == [not said for said in eager]
