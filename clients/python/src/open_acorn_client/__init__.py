"""Asks an Open Acorn installation.

acorn = OpenAcorn("https://desk.agency.example", token="acorn_…")
for business in acorn.find(trade="vets", **{"check.https": "gap"}):
    print(business["name"], business["score"])
"""

from collections.abc import Iterator
from typing import Any

from open_acorn_client.operations import Operations
from open_acorn_client.transport import AcornError, Transport

__all__ = ["AcornError", "OpenAcorn"]
AT_ONCE = 200


class OpenAcorn(Operations):
    """An installation. Every operation of its API is a method by room: `acorn.shortlists.add_members(3, {"ids": [1]})`."""

    def __init__(self, url: str, token: str = "", *, timeout_s: float = 60.0) -> None:
        """url: where the screens open; token: made under *Your account*, "" where there are no accounts."""
        self.transport = Transport(url, token, timeout_s=timeout_s)
        super().__init__(self.transport)

    def find(self, *, sort: str = "-value", columns: str = "", **filters: str) -> Iterator[dict[str, Any]]:
        """Every business that passes a filter, column → cell, page by page. filters: as in the screens' address."""
        cursor = ""
        while True:
            page = self.transport.ask(
                "GET",
                "/api/businesses",
                {"sort": sort, "columns": columns or None, "limit": AT_ONCE, "cursor": cursor or None, **filters},
            )
            for row in page["rows"]:
                yield dict(zip(page["columns"], row, strict=True))
            if not (cursor := page["next"]):
                return
