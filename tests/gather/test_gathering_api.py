"""What a sweep finds out beside listings: registers, own trades, regions, growth; and what it costs."""

import json
from collections import Counter
from collections.abc import Iterator
from typing import Any

import pytest

from openacorn.settings import SourceSettings
from tests.application import Application, application
from tests.asking import failing
from tests.conftest import Coast, circle

pytestmark = pytest.mark.world
PLAN: dict[str, Any] = {
    "trades": ["vets", "opticians"],
    "areas": [circle(-37.02, 160.02, 4000.0)],
    "sources": ["listing_service"],
    "place": "Port Ellery",
    "facts": ["website", "contacts", "company"],
}
SQUARE = [[159.9, -37.1], [160.1, -37.1], [160.1, -36.9], [159.9, -36.9], [159.9, -37.1]]


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    with application(tmp_path_factory.mktemp("gathered"), coast.settings, coast.read("places.json")) as running:
        running.wait_for_run(running.post("/api/sweeps", {"name": "One", "plan": PLAN})["run_id"])
        yield running


def companies(app: Application) -> list[dict[str, Any]]:
    page = app.get("/api/businesses?limit=500")
    at = page["columns"].index("id")
    result = (app.get(f"/api/businesses/{row[at]}/company") for row in page["rows"])
    return [company for company in result if company]


def test_a_company_is_joined_with_its_officers_and_its_kin(app: Application) -> None:
    found = companies(app)
    assert len(found) > 20
    assert all(company["confidence"] >= 0.8 and company["incorporated"] for company in found)
    assert sum(bool(company["officers"]) for company in found) > 0.9 * len(found)
    assert any(company["parent"] and company["kin"] for company in found)
    run = app.get("/api/runs")[0]
    assert {lane["source"] for lane in app.get(f"/api/runs/{run['id']}")["lanes"]} == {
        "listing_service",
        "company_register",
    }


def test_an_estimate_tells_what_facts_bring_and_cost(app: Application, coast: Coast) -> None:
    facts = {fact["id"]: fact for fact in app.post("/api/sweeps/estimate", PLAN)["facts"]}
    assert {name for name, fact in facts.items() if fact["chosen"]} == set(PLAN["facts"])
    assert facts["company"]["basis"].startswith("of ")  # by what is held
    assert 0.2 < facts["company"]["share"] < 1
    assert facts["social"]["basis"] == "a rough guess"  # never asked here
    terms = coast.settings.sources["company_register"]
    assert isinstance(terms, SourceSettings)
    result = app.post("/api/sweeps/estimate", PLAN)
    without = app.post("/api/sweeps/estimate", PLAN | {"facts": ["website"]})
    assert result["cost"] - without["cost"] == pytest.approx(facts["company"]["cost"], rel=0.01)
    assert failing(app, "POST", "/api/sweeps/estimate", PLAN | {"facts": ["contacts"]})[0] == 422


def test_rules_on_pages_and_age_act_once_these_are_known(app: Application) -> None:
    rules = {"pages_never": ["the"], "founded_from": "2015-01-01"}
    plan = PLAN | {"trades": ["florists"], "rules": rules}
    run = app.wait_for_run(app.post("/api/sweeps", {"name": "Two", "plan": plan})["run_id"])
    reasons = " / ".join(run["rejected"])
    assert "pages mention “the”" in reasons
    assert ", before 2015-01-01" in reasons
    assert run["held"] > 0  # what was not read or is not known rejects nobody


def test_a_region_and_a_trade_of_ones_own_can_be_planned_with(app: Application) -> None:
    shape = {"type": "FeatureCollection", "features": [
        {"type": "Feature", "properties": {"name": "Ellery Shire"}, "geometry": {"type": "Polygon", "coordinates": [SQUARE]}}
    ]}  # fmt: skip
    (made,) = app.post("/api/regions", {"text": json.dumps(shape), "name": "x"})
    assert (made["name"], made["within"]) == ("Ellery Shire", "imported")
    assert [item["name"] for item in app.get("/api/regions?q=ellery")] == ["Ellery Shire"]
    assert {"New Zealand", "Norway"} <= {
        item["name"] for q in ("new z", "norw") for item in app.get(f"/api/regions?q={q.replace(' ', '%20')}")
    }
    areas = app.get(f"/api/regions/{made['id']}/areas")["areas"]
    held = app.post("/api/territories/held", {"areas": areas})
    assert held["total"] == sum(held["trades"].values()) == len(held["pins"]) > 50
    own = app.post("/api/trades", {"label": "Kelp farm", "words": ["seaweed grower"], "parent": "boatyards"})
    result = app.post("/api/sweeps/estimate", PLAN | {"trades": [own["id"]], "areas": areas})
    assert result["trades"][0]["trade"] == own["id"]
    app.post("/api/sweeps", {"name": "Kelp", "plan": PLAN | {"trades": [own["id"]]}})
    status, error = failing(app, "DELETE", f"/api/trades/{own['id'].replace('/', '%2F')}")
    assert (status, "it stays" in error["what"]) == (422, True)


def test_growth_tells_of_every_run_and_a_run_can_be_ended_early(app: Application) -> None:
    first = app.get("/api/sweeps")[-1]
    app.wait_for_run(app.post(f"/api/sweeps/{first['id']}/runs")["run_id"])
    grown = app.get(f"/api/sweeps/{first['id']}/growth")
    assert len(grown) == 2
    assert grown[0]["new"] == grown[0]["seen"] == grown[0]["so_far"]
    assert grown[1]["so_far"] == grown[0]["so_far"] + grown[1]["new"]
    changes = app.get("/api/changes?limit=5000")
    counted = Counter(item["kind"] for item in changes["items"])
    assert len(changes["items"]) == changes["total"]
    assert counted["new"] == grown[1]["new"]
    assert counted["gone"] == grown[1]["gone"]
    assert len({i["business_id"] for i in changes["items"] if i["kind"] == "listing"}) == grown[1]["changed"]
    assert app.get("/api/changes?limit=1")["total"] == changes["total"]  # a list that was cut says so
    wide = PLAN | {"trades": ["florists", "vets", "photographers"], "areas": [circle(-37.0, 160.0, 60_000)]}
    run_id = app.post("/api/sweeps", {"name": "Wide", "plan": wide})["run_id"]
    app.post(f"/api/runs/{run_id}/end")
    run = app.wait_for_run(run_id)
    assert run["state"] == "done"
    assert run["progress"]["queries_left"] == run["progress"]["audits_left"] == 0
    assert "ended" in run["why"]


def test_a_budget_in_money_stops_a_source(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> None:
    dear = coast.settings.sources["listing_service"].model_copy(update={"cost_per_row": 0.1})
    settings = coast.settings.model_copy(update={"sources": {**coast.settings.sources, "listing_service": dear}})
    with application(tmp_path_factory.mktemp("dear"), settings, coast.read("places.json")) as app:
        plan = PLAN | {"facts": [], "most_cost": 3.0}
        run = app.wait_for_run(app.post("/api/sweeps", {"name": "x", "plan": plan})["run_id"])
    assert f"budget of {settings.currency} 3.00" in run["why"]
    assert 3.0 <= run["cost"] < 10


def test_a_plan_is_saved_for_later_edited_and_an_earlier_run_keeps_its_own(app: Application) -> None:
    later = PLAN | {"trades": ["opticians"], "facts": ["website"], "wanted": 5}
    saved = app.post("/api/sweeps", {"name": "Later", "plan": later, "start": False})
    assert saved["run_id"] is None
    sweep = next(item for item in app.get("/api/sweeps") if item["id"] == saved["sweep_id"])
    assert (sweep["last_run"], sweep["plan"]["trades"]) == (None, ["opticians"])
    first = app.post(f"/api/sweeps/{sweep['id']}/runs")["run_id"]
    app.wait_for_run(first)
    edited = {"name": "Later, wider", "plan": later | {"trades": ["vets"]}, "start": False}
    assert app.put(f"/api/sweeps/{sweep['id']}", edited)["run_id"] is None
    after = next(item for item in app.get("/api/sweeps") if item["id"] == sweep["id"])
    assert (after["name"], after["plan"]["trades"]) == ("Later, wider", ["vets"])
    second = app.post(f"/api/sweeps/{sweep['id']}/runs")["run_id"]
    app.wait_for_run(second)
    assert [app.get(f"/api/runs/{run}")["plan"]["trades"] for run in (first, second)] == [["opticians"], ["vets"]]
    assert failing(app, "PUT", "/api/sweeps/9999", edited)[0] == 404
    assert failing(app, "PUT", f"/api/sweeps/{sweep['id']}", edited | {"plan": PLAN | {"trades": []}})[0] == 422
