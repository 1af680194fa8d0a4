"""What an audit tells of people and addresses, and results of verification that come from elsewhere."""

import urllib.request
from collections.abc import Iterator
from typing import Any

import pytest

from tests.api.test_api import PLAN
from tests.application import Application, application
from tests.asking import failing
from tests.conftest import Coast

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    with application(tmp_path_factory.mktemp("audits"), coast.settings, coast.read("places.json")) as running:
        plan = PLAN | {"facts": ["website", "contacts", "mailboxes", "company"]}
        running.wait_for_run(running.post("/api/sweeps", {"name": "Vets", "plan": plan})["run_id"])
        yield running


def everybody(app: Application) -> list[dict[str, Any]]:
    page = app.get("/api/businesses?limit=500")
    return [app.get(f"/api/businesses/{row[page['columns'].index('id')]}") for row in page["rows"]]


def test_addresses_are_verified_as_they_are_found_and_count_for_reach(app: Application) -> None:
    result = everybody(app)
    mails = [(b, c) for b in result for c in b["contacts"] if c["kind"] == "email"]
    assert len(mails) > 10
    assert all(contact["verified"] and contact["nature"] for _, contact in mails)
    results = {contact["verified"]["result"] for _, contact in mails}
    assert {"valid", "dead"} <= results
    for business, contact in mails:
        channels = {channel["value"]: channel["kind"] for channel in business["channels"]}
        if contact["verified"]["result"] == "dead":
            assert contact["value"] not in channels
        elif contact["verified"]["result"] == "valid" and contact["value"] in channels:
            assert channels[contact["value"]].endswith("address, verified")
    assert any(len(business["people"]) > 0 for business in result)
    assert sum(bool(finding["group"] == "Reputation") for finding in result[0]["findings"]) == 7


def test_another_verifiers_results_are_taken_in_and_score_anew(app: Application) -> None:
    business, contact = next(
        (b, c)
        for b in everybody(app)
        for c in b["contacts"]
        if c["kind"] == "email" and c["verified"]["result"] == "valid"
    )
    answered = app.post("/api/verifications", {"text": f"Email,Status\n{contact['value']},hard bounce\nnobody,ok\n"})
    assert (answered["taken"], answered["strange"]) == ({"dead": 1}, [3])
    after = app.get(f"/api/businesses/{business['id']}")
    assert contact["value"] not in {channel["value"] for channel in after["channels"]}
    assert failing(app, "POST", "/api/verifications", {"text": "name,age\nx,3\n"})[0] == 422
    with urllib.request.urlopen(app.url + "/api/verifications/open", timeout=60) as answer:
        lines = answer.read().decode().splitlines()
    assert lines[0] == "email"
    assert contact["value"] not in lines


def test_numbers_go_to_a_verifier_and_come_back_by_the_columns_named(app: Application) -> None:
    numbers = app.text("/api/verifications/open?of=phone").splitlines()
    assert numbers[0] == "phone"
    business = next(b for b in everybody(app) if b["phone"] in numbers)
    table = f"who,verdict,what\n{business['phone']},connected,cell\n"
    looked = app.post("/api/verifications/columns", {"text": table})
    assert (looked["heads"], looked["rows"], looked["columns"]["result"]) == (["who", "verdict", "what"], 1, "verdict")
    assert failing(app, "POST", "/api/verifications", {"text": table})[0] == 422  # no column is headed as an address's
    columns = {"address": "who", "result": "verdict", "line": "what"}
    answered = app.post("/api/verifications", {"text": table, "columns": columns})
    assert (answered["taken"], answered["lines"]) == ({"valid": 1}, {"mobile": 1})
    after = app.get(f"/api/businesses/{business['id']}")
    assert {"mobile"} == {c["kind"] for c in after["channels"] if c["value"] == business["phone"]}
    assert business["phone"] not in app.text("/api/verifications/open?of=phone").splitlines()
    app.post("/api/verifications", {"text": table.replace("connected", "disconnected"), "columns": columns})
    after = app.get(f"/api/businesses/{business['id']}")
    assert business["phone"] not in {channel["value"] for channel in after["channels"]}


def test_a_site_that_nobody_looked_at_has_no_picture(app: Application) -> None:
    assert failing(app, "GET", "/api/businesses/1/pictures/phone")[0] == 404
    assert failing(app, "GET", "/api/businesses/999999/history")[0] == 404
