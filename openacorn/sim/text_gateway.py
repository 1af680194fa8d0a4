"""The coast's gateway for text messages: takes them, once each, and lets some of those who get one answer in character."""

import json
from typing import Any
from urllib.parse import parse_qs, urlsplit

from openacorn.sim.http import Asked, Reply, json_reply
from openacorn.sim.manners import answer_of

KEY = "tarrow-texts-key"
SHORT = 160


class TextGateway:
    """Answers `POST /v1/messages` {to, text, from, reference} and `GET /v1/inbox?since=…`."""

    def __init__(self) -> None:
        self._taken: dict[str, str] = {}
        self._inbox: list[dict[str, str]] = []

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        parts = urlsplit(asked.target)
        if asked.headers.get("authorization") != f"Bearer {KEY}":
            return json_reply(401, {"error": "the key is missing or wrong"})
        if parts.path == "/v1/messages" and asked.method == "POST":
            return self._take(asked.body)
        if parts.path == "/v1/inbox":
            since = int(parse_qs(parts.query).get("since", ["0"])[0] or 0)
            return json_reply(200, {"items": [item for item in self._inbox if int(item["id"]) > since]})
        return json_reply(404, {"error": "unknown address"})

    def _take(self, body: bytes) -> Reply:
        try:
            message: dict[str, Any] = json.loads(body)
            to, text, reference = (str(message[name]) for name in ("to", "text", "reference"))
        except (ValueError, KeyError, TypeError):
            return json_reply(400, {"error": "to, text and reference are needed"})
        if not (to.startswith("+") and to[1:].isdigit()):
            return json_reply(422, {"error": f"{to!r} is no number"})
        if reference not in self._taken:
            self._taken[reference] = str(len(self._taken) + 1)
            self._answer(to)
        return json_reply(202, {"message": {"id": self._taken[reference], "length": len(text)}})

    def _answer(self, number: str) -> None:
        manner = answer_of(number)
        if manner is not None and not manner.automatic:
            words = " ".join(manner.text.split())[:SHORT]
            self._inbox.append({"id": str(len(self._inbox) + 1), "from": number, "text": words})
