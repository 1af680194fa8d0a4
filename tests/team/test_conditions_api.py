"""Two people and programs at once: nothing is lost, nothing is done twice, nobody asks without end; who changed what is said."""

import asyncio
import json
import threading
import urllib.request
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path

import pytest

from tests.application import Application, application
from tests.conftest import VETS, Coast, Swept
from tests.team.person import Person, first_owner, invited
from tests.test_mcp_server import client, told

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("conditions")
    swept(VETS, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def ada(app: Application) -> Person:
    return first_owner(app)


@pytest.fixture(scope="module")
def bo(ada: Person) -> Person:
    return invited(ada, "bo@wrenfold.example", "Bo Reed", "manager")


def test_the_second_of_two_learns_of_the_first(ada: Person, bo: Person) -> None:
    loaded = ada.ask("GET", "/api/settings")
    assert loaded.headers["Cache-Control"] == "no-store"
    version = loaded.headers["ETag"]
    assert bo.ask("GET", "/api/settings").headers["ETag"] == version
    assert ada.ask("GET", "/api/settings", If_None_Match=version).status == 304
    saved = bo.ask("PUT", "/api/settings", {"values": {"agency": "Bo's Studio"}}, If_Match=version)
    assert saved.status == 200
    late = ada.ask("PUT", "/api/settings", {"values": {"agency": "Ada's Studio"}}, If_Match=version)
    assert late.status == 412
    assert late.json["error"] == {
        "what": "Bo Reed changed this meanwhile", "where": "changed", "remedy": "save again to keep yours, or reload to see theirs",
    }  # fmt: skip
    assert ada.get("/api/status")["agency"] == "Bo's Studio", "nothing was overwritten"
    assert ada.ask("PUT", "/api/settings", {"values": {"agency": "Ada's Studio"}}).status == 200, "keep mine"
    assert ada.ask("PUT", "/api/settings", {"values": {"agency": "X"}}, If_Match="*").status == 200


def test_of_twenty_who_save_the_same_version_at_once_one_is_first(ada: Person) -> None:
    version = ada.ask("GET", "/api/settings").headers["ETag"]
    statuses: list[int] = []

    def save(number: int) -> None:
        body = {"values": {"agency": f"Studio {number}"}}
        statuses.append(ada.ask("PUT", "/api/settings", body, If_Match=version).status)

    threads = [threading.Thread(target=save, args=(number,)) for number in range(20)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(statuses) == [200] + [412] * 19


def test_what_is_sent_twice_under_one_key_is_done_once(ada: Person, bo: Person) -> None:
    body = {"name": "Once"}
    first = ada.ask("POST", "/api/shortlists", body, Idempotency_Key="k-1")
    again = ada.ask("POST", "/api/shortlists", body, Idempotency_Key="k-1")
    assert (again.status, again.body) == (first.status, first.body)
    assert again.headers["Idempotent-Replayed"] == "true"
    assert sum(one["name"] == "Once" for one in ada.get("/api/shortlists")) == 1
    assert ada.ask("POST", "/api/shortlists", {"name": "Another"}, Idempotency_Key="k-1").status == 422
    assert bo.ask("POST", "/api/shortlists", {"name": "Bo's once"}, Idempotency_Key="k-1").status == 201, (
        "keys are one's own"
    )
    assert ada.ask("POST", "/api/shortlists", {"name": "Once"}, Idempotency_Key="k-2").status == 409, (
        "a new try is judged anew"
    )
    log = ada.get("/api/activity-log?author=Ada+Finch&what=add+shortlist")["activities"]
    assert len(log) == 1, "what was answered again was not done again"


def test_a_token_asks_so_often_and_no_more(app: Application, ada: Person) -> None:
    made = ada.do("POST", "/api/credentials/tokens", {"name": "Busy", "scopes": ["see"], "until": "2099-01-01"})
    program = Person(app, token=made["secret"])
    first = program.ask("GET", "/api/columns")
    assert first.headers["RateLimit-Limit"] == "600"
    assert 0 <= int(first.headers["RateLimit-Remaining"]) < 600
    assert "RateLimit-Limit" not in ada.ask("GET", "/api/columns").headers
    answers = [program.ask("GET", "/api/columns") for _ in range(620)]
    refused = [one for one in answers if one.status == 429]
    left = [int(one.headers["RateLimit-Remaining"]) for one in answers]
    assert refused or any(after > before for before, after in pairwise(left)), "or a new minute began meanwhile"
    assert all(1 <= int(one.headers["Retry-After"]) <= 60 for one in refused)
    assert ada.ask("GET", "/api/columns").status == 200, "others are not held up"


def test_who_else_has_a_business_open_is_said_before_both_ring(ada: Person, bo: Person) -> None:
    number = ada.get("/api/businesses?limit=1&columns=id")["rows"][0][0]
    path = f"/api/businesses/{number}/presence"
    assert ada.do("POST", path, {"leaves": False}) == []
    assert bo.do("POST", path, {"leaves": False}) == ["Ada Finch"]
    assert ada.do("POST", path, {"leaves": False}) == ["Bo Reed"]
    assert bo.do("POST", path, {"leaves": True}) == ["Ada Finch"]
    assert ada.do("POST", path, {"leaves": False}) == []


def test_what_one_does_reaches_the_others_screen_as_a_number(app: Application, ada: Person, bo: Person) -> None:
    number = ada.get("/api/businesses?limit=1&columns=id")["rows"][0][0]
    request = urllib.request.Request(f"{app.url}/api/events", headers={"Cookie": f"__Host-acorn={ada.cookie}"})
    with urllib.request.urlopen(request, timeout=30) as stream:
        before = json.loads(stream.readline().removeprefix(b"data: "))
        bo.do("POST", f"/api/businesses/{number}/activities", {"text": "rang, nobody there", "by": "somebody else"})
        stream.readline()
        after = json.loads(stream.readline().removeprefix(b"data: "))
    assert after["contacts"] == before["contacts"] + 1
    step = ada.get(f"/api/businesses/{number}/activities")[0]
    assert step["by"] == "Bo Reed", "the author is who is signed in, whatever is sent"


def test_what_one_did_another_undoes(ada: Person, bo: Person) -> None:
    number = ada.get("/api/businesses?limit=1&columns=id")["rows"][0][0]
    before = ada.get("/api/businesses?state=rejected")["total"]
    done = bo.do("POST", "/api/actions", {"kind": "reject", "ids": [number], "word": "closed"})
    assert done["by"] == "Bo Reed"
    assert ada.get("/api/businesses?state=rejected")["total"] == before + 1
    assert ada.do("POST", f"/api/actions/{done['id']}/undo")["undone"] is True
    assert ada.get("/api/businesses?state=rejected")["total"] == before


def test_an_assistant_program_does_what_its_token_may(app: Application, ada: Person) -> None:
    until = "2099-01-01"
    secrets = {
        name: ada.do("POST", "/api/credentials/tokens", {"name": name, "scopes": scopes, "until": until})["secret"]
        for name, scopes in (("reads", ["see"]), ("works", ["see", "people", "work"]))
    }
    number = ada.get("/api/businesses?limit=1&columns=id")["rows"][0][0]
    note = {"business_id": number, "text": "Ask for Petra"}

    async def ask() -> None:
        async with client(app.url) as speaking:
            assert "sign" in str((await speaking.call_tool("list_shortlists", {})).content)
        async with client(app.url, "--write", "--token", secrets["reads"]) as speaking:
            assert (await told(speaking, "search_businesses", limit=3))["total"] > 3
            assert "does not permit" in str((await speaking.call_tool("add_note", note)).content)
        async with client(app.url, "--write", "--token", secrets["works"]) as speaking:
            await told(speaking, "add_note", **note)

    asyncio.run(ask())
    step = ada.get(f"/api/businesses/{number}/activities")[0]
    assert (step["by"], step["text"]) == ("Ada Finch", "Ask for Petra"), "in the name of who made the token"
    assert ada.get("/api/activity-log")["activities"][0]["by_token"] == "works"
