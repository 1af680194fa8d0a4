"""Look-ups about one business, by recipes made from one pasted question: a people directory and a register that are none of ours."""

import asyncio
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from openacorn.audit.lookups import PeopleFinder
from openacorn.core.audit.evidence import ListingFacts
from openacorn.core.audit.offsite import PeopleSearch
from openacorn.core.gather.api_check import api_of
from openacorn.gather.look_ups import LookUp
from openacorn.net.client import Client
from openacorn.settings import Settings
from tests.application import Application
from tests.gather.api_servers import KEYS, service
from tests.gather.api_servers import Server as Places
from tests.gather.lookup_servers import Server
from tests.gather.test_apis import AREA, HOME, found, kept
from tests.running import new_application, served

pytestmark = pytest.mark.world


@pytest.fixture
def server() -> Iterator[Server]:
    with served(Server()) as running:
        yield running


@pytest.fixture
def places() -> Iterator[Places]:
    with service("lantern") as running:
        yield running


@pytest.fixture
def app(server: Server, places: Places, tmp_path: Path) -> Iterator[Application]:
    hosts = [f"127.0.0.1:{each.server_port}" for each in (server, places)]
    with new_application(tmp_path / "data", home=HOME, region="AU", trusted_hosts=hosts, browser_looks=0) as running:
        yield running


def gannet(app: Application, server: Server) -> dict[str, Any]:
    answer: dict[str, Any] = app.post("/api/apis/sample", {
        "address": f"http://127.0.0.1:{server.server_port}/v3/firms/harbour-vets.example/people",
        "business": {"domain": "harbour-vets.example"},
        "recipe": {"title": "Gannet", "address": "x", "pace_s": 0, "key_name": "X-Gannet", "secret": "gan-1"},
    })  # fmt: skip
    return answer


def dunlin(app: Application, server: Server) -> dict[str, Any]:
    answer: dict[str, Any] = app.post("/api/apis/sample", {
        "address": f"http://127.0.0.1:{server.server_port}/search",
        "body": json.dumps({"legal_name": "Harbour Vets", "seat": "Brindle Quay", "active": True}),
        "business": {"name": "Harbour Vets", "town": "Brindle Quay"},
        "recipe": {"title": "Dunlin", "address": "x", "pace_s": 0, "key_name": "token", "key_in": "query", "secret": "dun-2"},
    })  # fmt: skip
    return answer


def paths(answer: dict[str, Any]) -> dict[str, str]:
    return {rule["field"]: rule["path"] for rule in answer["recipe"]["fields"]}


def test_a_look_up_is_made_from_one_question_about_one_business(app: Application, server: Server) -> None:
    people = gannet(app, server)
    assert people["recipe"]["address"].endswith("/v3/firms/{domain}/people")
    assert (people["recipe"]["by"], people["recipe"]["items"]) == ("business", "found")
    assert paths(people) | {"source_id": ""} == {
        "person": "fullName", "role": "jobTitle", "profile": "link", "name": "employer.title", "source_id": "",
    }  # fmt: skip
    assert [row["person"] for row in people["rows"]] == ["Orla Quint", "Piet Marsh"]
    register = dunlin(app, server)
    assert json.loads(register["recipe"]["body"]) == {"legal_name": "{name}", "seat": "{town}", "active": True}
    assert paths(register)["officers"] == "directors[].join(', ', [name, function || ''])"
    assert register["rows"][2]["officers"] == "Ansel Vets, Director"


def test_a_plan_asks_its_look_ups_about_every_business_and_keeps_who_is_surely_there(
    app: Application, server: Server, places: Places
) -> None:
    recipe = dunlin(app, server)["recipe"]
    register = kept(app, recipe, secret="dun-2")
    listed = kept(app, found(app, places)["recipe"], secret=KEYS["lantern"])
    assert {item["id"]: item["by"] for item in app.get("/api/sources")}[register] == "business"
    plan = {"trades": ["florists"], "areas": [AREA], "sources": [listed, register], "facts": ["website"], "wanted": 3}
    run = app.wait_for_run(app.post("/api/sweeps", {"name": "x", "plan": plan})["run_id"])
    assert run["state"] == "done", run
    rows = app.get("/api/businesses?limit=500&columns=id,name")["rows"]
    assert len(rows) >= 3
    for business, name in rows:
        (person,) = app.get(f"/api/businesses/{business}")["people"]
        assert (person["name"], person["roles"]) == (f"Ansel {name.split()[1]}", ["director (Dunlin)"])
    assert {asked["seat"] for asked in server.asked[1:]} == {"Brindle Quay"}


def ask(look_up: LookUp, domain: str) -> PeopleSearch:
    async def asking() -> PeopleSearch:
        settings = Settings(trusted_hosts=[look_up.recipe.address.split("/")[2]])
        async with Client(settings) as client:
            facts = ListingFacts("Harbour Vets", None, "", "", town="Brindle Quay", trade="vets")
            return await PeopleFinder(client, settings).find(facts, domain, (look_up,), directory=False)

    return asyncio.run(asking())


def test_persons_are_asked_for_by_the_domain_and_a_refusal_is_said(app: Application, server: Server) -> None:
    recipe = gannet(app, server)["recipe"]
    plain = {name: value for name, value in recipe.items() if name not in {"id", "by", "secret_kept"}}
    look_up = LookUp("api:1", api_of(plain), "gan-1")
    assert [person.name for person in ask(look_up, "harbour-vets.example").people] == ["Orla Quint", "Piet Marsh"]
    asked = len(server.asked)
    assert ask(look_up, "").people == ()
    assert len(server.asked) == asked  # without a domain there is nothing to ask it
    refused = ask(LookUp("api:1", look_up.recipe, "wrong"), "harbour-vets.example")
    assert (refused.people, "401" in refused.failed) == ((), True)
