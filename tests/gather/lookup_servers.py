"""Two services that are asked about one business at a time, in shapes of their own. Written by hand for these tests.

Gannet: persons by the domain of their firm, which stands in the path; key in a header.
Dunlin: a register of companies by name and seat; POST of JSON, directors within each entry, key in the address.
Both hand out strangers too: who shares a word of the name, or the name in another town.
"""

import http.server
import json
import urllib.parse
from typing import Any

PEOPLE: dict[str, list[dict[str, Any]]] = {
    "harbour-vets.example": [
        {"uid": "p-1", "fullName": "Orla Quint", "jobTitle": "Owner", "link": "https://gannet.example/orla", "employer": {"title": "Harbour Vets"}},
        {"uid": "p-2", "fullName": "Piet Marsh", "jobTitle": "Practice manager", "link": "https://gannet.example/piet", "employer": {"title": "Harbour Vets"}},
    ],
}  # fmt: skip


class LookUps(http.server.BaseHTTPRequestHandler):
    """Answers for both; `asked` of the server keeps what came."""

    protocol_version = "HTTP/1.1"
    server: "Server"

    def _answer(self, document: Any, status: int = 200) -> None:
        data = json.dumps(document).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def do_GET(self) -> None:
        """Gannet: /v3/firms/DOMAIN/people."""
        self.server.asked.append(self.path)
        if self.headers.get("X-Gannet") != "gan-1":
            self._answer({"message": "who are you?"}, 401)
            return
        domain = urllib.parse.unquote(self.path.split("/")[3])
        self._answer({"found": PEOPLE.get(domain, [])})

    def do_POST(self) -> None:
        """Dunlin: {"legal_name": …, "seat": …}; every entry that shares the first word."""
        asked = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        self.server.asked.append(asked)
        if "token=dun-2" not in self.path:
            self._answer({"problem": "no token"}, 403)
            return
        name, seat = asked["legal_name"], asked["seat"]

        def entry(serial: int, name: str, town: str, director: str) -> dict[str, Any]:
            who = [{"name": director, "function": "Director"}]
            return {"number": f"D{serial}", "name": name, "seat": {"town": town}, "directors": who}

        self._answer({"entries": [
            entry(1, f"{name.split()[0]} Holdings Ltd", seat, "Stranger One"),
            entry(2, f"{name} Ltd", "Elsewhere", "Stranger Two"),
            entry(3, f"{name} Ltd", seat, f"Ansel {name.split()[1]}"),
        ]})  # fmt: skip

    def log_message(self, *_: object) -> None:
        """Nothing is printed."""


class Server(http.server.ThreadingHTTPServer):
    """Both services on one port."""

    def __init__(self) -> None:
        super().__init__(("127.0.0.1", 0), LookUps)
        self.asked: list[Any] = []
