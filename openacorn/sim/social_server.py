"""The simulated social network's page search: facts of pages by words and town, as JSON."""

import json
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

from openacorn.sim.http import Asked, Reply, json_reply
from openacorn.sim.listings import trade_searched

PAGE = 30
KEY = "tarrow-social-key"


class SocialPages:
    """Answers `/v1/pages?q=…&city=…&after=…`."""

    def __init__(self, world: Path) -> None:
        self.pages: list[dict[str, Any]] = json.loads((world / "social.json").read_text(encoding="utf-8"))

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        parts = urlsplit(asked.target)
        if parts.path != "/v1/pages":
            return json_reply(404, {"error": "unknown address"})
        if asked.headers.get("authorization") != f"Bearer {KEY}":
            return json_reply(401, {"error": "the access token is missing or wrong"})
        query = {name: values[0] for name, values in parse_qs(parts.query).items()}
        trade = trade_searched(query.get("q", ""))
        found = [
            page
            for page in self.pages
            if page["_trade"] == trade and page["city"].lower() == query.get("city", "").lower()
        ]
        start = int(query.get("after", "0") or 0)
        shown = [{key: value for key, value in page.items() if key != "_trade"} for page in found[start : start + PAGE]]
        after = str(start + PAGE) if start + PAGE < len(found) else None
        return json_reply(200, {"data": shown, "paging": {"after": after}})
