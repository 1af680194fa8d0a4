"""The coast's company register: who is behind the shop signs. Its entries, and the server that answers about them as JSON."""

import json
import random
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

from openacorn.sim.business import Business
from openacorn.sim.coast import TOWNS
from openacorn.sim.http import Asked, Reply, json_reply
from openacorn.sim.names import FIRST, LAST, STREETS

KEY = "tarrow-register-key"
PAGE = 40
REACH, ELSEWHERE, UNDER_ANOTHER_NAME, TRADING_NAME_GIVEN, OWNED, NEW = 0.62, 0.18, 0.12, 0.5, 0.06, 0.05
"""Shares: of businesses that are companies; of these registered at an accountant's; under a name not on the shop sign, of these
with the trading name on record; with a parent; founded this year."""

INDUSTRY: dict[str, str] = {
    "vets": "541940", "florists": "459310", "opticians": "456130", "locksmiths": "561622", "bicycle-shops": "459110",
    "driving-schools": "611692", "dry-cleaners": "812320", "upholsterers": "811420", "tree-surgeons": "561730",
    "boatyards": "336612", "photographers": "541921", "physiotherapists": "621340",
}  # fmt: skip
GROUPS = (
    ("640100211", "Marram Care Group Ltd"),
    ("640100327", "Saltglass Holdings Ltd"),
    ("640100482", "Tern & Tide Retail Ltd"),
)
REVENUE = ("under 250k", "250k-500k", "250k-500k", "500k-1m", "500k-1m", "1m-5m", "5m+")


def _date(rng: random.Random, *, new: bool) -> str:
    year = 2026 if new else rng.randint(1988, 2025)
    return f"{year}-{rng.randint(1, 8):02d}-{rng.randint(1, 28):02d}"


def company(business: Business, rng: random.Random) -> dict[str, Any] | None:
    """The company behind a business, if there is one; of a chain only its first place is asked for."""
    if rng.random() >= REACH:
        return None
    legal, trading = f"{business.name} Pty Ltd", None
    if rng.random() < UNDER_ANOTHER_NAME:
        legal = (
            f"{business.owner.split()[-1]} {rng.choice(('Holdings', 'Enterprises', '& Daughters', 'Group'))} Pty Ltd"
        )
        trading = business.name if rng.random() < TRADING_NAME_GIVEN else None
    away = rng.random() < ELSEWHERE
    town = rng.choice(TOWNS) if away else None
    officers = [{"name": business.owner, "role": "director", "appointed": _date(rng, new=False)}]
    if rng.random() < 0.3:
        partner = f"{rng.choice(FIRST)} {business.owner.split()[-1]}"
        officers.append({"name": partner, "role": rng.choice(("director", "secretary")), "appointed": _date(rng, new=False)})  # fmt: skip
    parent = rng.choice(GROUPS) if rng.random() < OWNED else None
    return {
        "_business": business.id, "number": f"61{business.id * 7919 % 9_999_991:07d}", "name": legal, "trading_as": trading,
        "industry": INDUSTRY[business.trade], "status": "struck off" if business.closed else "registered",
        "incorporated": _date(rng, new=rng.random() < NEW),
        "office": {"street": f"{rng.randint(1, 90)} {rng.choice(STREETS)} Street" if away else business.street,
                   "town": town.name if town else business.town, "postcode": town.postcode if town else business.postcode},
        "officers": officers, "parent": {"number": parent[0], "name": parent[1]} if parent else None,
        "revenue_band": rng.choice(REVENUE) if rng.random() < 0.7 else None,
    }  # fmt: skip


def companies(businesses: list[Business], rng: random.Random) -> list[dict[str, Any]]:
    """The register: companies of the coast's businesses, and as many again a dozen that trade under no sign at all."""
    found, chains = [], set[str]()
    for business in businesses:
        if business.chain in chains:
            continue
        if business.chain:
            chains.add(business.chain)
        if (row := company(business, rng)) is not None:
            found.append(row)
    for number in range(len(businesses) // 12):
        town = rng.choice(TOWNS)
        owner = f"{rng.choice(FIRST)} {rng.choice(LAST)}"
        found.append({
            "_business": None, "number": f"62{number:07d}", "name": f"{owner.split()[-1]} {rng.choice(('Investments', 'Nominees', 'Trading'))} Pty Ltd",
            "trading_as": None, "industry": rng.choice(list(INDUSTRY.values())), "status": rng.choice(("registered", "struck off")),
            "incorporated": _date(rng, new=False), "office": {"street": f"{rng.randint(1, 90)} {rng.choice(STREETS)} Street", "town": town.name, "postcode": town.postcode},
            "officers": [{"name": owner, "role": "director", "appointed": _date(rng, new=False)}], "parent": None, "revenue_band": None,
        })  # fmt: skip
    rng.shuffle(found)
    return found


class CompanyRegister:
    """Answers `/v1/companies?industry=…&town=…&start=…`: codes with commas between, one town."""

    def __init__(self, world: Path) -> None:
        self.rows: list[dict[str, Any]] = json.loads((world / "companies.json").read_text(encoding="utf-8"))

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        parts = urlsplit(asked.target)
        if parts.path != "/v1/companies":
            return json_reply(404, {"error": "unknown address"})
        if asked.headers.get("authorization") != f"Bearer {KEY}":
            return json_reply(401, {"error": "the key is missing or wrong"})
        query = {name: values[0] for name, values in parse_qs(parts.query).items()}
        codes, town = set(query.get("industry", "").split(",")), query.get("town", "").lower()
        found = [row for row in self.rows if row["industry"] in codes and row["office"]["town"].lower() == town]
        start = int(query.get("start", "0") or 0)
        return json_reply(200, {"total": len(found), "start": start, "items": found[start : start + PAGE]})
