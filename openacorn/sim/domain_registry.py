"""The coast's domain registry, speaking RDAP (RFC 9082, 9083): which names are taken."""

import json
from collections.abc import Iterable
from urllib.parse import urlsplit

from openacorn.sim.http import Asked, Reply

HOST = "rdap.coastnames.example"
KIND = "application/rdap+json"


class DomainRegistry:
    """Answers for the registry's host."""

    def __init__(self, hosts: Iterable[str]) -> None:
        self._taken = {".".join(host.split(".")[-2:]) for host in hosts}

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        if asked.target == "/robots.txt":
            return Reply(404)
        path = urlsplit(asked.target).path.strip("/").lower()
        kind, _, name = path.partition("/")
        if kind != "domain" or "." not in name:
            return self._error(400, "ask for /domain/NAME")
        if name not in self._taken:
            return self._error(404, f"{name} is not registered")
        dates = [{"eventAction": "registration", "eventDate": "2014-03-02T09:00:00Z"}]
        answer = {
            "rdapConformance": ["rdap_level_0"],
            "objectClassName": "domain",
            "ldhName": name,
            "events": dates,
            "status": ["active"],
        }
        return Reply(200, json.dumps(answer).encode(), KIND)

    def _error(self, status: int, title: str) -> Reply:
        return Reply(status, json.dumps({"errorCode": status, "title": title}).encode(), KIND)
