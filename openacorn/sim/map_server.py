"""The simulated map data server: the public query language's answers for a box and tags (a subset that planners send)."""

import json
import re
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

from openacorn.sim.http import Asked, Reply, json_reply

STATEMENT = re.compile(r'nwr((?:\["[^"]+"="[^"]+"\])+)\((-?[\d.]+),(-?[\d.]+),(-?[\d.]+),(-?[\d.]+)\);')
CONDITION = re.compile(r'\["([^"]+)"="([^"]+)"\]')
OUT = re.compile(r"out center(?: (\d+))?;\s*$")
SERVER_LIMIT = 60
"""Elements after which this server runs out of its allowance and says so in a remark."""


class MapData:
    """Answers `/api/interpreter?data=…`."""

    def __init__(self, world: Path) -> None:
        self.elements: list[dict[str, Any]] = json.loads((world / "map.json").read_text(encoding="utf-8"))

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        parts = urlsplit(asked.target)
        if parts.path != "/api/interpreter":
            return Reply(404, b"not found", "text/plain")
        text = parse_qs(parts.query).get("data", [""])[0]
        statements = STATEMENT.findall(text)
        out = OUT.search(text)
        if not text.startswith("[out:json]") or not statements or not out:
            return Reply(400, b"<p>Error: line 1: parse error: unexpected input</p>", "text/html")
        limit = min(int(out.group(1) or SERVER_LIMIT), SERVER_LIMIT)
        found = [element for element in self.elements if any(_within(element, *statement) for statement in statements)]
        answer: dict[str, Any] = {
            "version": 0.6, "generator": "map data of the Tarrow Coast",
            "osm3s": {"timestamp_osm_base": "2026-09-01T00:00:00Z", "copyright": "invented"}, "elements": found[:limit],
        }  # fmt: skip
        if len(found) > limit:
            answer["remark"] = 'runtime error: Query ran out of memory in "query" at line 1.'
        return json_reply(200, answer)


def _within(element: dict[str, Any], conditions: str, south: str, west: str, north: str, east: str) -> bool:
    place = element.get("center", element)
    return bool(
        all(element["tags"].get(key) == value for key, value in CONDITION.findall(conditions))
        and float(south) <= place["lat"] <= float(north)
        and float(west) <= place["lon"] <= float(east)
    )
