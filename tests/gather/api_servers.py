"""Three JSON services of somebody else's, each in a shape of its own, and each able to misbehave. Written by hand for these tests; they
share no code and no shape with any source of the simulated coast.

Plover: GET, circle in kilometres, a continuation token, key in a header, at most 60 for a question.
Quarry: POST of JSON, a box, skip and take, key in the address, coordinates in an array.
Lantern: GET, a place's name, a Link header (RFC 8288), bearer key, a bare array.
"""

import http.server
import json
import math
import random
import urllib.parse
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from tests.running import served

KEYS = {"plover": "plv-77", "quarry": "qry-88", "lantern": "lnt-99"}
FIRST = (
    "Amber",
    "Basalt",
    "Cinder",
    "Dapple",
    "Ember",
    "Fallow",
    "Garnet",
    "Hazel",
    "Indigo",
    "Juniper",
    "Kelp",
    "Lichen",
)
KINDS = ("florists", "vets")
CAP = 60


def businesses() -> list[dict[str, Any]]:
    """240 invented businesses around Brindle Quay, of two trades."""
    chance = random.Random(7)
    return [
        {
            "n": number, "name": f"{FIRST[number % 12]} {FIRST[number // 12 % 12]} {'Flowers' if number % 2 == 0 else 'Veterinary'} {number}",
            "kind": KINDS[number % 2], "lat": -36.905 + chance.gauss(0, 0.03), "lon": 161.404 + chance.gauss(0, 0.04),
            "phone": f"+61 3 7010 {4000 + number}", "street": f"{number + 1} Mole Street",
        }
        for number in range(240)
    ]  # fmt: skip


FIRMS = businesses()


class Service(http.server.BaseHTTPRequestHandler):
    """Answers for one of the three, by the server's `shape`; `mode` says how it misbehaves."""

    protocol_version = "HTTP/1.1"
    server: "Server"

    def answer(self, document: Any, status: int = 200, headers: dict[str, str] | None = None) -> None:
        data = document if isinstance(document, bytes) else json.dumps(document).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(data)))
        for name, value in (headers or {}).items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(data)

    def troubled(self) -> bool:
        """Misbehave in the server's way, if it does so at this request."""
        self.server.asked += 1
        mode = self.server.mode
        if mode == "html":
            self.answer(b"<!doctype html><title>Sign in</title>")
        elif mode == "error in a 200":
            self.answer({"error": {"code": 17, "message": "unknown region"}})
        elif mode == "quota" and self.server.asked > 3:
            self.answer({"message": "monthly quota exceeded"}, 403)
        else:
            return False
        return True

    def do_GET(self) -> None:
        parts = urllib.parse.urlsplit(self.path)
        asked = dict(urllib.parse.parse_qsl(parts.query))
        if self.troubled():
            return
        if self.server.shape == "plover" and parts.path == "/v2/nearby":
            self.plover(asked)
        elif self.server.shape == "lantern" and parts.path == "/firms":
            self.lantern(asked)
        else:
            self.answer({"message": "no such thing"}, 404)

    def do_POST(self) -> None:
        sent = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        if not self.troubled():
            self.quarry(sent, dict(urllib.parse.parse_qsl(urllib.parse.urlsplit(self.path).query)))

    def plover(self, asked: dict[str, str]) -> None:
        if self.headers["X-Plover-Key"] != KEYS["plover"]:
            self.answer({"message": "bad key"}, 401)
            return
        lat, lon = (float(part) for part in asked["centre"].split(","))
        reach = float(asked["km"])
        near = [
            firm for firm in FIRMS
            if firm["kind"] == asked["what"]
            and math.hypot(firm["lat"] - lat, (firm["lon"] - lon) * math.cos(math.radians(lat))) * 111.2 <= reach
        ]  # fmt: skip
        kept = near[:CAP]
        start, size = int(asked.get("resume", "0-")[:-1] or 0), int(asked.get("size", "20"))
        more = start + size < len(kept)
        if self.server.mode == "endless":
            start, more = 0, True
        hits = [
            {"poi": {"uid": f"plv{firm['n']}", "title": firm["name"], "tel": firm["phone"], "spot": {"lat": firm["lat"], "lng": firm["lon"]},
                     "where": {"line1": firm["street"], "city": "Brindle Quay"}, "stars": 4.2}, "metres": 12}
            for firm in kept[start : start + size]
        ]  # fmt: skip
        found = len(kept) if self.server.mode == "lies" else len(near)
        token = f"{start + size}-" if more else None
        self.answer({"took": 3, "summary": {"matches": found, "continuation_token": token}, "hits": hits})

    def quarry(self, sent: dict[str, Any], asked: dict[str, str]) -> None:
        if asked.get("apikey") != KEYS["quarry"]:
            self.answer({"message": "who are you?"}, 403)
            return
        west, south, east, north = sent["where"]["box"]
        inside = [
            firm for firm in FIRMS
            if firm["kind"] == sent["subject"] and south <= firm["lat"] <= north and west <= firm["lon"] <= east
        ]  # fmt: skip
        rows = [
            {"key": firm["n"], "label": firm["name"], "contact": {"telephone": firm["phone"], "homepage": None},
             "address": {"formatted": f"{firm['street']}, Brindle Quay"}, "position": [firm["lon"], firm["lat"]]}
            for firm in inside[sent["skip"] : sent["skip"] + sent["take"]]
        ]  # fmt: skip
        self.answer({"page": {"total": len(inside), "skip": sent["skip"]}, "records": rows})

    def lantern(self, asked: dict[str, str]) -> None:
        if self.headers["Authorization"] != f"Bearer {KEYS['lantern']}":
            self.answer({"detail": "not allowed"}, 401)
            return
        there = [firm for firm in FIRMS if firm["kind"] == asked["search"]] if asked["near"] == "Brindle Quay" else []
        page = int(asked.get("pg", "1"))
        shown = there[(page - 1) * 25 : page * 25]
        again = urllib.parse.urlencode({**asked, "pg": page + 1})
        more = page * 25 < len(there)
        headers = {"Link": f'</about>; rel="author", </firms?{again}>; rel="next"'} if more else {}
        rows = [
            {"slug": f"l-{firm['n']}", "display_name": firm["name"], "phones": [firm["phone"], "112"], "street": firm["street"],
             "city": "Brindle Quay", "latitude": str(firm["lat"]), "longitude": str(firm["lon"]), "closed": False}
            for firm in shown
        ]  # fmt: skip
        self.answer(rows, headers=headers)

    def log_message(self, format: str, *arguments: Any) -> None:
        """Nothing is written down."""


class Server(http.server.ThreadingHTTPServer):
    """One of the three services."""

    shape = ""
    mode = "ok"
    asked = 0


@contextmanager
def service(shape: str) -> Iterator[Server]:
    """A running service on a port of its own."""
    server = Server(("127.0.0.1", 0), Service)
    server.shape = shape
    with served(server) as running:
        yield running
