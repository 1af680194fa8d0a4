"""The coast's people directory: who says to work where. Its persons, and the server that answers about them as JSON."""

import json
import random
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

from openacorn.sim.business import Business
from openacorn.sim.http import Asked, Reply, json_reply
from openacorn.sim.names import FIRST, LAST, slug

KEY = "tarrow-people-key"
HOST = "people.tarrow.example"
OWNERS, STAFF, DOMAIN_GIVEN = 0.46, 0.3, 0.8
"""Shares: of owners that are in it; of businesses with somebody else in it; of entries with the company's domain."""

OWNER_ROLES = ("Owner", "Owner", "Founder", "Managing director", "Proprietor")
STAFF_ROLES = ("Practice manager", "Marketing manager", "Office manager", "Senior technician", "Sales assistant")


def _person(business: Business, name: str, role: str, rng: random.Random, serial: int) -> dict[str, Any]:
    domain = business.host if business.host and not business.wrong_site and rng.random() < DOMAIN_GIVEN else None
    return {
        "_business": business.id, "id": f"T{serial:06d}", "name": name, "role": role,
        "profile": f"https://{HOST}/p/{slug(name)}-{serial}",
        "company": {"name": business.name, "domain": domain, "town": business.town},
    }  # fmt: skip


def persons(businesses: list[Business], rng: random.Random) -> list[dict[str, Any]]:
    """Everybody in the directory."""
    found: list[dict[str, Any]] = []
    for business in businesses:
        if rng.random() < OWNERS:
            short = f"{business.owner.split()[0][0]}. {business.owner.split()[-1]}"
            name = short if rng.random() < 0.1 else business.owner
            found.append(_person(business, name, rng.choice(OWNER_ROLES), rng, len(found) + 1))
        if rng.random() < STAFF:
            name = f"{rng.choice(FIRST)} {rng.choice(LAST)}"
            found.append(_person(business, name, rng.choice(STAFF_ROLES), rng, len(found) + 1))
    rng.shuffle(found)
    return found


class PeopleDirectory:
    """Answers `/v1/persons?domain=…` and `/v1/persons?company=…&town=…`; a name is met by its words, as such search is."""

    def __init__(self, world: Path) -> None:
        self.rows: list[dict[str, Any]] = json.loads((world / "people.json").read_text(encoding="utf-8"))

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        parts = urlsplit(asked.target)
        if parts.path != "/v1/persons":
            return json_reply(404, {"error": "unknown address"})
        if asked.headers.get("authorization") != f"Bearer {KEY}":
            return json_reply(401, {"error": "the key is missing or wrong"})
        query = {name: values[0].lower() for name, values in parse_qs(parts.query).items()}
        if "domain" in query:
            found = [row for row in self.rows if row["company"]["domain"] == query["domain"]]
        else:
            words = set(query.get("company", "").split())
            found = [row for row in self.rows if words and words & set(row["company"]["name"].lower().split())]
            found.sort(key=lambda row: -len(words & set(row["company"]["name"].lower().split())))
        return json_reply(200, {"persons": found[:25]})
