"""The coast as it was a month ago: some sites not launched yet, certificates still valid, some businesses not there yet, some not closed."""

import json
import os
import random
from pathlib import Path
from typing import Any

from openacorn.sim.authority import Authority

LAUNCHED, OPENED, CLOSED, LAPSED = 0.06, 0.04, 0.5, 0.6
"""Shares: of listings with a website that had none yet; of listings that were not there yet; of the closed ones that were open
still; of the sites with an expired certificate whose certificate was valid."""

CHANGED = ("listings.json", "sites.json", "map.json")


def make_month_before(world: Path, folder: Path) -> None:
    """Make the files of the coast a month ago out of today's; what did not change is the same file."""
    folder.mkdir(parents=True, exist_ok=True)
    Authority(world)  # one for both, so that who trusts the one trusts the other
    for file in world.iterdir():
        there = folder / file.name
        if file.is_file() and file.name not in CHANGED:
            there.unlink(missing_ok=True)
            os.link(file, there)
    chance = random.Random(31)
    listings, late = [], set[str]()
    for row in _read(world, "listings.json"):
        if chance.random() < OPENED:
            continue
        if row["website"] and chance.random() < LAUNCHED:
            late.add(row["website"])
            row = {**row, "website": None}
        if row["permanently_closed"] and chance.random() < CLOSED:
            row = {**row, "permanently_closed": False}
        listings.append(row)
    _write(folder, "listings.json", listings)
    places = [{**place, "tags": _without(place["tags"], late)} for place in _read(world, "map.json")]
    _write(folder, "map.json", places)
    sites = _read(world, "sites.json")
    for site in sites:
        if site["transport"] == "cert_expired" and chance.random() < LAPSED:
            site["transport"] = "ok"
    _write(folder, "sites.json", sites)


def _without(tags: dict[str, str], late: set[str]) -> dict[str, str]:
    return {name: value for name, value in tags.items() if value not in late}


def _read(folder: Path, name: str) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = json.loads((folder / name).read_text(encoding="utf-8"))
    return rows


def _write(folder: Path, name: str, rows: list[dict[str, Any]]) -> None:
    (folder / name).write_text(json.dumps(rows, ensure_ascii=False), encoding="utf-8")
