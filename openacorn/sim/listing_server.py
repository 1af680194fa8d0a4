"""The simulated listing service: ranked search by words and radius, 20 rows a page, at most 60 a query.

What it leaves out or puts in another order depends on the query, the page and the date alone, never on the order of calls.
"""

import hashlib
import json
import math
import re
import time
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

from openacorn.sim.http import Asked, Reply, json_reply
from openacorn.sim.listings import CATEGORIES, stem, trade_searched

CAP, PAGE = 60, 20
KEY = "tarrow-demo-key"
CALLS_PER_SECOND, BURST = 40.0, 60.0
DROPPED, FAILING = 0.004, 0.012
RADIUS_SLACK = 1.03
"""Like others of its kind it also returns places a little outside the circle."""


def _chance(*parts: object) -> float:
    digest = hashlib.blake2b("/".join(map(str, parts)).encode(), digest_size=8).digest()
    return int.from_bytes(digest, "big") / 2**64


class ListingService:
    """Holds the listings and answers `/v1/search`."""

    def __init__(self, world: Path, *, date: str) -> None:
        self.rows: list[dict[str, Any]] = json.loads((world / "listings.json").read_text(encoding="utf-8"))
        self._date = date
        self._tokens, self._filled = BURST, time.monotonic()
        self._failed_once: set[str] = set()
        self._by_word: dict[str, list[dict[str, Any]]] = {}

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        parts = urlsplit(asked.target)
        if parts.path == "/v1/health":
            return json_reply(200, {"ok": True})
        if parts.path != "/v1/search":
            return json_reply(404, {"error": "unknown address"})
        if asked.headers.get("x-api-key") != KEY:
            return json_reply(403, {"error": "the key is missing or wrong"})
        if not self._has_token():
            reply = json_reply(429, {"error": "too many requests"})
            reply.headers["Retry-After"] = "1"
            return reply
        query = {name: values[0] for name, values in parse_qs(parts.query).items()}
        signature = "&".join(f"{name}={query[name]}" for name in sorted(query))
        if _chance("fail", self._date, signature) < FAILING and signature not in self._failed_once:
            self._failed_once.add(signature)
            return json_reply(500, {"error": "something went wrong"})
        try:
            return self._search(query, signature)
        except (KeyError, ValueError) as error:
            return json_reply(400, {"error": f"bad or missing parameter: {error}"})

    def _has_token(self) -> bool:
        now = time.monotonic()
        self._tokens = min(BURST, self._tokens + (now - self._filled) * CALLS_PER_SECOND)
        self._filled = now
        if self._tokens < 1:
            return False
        self._tokens -= 1
        return True

    def matching(self, words: str) -> list[dict[str, Any]]:
        """Rows that a search for `words` is about, best known first: by category, by name, and some neighbours' trades."""
        if words not in self._by_word:
            wanted, trade = stem(words), trade_searched(words)
            found = []
            for row in self.rows:
                by_category = trade != "" and row["category"] in CATEGORIES[trade]
                stranger = trade != "" and row["id"].startswith("S") and row["_term"] == trade
                if (
                    by_category
                    or stranger
                    or set(wanted) <= set(stem(row["name"] + " " + row["category"]))
                    or (trade and row["category"] == "Point of interest" and row["_term"] == trade)
                ):
                    found.append(row)
            self._by_word[words] = sorted(found, key=lambda row: -row["prominence"])
        return self._by_word[words]

    def _search(self, query: dict[str, str], signature: str) -> Reply:
        lat, lon, radius = float(query["lat"]), float(query["lon"]), float(query["radius_m"])
        page = int(query.get("page", "1"))
        if not 0 < radius <= 100_000 or not 1 <= page <= CAP // PAGE:
            raise ValueError("radius_m or page")
        near = [row for row in self.matching(query["q"]) if _metres(lat, lon, row["location"]) <= radius * RADIUS_SLACK]
        whole = re.sub(r"&?page=\d+", "", signature)
        kept = [row for row in near if _chance("drop", self._date, whole, row["id"]) >= DROPPED]
        order = sorted(
            kept, key=lambda row: -row["prominence"] * (1 + 0.1 * _chance("rank", self._date, whole, row["id"]))
        )
        shown = order[:CAP][(page - 1) * PAGE : page * PAGE]
        more = page * PAGE < min(len(order), CAP)
        hidden = ("prominence", "_term")
        return json_reply(
            200,
            {
                "results": [{k: v for k, v in row.items() if k not in hidden} for row in shown],
                "page": page,
                "more": more,
            },
        )


def _metres(lat: float, lon: float, place: dict[str, Any]) -> float:
    """Haversine: the service's own idea of distance."""
    north, east = math.radians(place["lat"] - lat), math.radians(place["lon"] - lon)
    part = (
        math.sin(north / 2) ** 2
        + math.cos(math.radians(lat)) * math.cos(math.radians(place["lat"])) * math.sin(east / 2) ** 2
    )
    return 2 * 6_371_008.8 * math.asin(math.sqrt(part))
