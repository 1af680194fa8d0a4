"""What each may do at most: warned at 80 %, stopped at 100 % by everything that spends, with who can raise it."""

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.team.allowance import Allowance, AllowanceUse
from tests.application import Application, application
from tests.conftest import VETS, Coast, Swept
from tests.team.person import Person, first_owner, invited

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("allowances")
    swept(VETS, folder)
    priced = coast.settings.source("listing_service").model_copy(update={"cost_per_request": 0.5})
    settings = coast.settings.model_copy(update={"sources": {**coast.settings.sources, "listing_service": priced}})
    with application(folder, settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def ada(app: Application) -> Person:
    return first_owner(app)


@pytest.fixture(scope="module")
def bo(ada: Person) -> Person:
    return invited(ada, "bo@wrenfold.example", "Bo Reed", "manager")


def limited(ada: Person, name: str, **most: float) -> None:
    account = next(one["id"] for one in ada.get("/api/team")["people"] if one["name"] == name)
    ada.do("PUT", f"/api/spending/{account}", most)


def use_of(person: Person, what: str) -> dict[str, Any]:
    return next(one for one in person.get("/api/allowances") if one["what"] == what)


@given(st.floats(0, 1e6), st.one_of(st.none(), st.floats(0, 1e6)))
def test_said_at_eighty_per_cent_and_stopped_at_a_hundred(used: float, most: float | None) -> None:
    use = AllowanceUse(Allowance.EXPORTS, used, most)
    if most is None:
        assert (use.state, use.left()) == ("", None)
    else:
        assert use.state == ("reached" if used >= most else "near" if used >= most * 0.8 else "")
        assert (use.left() == 0) == (used >= most)
    assert "files taken out this month" in use.sentence


def test_files_are_counted_and_end(ada: Person, bo: Person) -> None:
    limited(ada, "Bo Reed", exports=5)
    assert use_of(bo, "exports") == {
        "what": "exports",
        "used": 0.0,
        "most": 5.0,
        "state": "",
        "sentence": "0 of 5 files taken out this month",
    }
    number = bo.do("POST", "/api/shortlists", {"name": "To take along"})["id"]
    ways = [
        ("POST", "/api/businesses/export/csv"), ("GET", f"/api/shortlists/{number}/call-list.csv"),
        ("POST", "/api/everything.ndjson"), ("GET", f"/api/shortlists/{number}/list.html"),
    ]  # fmt: skip
    for method, path in ways:
        assert bo.ask(method, path).status == 200, path
    assert (use_of(bo, "exports")["used"], use_of(bo, "exports")["state"]) == (4.0, "near")
    assert bo.ask("POST", "/api/everything.sqlite").status == 200
    for method, path in ways:
        refused = bo.ask(method, path)
        assert refused.status == 409, path
        assert refused.json["error"] == {
            "what": "your allowance of 5 files taken out a month is used up", "where": "allowance",
            "remedy": "ask Ada Finch or Bo Reed to raise it, under Team",
        }  # fmt: skip
    assert ada.ask("POST", "/api/businesses/export/csv").status == 200, "others go on"
    limited(ada, "Bo Reed", exports=6)
    assert bo.ask("POST", "/api/businesses/export/csv").status == 200, "raised"
    limited(ada, "Bo Reed")
    assert use_of(bo, "exports")["most"] is None


def test_contacts_of_a_day_are_counted_by_what_is_noted(ada: Person, bo: Person) -> None:
    limited(ada, "Bo Reed", contacts=2)
    ids = [row[0] for row in bo.get("/api/businesses?columns=id&limit=3")["rows"]]
    for number in ids[:2]:
        bo.do("POST", f"/api/businesses/{number}/contacts", {"result": "no answer"})
    refused = bo.ask("POST", f"/api/businesses/{ids[2]}/contacts", {"result": "no answer"})
    assert (refused.status, refused.what) == (409, "your allowance of 2 people contacted a day is used up")
    assert ada.ask("POST", f"/api/businesses/{ids[2]}/contacts", {"result": "no answer"}).status == 201
    assert bo.ask("POST", f"/api/businesses/{ids[2]}/activities", {"text": "a note is no contact"}).status == 201
    limited(ada, "Bo Reed")


def test_a_run_stops_at_what_its_beginner_may_spend(app: Application, ada: Person, bo: Person) -> None:
    limited(ada, "Bo Reed", cost=1.0)
    run = bo.do("POST", "/api/sweeps", {"name": "Bo's", "plan": VETS})["run_id"]
    bos = ended(bo, run)
    assert "spent on sources a month for the person who began this run" in str(bos["notes"])
    assert 1.0 <= bos["cost"] <= 3.0, "what was asked beside it is still paid for"
    refused = bo.ask("POST", "/api/sweeps", {"name": "Bo's second", "plan": VETS})
    assert (refused.status, refused.json["error"]["where"]) == (409, "allowance")
    run = ada.do("POST", "/api/sweeps", {"name": "Ada's", "plan": {**VETS, "most_requests": 2}})["run_id"]
    assert ended(ada, run)["requests"] >= 2
    spent = ada.get("/api/spending")
    mine = {one["sweep"]: one for one in spent["runs"]}
    assert (mine["Bo's"]["person"], mine["Bo's"]["cost"]) == ("Bo Reed", bos["cost"])
    assert spent["cost"] == pytest.approx(sum(one["cost"] for one in spent["sources"]))
    assert spent["cost"] == pytest.approx(sum(one["cost"] for one in spent["runs"]))
    by_person = {one["name"]: {use["what"]: use["used"] for use in one["allowances"]} for one in spent["people"]}
    assert by_person["Bo Reed"]["cost"] == pytest.approx(bos["cost"])
    assert spent["cost_per_won"] is None
    assert bo.ask("PUT", "/api/spending/999", {"cost": 1}).status == 404
    limited(ada, "Bo Reed")


def ended(person: Person, run: int) -> dict[str, Any]:
    """A run once it has ended, as somebody who is signed in sees it."""
    until = time.monotonic() + 120
    while time.monotonic() < until:
        found: dict[str, Any] = person.get(f"/api/runs/{run}")
        if found["state"] != "running":
            return found
        time.sleep(0.2)
    raise AssertionError("the run does not end")
