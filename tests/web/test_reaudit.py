"""A site that its owner changed: audited again from the panel, and what changed is seen there."""

import json
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.by import By

from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import REGISTRY, world_sources
from tests.application import application
from tests.conftest import circle, remake
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]
PLAN = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 5000)], "sources": ["listing_service"]}


def test_the_panel_audits_again_and_tells_what_changed(driver: Any, tmp_path: Path) -> None:
    world, data = tmp_path / "world", tmp_path / "data"
    make_world(world, per_trade=30)
    gazetteer = json.loads((world / "places.json").read_text())
    vets = [row for row in json.loads((world / "truth.json").read_text())["businesses"] if row["trade"] == "vets"]
    result = next(
        row for row in vets if (row["archetype"], row["town"], row["closed"]) == ("modern", "Port Ellery", False)
    )
    remake(world, result["host"], analytics="", pixels=["Meta"], title="none")
    with running_world(world) as servers:
        settings = Settings(region="AU", world=servers, sources=world_sources(servers), browser_looks=0, **REGISTRY)
        with application(data, settings, gazetteer) as app:
            app.wait_for_run(app.post("/api/sweeps", {"name": "Vets", "plan": PLAN})["run_id"])
            (business,) = [row[0] for row in app.get(f"/api/businesses?q={result['host']}")["rows"]]
    remake(world, result["host"], analytics="ga4", pixels=[], title="ok")
    with running_world(world) as servers:
        settings = Settings(region="AU", world=servers, sources=world_sources(servers), browser_looks=0, **REGISTRY)
        with application(data, settings, gazetteer) as app:
            screen = Screen(driver, app)
            screen.open(f"/businesses?b={business}")
            screen.until(lambda: "Audited once" in screen.one("section[aria-label=History]").text, "one audit")
            history = screen.one("section[aria-label=History]")
            history.find_element(By.XPATH, ".//button[contains(., 'Audit again')]").click()
            screen.until(lambda: "Audited 2 times" in screen.one("section[aria-label=History]").text, "two audits")
            events = screen.one("section[aria-label=History]").text
            for answer in ("Title", "Analytics", "pixel"):
                assert answer.lower() in events.lower()
            driver.get("about:blank")  # so that nothing asks an application that has ended
