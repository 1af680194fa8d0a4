"""Runs over the simulated coast: nothing missed, nothing twice, stopped when told, unharmed by a kill."""

import signal
import time
from collections import Counter
from pathlib import Path
from typing import Any

import pytest

from openacorn.business.store import businesses
from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.db.database import Database
from openacorn.settings import SourceSettings
from tests.application import Application, application
from tests.conftest import Coast, circle

pytestmark = pytest.mark.world
CENTRE = Point(-37.02, 160.02)
RADIUS_M = 60_000.0
TRADES = ["opticians", "locksmiths"]


def plan(radius_m: float = RADIUS_M, **changes: Any) -> dict[str, Any]:
    return {
        "trades": TRADES,
        "areas": [circle(CENTRE.lat, CENTRE.lon, radius_m)],
        "wanted": 0,
        "place": "Port Ellery",
        **changes,
    }


def sweep(app: Application, **changes: Any) -> int:
    return int(app.post("/api/sweeps", {"name": "test", "plan": plan(**changes)})["run_id"])


def groups(folder: Path) -> dict[frozenset[str], tuple[str, str]]:
    """Listing ids of each business → (name, why it was rejected)."""
    database = Database(folder / "acorn.db")
    with database.read() as conn:
        found: dict[int, set[str]] = {}
        for business, listing in conn.execute("SELECT business_id, source_id FROM listing"):
            found.setdefault(business, set()).add(listing)
        rows = {row["id"]: (row["name"], row["rejected"]) for row in businesses.get_businesses(conn, list(found))}
    database.close()
    return {frozenset(listings): rows[business] for business, listings in found.items()}


@pytest.fixture(scope="module")
def finished(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, dict[str, Any]]:
    """A run that nobody disturbed."""
    folder = tmp_path_factory.mktemp("finished")
    with application(folder, coast.settings, coast.read("places.json")) as app:
        run = app.wait_for_run(sweep(app))
    return folder, run


def test_a_run_gets_all_that_the_service_knows_past_its_cap(
    coast: Coast, finished: tuple[Path, dict[str, Any]]
) -> None:
    folder, run = finished
    truth = coast.read("truth.json")
    trade_of = {row["id"]: row["trade"] for row in truth["businesses"]}
    owners = truth["listing_owner"]["listing_service"]
    known = {
        row["id"]
        for row in coast.read("listings.json")
        if owners[row["id"]]
        and trade_of[owners[row["id"]]] in TRADES
        and distance_m(CENTRE, Point(row["location"]["lat"], row["location"]["lon"])) <= RADIUS_M
    }
    held = {listing for group in groups(folder) for listing in group}
    assert len(known) > 200
    assert len(known & held) / len(known) >= 0.99
    assert (run["state"], run["cut_short"], run["progress"]["queries_failed"]) == ("done", 0, 0)
    assert run["progress"]["audits_left"] == 0


def test_no_business_is_there_twice_and_none_is_two(coast: Coast, finished: tuple[Path, dict[str, Any]]) -> None:
    owners = coast.read("truth.json")["listing_owner"]["listing_service"]
    of_group = [{owners[listing] for listing in group if owners[listing]} for group in groups(finished[0])]
    times = Counter(owner for group in of_group for owner in group)
    assert [owner for owner, count in times.items() if count > 1] == []
    assert [group for group in of_group if len(group) > 1] == []
    assert sum(len(group) > 1 for group in groups(finished[0])) >= 5  # doubles were there to be merged


def test_what_does_not_belong_is_kept_with_its_reason(finished: tuple[Path, dict[str, Any]]) -> None:
    rejected = Counter(reason.split(":")[0] for _, reason in groups(finished[0]).values() if reason)
    assert {"another trade", "permanently closed"} <= set(rejected)
    assert sum(finished[1]["rejected"].values()) == sum(rejected.values())


def test_a_killed_server_goes_on_where_it_was(
    coast: Coast, finished: tuple[Path, dict[str, Any]], tmp_path: Path
) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        run_id = sweep(app)
        for moment in (0.4, 1.1, 0.7):
            time.sleep(moment)
            app.end(signal.SIGKILL)
            app.start()
        run = app.wait_for_run(run_id)
        audits = app.get(f"/api/businesses?run={run_id}&limit=1")["total"]
    assert run["state"] == "done"
    assert groups(tmp_path) == groups(finished[0])
    assert audits == finished[1]["held"]
    database = Database(tmp_path / "acorn.db")
    with database.read() as conn:
        twice = conn.execute(
            "SELECT key, count(*) FROM unit WHERE run_id = ? GROUP BY kind, key HAVING count(*) > 1", (run_id,)
        ).fetchall()
        unaudited = conn.execute("SELECT count(*) FROM business WHERE rejected = '' AND audited_at IS NULL").fetchone()[
            0
        ]
    database.close()
    assert (twice, unaudited) == ([], 0)


def test_a_run_stops_at_the_number_wanted_and_when_told_and_can_go_on(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        few = app.wait_for_run(sweep(app, wanted=30))
        assert (few["state"], few["why"]) == ("done", "stopped at your number, 30")
        assert 30 <= few["held"] < 120
        run_id = sweep(app, trades=["vets", "florists"])
        while app.get(f"/api/runs/{run_id}")["held"] < 20:
            time.sleep(0.1)
        app.post(f"/api/runs/{run_id}/stop")
        stopped = app.wait_for_run(run_id)
        assert stopped["state"] == "stopped"
        assert stopped["progress"]["queries_left"] + stopped["progress"]["audits_left"] > 0
        assert app.get(f"/api/businesses?run={run_id}&limit=5")["total"] == stopped["held"]  # its rows are usable
        app.post(f"/api/runs/{run_id}/resume")
        assert app.wait_for_run(run_id)["state"] == "done"


def test_a_service_that_is_down_is_named_with_its_remedy_and_loses_nothing(coast: Coast, tmp_path: Path) -> None:
    nowhere = SourceSettings(endpoint="http://127.0.0.1:9", key="x", pace_s=0)
    for service, says in (
        (nowhere, "connection refused"),
        (coast.settings.source("listing_service").model_copy(update={"key": "bad"}), "HTTP 403"),
        (SourceSettings(), "not set up"),
    ):
        folder = tmp_path / says.replace(" ", "-")
        with application(
            folder,
            coast.settings.model_copy(update={"sources": {"listing_service": service}}),
            coast.read("places.json"),
        ) as app:
            run = app.wait_for_run(sweep(app, trades=["vets", "florists", "opticians", "locksmiths"]))
            assert run["state"] == "failed"
            assert says in run["why"]
            assert run["remedy"]
            assert app.get("/api/sweeps")[0]["plan"]["trades"] == ["vets", "florists", "opticians", "locksmiths"]


def test_a_second_run_finds_the_same_businesses_and_audits_none_again(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        first = app.wait_for_run(sweep(app, trades=["locksmiths"], radius_m=8000))
        before = groups(tmp_path)
        again = app.post(f"/api/sweeps/{first['sweep_id']}/runs")
        second = app.wait_for_run(again["run_id"])
    assert groups(tmp_path) == before
    assert second["held"] == first["held"] > 20
    assert second["progress"]["audits_done"] == 0
