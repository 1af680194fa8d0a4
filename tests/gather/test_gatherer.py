"""Several sources over the whole coast: all that any of them lists is held, whatever is killed or down on the way."""

import random
import signal
import time
from pathlib import Path
from typing import Any

import pytest

from bench.match import pair_figures, queue_figures
from openacorn.business.store import listings
from openacorn.core.trades.catalogue import OWN
from openacorn.db.database import Database
from openacorn.demo.agency import DIRECTORY_PLAN
from openacorn.gather.store import recipes
from openacorn.settings import SourceSettings
from tests.application import Application, application
from tests.conftest import Coast, circle

pytestmark = [pytest.mark.world, pytest.mark.timeout(900)]  # whole runs, five of them killed
SOURCES = ["listing_service", "map_data", "social_pages", "directory:1"]
PLAN = {
    "trades": [trade.id for trade in OWN],
    "areas": [circle(-37.0, 160.0, 70_000)],
    "sources": SOURCES,
    "place": "the coast",
}


def prepare(folder: Path) -> None:
    database = Database(folder / "acorn.db")
    with database.write() as conn:
        recipes.insert_recipe(conn, DIRECTORY_PLAN, "now")
    database.close()


FOUR = PLAN | {"trades": [trade.id for trade in OWN][:4]}
"""What a run is killed over: enough for every kind of task to be under way."""


def start(app: Application, plan: dict[str, Any] = PLAN) -> int:
    return int(app.post("/api/sweeps", {"name": "all", "plan": plan})["run_id"])


def partition(folder: Path) -> dict[frozenset[str], tuple[Any, ...]]:
    """The business of each set of listings, by what stands on its row."""
    database = Database(folder / "acorn.db")
    with database.read() as conn:
        members: dict[int, set[str]] = {}
        for business, source, listing in conn.execute("SELECT business_id, source, source_id FROM listing"):
            members.setdefault(business, set()).add(f"{source}/{listing}")
        columns = "id, name, trade, phone, website, street, town, lat, rejected, chain, sources, status"
        rows = {row[0]: tuple(row[1:]) for row in conn.execute(f"SELECT {columns} FROM business")}
    database.close()
    return {frozenset(group): rows[business] for business, group in members.items()}


@pytest.fixture(scope="module")
def finished(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, dict[str, Any], dict[str, Any]]:
    folder = tmp_path_factory.mktemp("all")
    prepare(folder)
    with application(folder, coast.settings, coast.read("places.json")) as app:
        run = app.wait_for_run(start(app))
        return folder, run, app.get(f"/api/coverage?sweep={run['sweep_id']}")


def owners(coast: Coast, folder: Path) -> tuple[dict[int, Any], dict[int, Any]]:
    """(listing id → listing, listing id → the true business it is about, of its own where it is nobody's)."""
    truth = coast.read("truth.json")["listing_owner"]
    known = {**truth, "directory:1": {name.lower(): owner for name, owner in truth["directory"].items()}}
    database = Database(folder / "acorn.db")
    with database.read() as conn:
        held = listings.get_listings(conn, listings.all_ids(conn))
    database.close()
    owner = {item.id: known[item.listing.source][item.listing.source_id] or f"nobody {item.id}" for item in held}
    return {item.id: item.listing for item in held}, owner


def test_what_any_source_lists_is_held_and_merged_right(
    coast: Coast, finished: tuple[Path, dict[str, Any], dict[str, Any]]
) -> None:
    folder, run, _ = finished
    assert (run["state"], run["cut_short"], run["failed"]) == ("done", 0, 0)
    held, owner = owners(coast, folder)
    listed = {
        business
        for source in coast.read("truth.json")["listing_owner"].values()
        for business in source.values()
        if business
    }
    assert len(listed & set(owner.values())) / len(listed) >= 0.98
    by_name = {(item.source, item.source_id): key for key, item in held.items()}
    groups = [
        [by_name[(name.split("/", 1)[0], name.split("/", 1)[1])] for name in group] for group in partition(folder)
    ]
    merged = pair_figures(groups, owner)
    assert merged["precision"] >= 0.995
    assert merged["recall"] >= 0.90
    asked = queue_figures(held, owner, "AU")
    assert asked["recall_with_queue"] >= 0.97
    assert asked["queue_share"] <= 0.03


def test_branches_of_a_chain_are_kept_apart(
    coast: Coast, finished: tuple[Path, dict[str, Any], dict[str, Any]]
) -> None:
    chained = {row["name"] for row in coast.read("truth.json")["businesses"] if row["chain"]}
    rows = [row for row in partition(finished[0]).values() if row[0] in chained and not row[7]]
    assert len(rows) > len(chained) > 3
    assert sum(bool(row[8]) for row in rows) / len(rows) > 0.8


def test_coverage_holds_what_there_is(coast: Coast, finished: tuple[Path, dict[str, Any], dict[str, Any]]) -> None:
    whole = finished[2]["lines"][0]
    true = sum(not row["closed"] for row in coast.read("truth.json")["businesses"])
    assert whole["low"] * 0.97 <= true <= whole["high"] * 1.03
    assert set(whole["by_source"]) == set(SOURCES)


def test_a_run_killed_at_five_random_moments_ends_as_one_that_nobody_disturbed(coast: Coast, tmp_path: Path) -> None:
    rng = random.Random()
    for name, kills in (("calm", 0), ("killed", 5)):
        (tmp_path / name).mkdir()
        prepare(tmp_path / name)
        with application(tmp_path / name, coast.settings, coast.read("places.json")) as app:
            run_id = start(app, FOUR)
            for _ in range(kills):
                time.sleep(rng.uniform(0.3, 4.0))
                app.end(signal.SIGKILL)
                app.start()
            app.wait_for_run(run_id)
    calm = partition(tmp_path / "calm")
    assert (len(calm) > 400, partition(tmp_path / "killed") == calm) == (True, True)


def test_a_source_that_is_down_stops_no_other_and_is_tried_again_alone(coast: Coast, tmp_path: Path) -> None:
    nowhere = SourceSettings(endpoint="http://127.0.0.1:9", key="x", pace_s=0)
    settings = coast.settings.model_copy(update={"sources": {**coast.settings.sources, "map_data": nowhere}})
    plan = PLAN | {
        "trades": ["vets"],
        "areas": [circle(-37.02, 160.02, 6000)],
        "sources": ["map_data", "listing_service"],
    }
    with application(tmp_path, settings, coast.read("places.json")) as app:
        run = app.wait_for_run(app.post("/api/sweeps", {"name": "x", "plan": plan})["run_id"])
        lanes = {lane["source"]: lane for lane in run["lanes"]}
        assert run["state"] == "done"
        assert "failed" in run["why"]
        assert run["held"] > 10
        assert (lanes["map_data"]["failed"] > 0, lanes["listing_service"]["failed"]) == (True, 0)
        asked = lanes["listing_service"]["done"]
        app.post(f"/api/runs/{run['id']}/resume?source=map_data")
        again = app.wait_for_run(run["id"])
        assert {lane["source"]: lane["done"] for lane in again["lanes"]}["listing_service"] == asked
        assert any("connection refused" in note["text"] for note in again["notes"])


def test_a_budget_stops_a_source_and_says_so(coast: Coast, tmp_path: Path) -> None:
    plan = PLAN | {"sources": ["listing_service"], "most_requests": 5}
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        run = app.wait_for_run(app.post("/api/sweeps", {"name": "x", "plan": plan})["run_id"])
    assert "budget of 5 requests" in run["why"]
    assert run["requests"] < 12
