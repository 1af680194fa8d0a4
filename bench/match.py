"""The matcher's figures: the coast with its truth, the restaurant gold set, and noisy listings beside Splink."""

import csv
import json
import tempfile
import time
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from itertools import combinations
from math import comb
from pathlib import Path
from typing import Any

from bench.coast import gather_coast
from bench.noisy_listings import EASY, HARD, Noise, noisy_listings
from openacorn.business.store import listings
from openacorn.core.gather.file_columns import read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.match.cluster import Clusters, cluster, match_all
from openacorn.core.match.normalise import common_words, record_of
from openacorn.core.trades.catalogue import catalogue
from openacorn.db.database import Database
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import world_sources

RESTAURANTS = Path(__file__).parent / "data" / "restaurants"
NOISY = 100_000
SOURCES = ("listing_service", "map_data", "social_pages", "directory:1")
CUTS = (0.5, 0.8, 0.95, 0.99)
"""Probabilities at which the peer's clusters are cut; its best F1 is shown."""

Figures = dict[str, Any]


def pair_figures(groups: Iterable[Sequence[int]], owner: Mapping[int, Any]) -> Figures:
    """Pairwise precision, recall and F1 of `groups` (of keys) against the true owner of each key."""
    held = [[owner[key] for key in group] for group in groups]
    right = sum(comb(count, 2) for group in held for count in Counter(group).values())
    listings = sum(comb(len(group), 2) for group in held)
    true = sum(comb(count, 2) for count in Counter(owner.values()).values())
    return {
        "precision": round(right / listings, 4) if listings else 1.0,
        "recall": round(right / true, 4) if true else 1.0,
        "f1": round(2 * right / (listings + true), 4) if listings + true else 1.0,
    }


def restaurant_figures() -> Figures:
    """F1 over the cross-guide pairs of the 112 labelled ones; no label is read before matching."""
    rows: list[tuple[str, dict[str, str]]] = []
    for guide in ("fodors", "zagats"):
        with (RESTAURANTS / f"{guide}.csv").open(encoding="utf-8", newline="") as file:
            rows += [(guide, row) for row in csv.DictReader(file)]
    columns = {
        "name": "name",
        "street": "addr",
        "town": "city",
        "phone": "phone",
        "category": "type",
        "source_id": "id",
    }
    listings = {number: read_row(row, columns, guide, "") for number, (guide, row) in enumerate(rows)}
    found = {
        (rows[a][1]["id"], rows[b][1]["id"])
        for group in match_all(listings, "US").groups
        for a, b in combinations(group, 2)
        if rows[a][0] != rows[b][0]
    }
    with (RESTAURANTS / "matches_fodors_zagats.csv").open(encoding="utf-8", newline="") as file:
        gold = {(row["fodors_id"], row["zagats_id"]) for row in csv.DictReader(file)}
    right = len(found & gold)
    return {
        "precision": round(right / len(found), 4),
        "recall": round(right / len(gold), 4),
        "f1": round(2 * right / (len(found) + len(gold)), 4),
    }


def noise_figures(noise: Noise, count: int) -> Figures:
    """Ours and Splink's F1 and seconds on the same normalised listings; Splink's at its best cut."""
    from bench.linkers import splink_clusters

    rows, numbers = noisy_listings(count, noise)
    owner = dict(enumerate(numbers))
    fields = {
        name: name
        for name in ("name", "category", "street", "town", "postcode", "phone", "website", "lat", "lon", "source")
    }
    listings = {n: read_row(row, fields | {"source_id": "id"}, "", "") for n, row in enumerate(rows)}
    common = common_words(listing.name for listing in listings.values())
    started = time.perf_counter()
    records = [record_of(key, listing, "AU", catalogue(), common=common) for key, listing in listings.items()]
    normalised = time.perf_counter()
    ours = cluster(records, merge_at=0.5, learn=True)
    done = time.perf_counter()
    sure = cluster(records)
    begun = time.perf_counter()
    theirs = splink_clusters(records, CUTS)
    return {
        "ours": pair_figures(ours.groups, owner) | {"seconds": round(done - normalised, 2)},
        "ours_merged_unasked": pair_figures(sure.groups, owner),
        "splink": max((pair_figures(groups, owner) for groups in theirs.values()), key=lambda f: f["f1"])
        | {"seconds": round(time.perf_counter() - begun, 2)},
        "normalising_seconds": round(normalised - started, 2),
    }


def queue_figures(listings: Mapping[int, Listing], owner: Mapping[int, Any], region: str) -> Figures:
    """As a sweep merges: unasked merges, the questions it would put, and recall when these are answered rightly."""
    records = [record_of(key, listing, region, catalogue()) for key, listing in listings.items()]
    found: Clusters = cluster(records)
    true = frozenset((a, b) for a, b, _ in found.doubtful if owner[a] == owner[b])
    answered = cluster(records, together=true)
    return pair_figures(found.groups, owner) | {
        "recall_with_queue": pair_figures(answered.groups, owner)["recall"],
        "queue": len(found.doubtful),
        "queue_share": round(len(found.doubtful) / max(1, len(listings)), 4),
        "listings": len(listings),
    }


def coast_figures() -> Figures:
    """The coast with all its sources: what is held of what any source lists, and how right the merging is."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make_world(folder / "world")
        with running_world(folder / "world") as world:
            settings = Settings(region="AU", world=world, sources=world_sources(world), browser_looks=0)
            gather_coast(folder, folder / "world", settings, SOURCES)
        truth = json.loads((folder / "world" / "truth.json").read_text(encoding="utf-8"))["listing_owner"]
        known = {**truth, "directory:1": {key.lower(): owner for key, owner in truth["directory"].items()}}
        database = Database(folder / "acorn.db")
        with database.read() as conn:
            held = listings.get_listings(conn, listings.all_ids(conn))
        database.close()
    owner = {item.id: known[item.listing.source].get(item.listing.source_id) or f"nobody {item.id}" for item in held}
    listed = {business for owners in truth.values() for business in owners.values() if business}
    return queue_figures({item.id: item.listing for item in held}, owner, "AU") | {
        "held_of_listed": round(len(listed & set(owner.values())) / len(listed), 4)
    }


def _line(name: str, figures: Figures) -> str:
    seconds = f"{figures['seconds']:>8.1f} s" if "seconds" in figures else ""
    return f"{name:<34}{figures['precision']:>10.4f}{figures['recall']:>10.4f}{figures['f1']:>10.4f}{seconds}"


def _as_text(figures: Figures) -> str:
    coast = figures["coast"]
    lines = [
        f"The coast, {coast['listings']:,} listings of four sources: "
        f"{coast['held_of_listed']:.4f} of the businesses that any source lists are held",
        f"  recall with the questions answered {coast['recall_with_queue']:.4f}; "
        f"{coast['queue']} questions, {coast['queue_share']:.1%} of the listings",
        f"{'':<34}{'precision':>10}{'recall':>10}{'F1':>10}",
        _line("coast, merged unasked (≥ .99)", coast),
        _line("restaurants (112 gold pairs)", figures["restaurants"]),
    ]
    for kind in ("easy", "hard"):
        part = figures[kind]
        lines += [
            f"{NOISY:,} listings of {kind} noise (normalised in {part['normalising_seconds']} s for both)",
            _line("  ours", part["ours"]),
            _line("  ours, merged unasked (≥ .99)", part["ours_merged_unasked"]),
            _line("  Splink at its best cut", part["splink"]),
        ]
    return "\n".join(lines)


def bench_match() -> tuple[Figures, str]:
    """Measure all sets; return (figures, text)."""
    figures = {
        "coast": coast_figures(),
        "restaurants": restaurant_figures(),
        "easy": noise_figures(EASY, NOISY),
        "hard": noise_figures(HARD, NOISY),
    }
    return figures, _as_text(figures)
