"""Audits made again: a site that changed is seen to have, a fresh one can be asked again, checks run again from the store."""

import json
import urllib.error
from pathlib import Path
from typing import Any

import pytest

from openacorn.audit.reaudit import evaluate_again
from openacorn.db.database import Database
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import REGISTRY, world_sources
from tests.application import application
from tests.conftest import circle, remake

pytestmark = pytest.mark.world
PLAN: dict[str, Any] = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 5000)], "sources": ["listing_service"]}


def test_a_site_that_changed_is_told_of_when_audited_again(tmp_path: Path) -> None:
    world, data = tmp_path / "world", tmp_path / "data"
    make_world(world, per_trade=30)
    truth = json.loads((world / "truth.json").read_text())["businesses"]
    result = next(
        row
        for row in truth
        if row["trade"] == "vets"
        and row["archetype"] == "modern"
        and row["town"] == "Port Ellery"
        and not row["closed"]
    )
    remake(world, result["host"], analytics="", pixels=["Meta"], title="none", look="modern")
    with running_world(world) as servers:
        settings = Settings(region="AU", world=servers, sources=world_sources(servers), browser_looks=0, **REGISTRY)
        with application(data, settings, json.loads((world / "places.json").read_text())) as app:
            app.wait_for_run(app.post("/api/sweeps", {"name": "Vets", "plan": PLAN})["run_id"])
            page = app.get("/api/businesses?limit=500")
            columns = page["columns"]
            business = next(
                row[columns.index("id")] for row in page["rows"] if result["host"] in row[columns.index("website")]
            )
    remake(world, result["host"], analytics="ga4", pixels=[], title="ok", look="modern")
    with running_world(world) as servers:
        settings = Settings(region="AU", world=servers, sources=world_sources(servers), browser_looks=0, **REGISTRY)
        with application(data, settings, json.loads((world / "places.json").read_text())) as app:
            run = app.wait_for_run(app.post("/api/audits", {"ids": [business]})["run_id"])
            assert (run["state"], run["progress"]["audits_done"]) == ("done", 1)
            history = app.get(f"/api/businesses/{business}/history")
            changed = {event["check_id"]: (event["before"], event["after"]) for event in history["events"]}
            assert changed["title"] == ("gap", "ok")
            assert changed["analytics"] == ("gap", "ok")
            assert changed["meta_pixel"] == ("ok", "gap")
            assert len(history["audits"]) == 2
            assert app.get("/api/changes?limit=1")["items"][0]["business_id"] == business
            before = app.get(f"/api/businesses/{business}")["findings"]
            assert app.post("/api/audits/judge")["changed"] == 0
            assert app.get(f"/api/businesses/{business}")["findings"] == before
            with pytest.raises(urllib.error.HTTPError) as caught:
                app.post("/api/audits", {"ids": [10**6]})
            assert caught.value.code == 422
            caught.value.close()
    _checks_run_again_with_no_network(data, business)


def _checks_run_again_with_no_network(data: Path, business: int) -> None:
    database = Database(data / "acorn.db")
    with database.write() as conn:
        conn.execute("UPDATE finding SET outcome = 'gap' WHERE business_id = ? AND check_id = 'title'", (business,))
    assert evaluate_again(database) == 1
    with database.read() as conn:
        row = conn.execute(
            "SELECT outcome FROM finding WHERE business_id = ? AND check_id = 'title'", (business,)
        ).fetchone()
    database.close()
    assert row[0] == "ok"
