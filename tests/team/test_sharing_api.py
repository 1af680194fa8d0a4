"""Lists and territories that are not for everybody, businesses handed out by rule, and each one's own day."""

import re
from collections.abc import Iterator
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from openacorn.api.routers import operations, routers
from tests.application import Application, application
from tests.conftest import TWO_SOURCES, Coast, Swept, circle
from tests.team.person import Person, first_owner, invited

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("sharing")
    swept(TWO_SOURCES, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def ada(app: Application) -> Person:
    return first_owner(app)


@pytest.fixture(scope="module")
def bo(ada: Person) -> Person:
    own = ["people", "work", "send", "spend", "export", "offers"]
    return invited(ada, "bo@wrenfold.example", "Bo Reed", "caller", own)


@pytest.fixture(scope="module")
def cy(ada: Person) -> Person:
    own = ["people", "work", "send", "spend", "export", "offers"]
    return invited(ada, "cy@wrenfold.example", "Cy Marsh", "caller", own)


def number_of(ada: Person, name: str) -> int:
    return next(int(one["id"]) for one in ada.get("/api/colleagues") if one["name"] == name)


def ids(person: Person, query: str = "", limit: int = 9) -> list[int]:
    return [int(row[0]) for row in person.get(f"/api/businesses?columns=id&limit={limit}&{query}")["rows"]]


@pytest.fixture(scope="module")
def secret(bo: Person) -> tuple[int, list[int]]:
    """A list of Bo's that nobody else sees, with a business that is due and one in talks."""
    number = int(bo.do("POST", "/api/shortlists", {"name": "Bo's own"})["id"])
    chosen = ids(bo)[:3]
    bo.do("POST", f"/api/shortlists/{number}/members", {"ids": chosen})
    move = {"ids": chosen[:1], "stage": "talking", "owner": "Bo Reed", "follow_up": "2020-01-01"}
    bo.do("POST", f"/api/shortlists/{number}/members/move", move)
    shared = bo.do("PUT", f"/api/shortlists/{number}/sharing", {"private": True})
    assert (shared["private"], shared["mine"], shared["made_by"]) == (True, True, "Bo Reed")
    return number, chosen


def test_by_no_route_does_a_colleague_get_at_a_private_list(cy: Person, secret: tuple[int, list[int]]) -> None:
    """Every route about a list, as the API's own table has them, and every other way in."""
    number, chosen = secret
    about_lists = [(method, path) for method, path in operations(routers()) if "{shortlist_id}" in path]
    assert len(about_lists) >= 20
    bodies: dict[str, Any] = {
        "members": {"ids": chosen}, "remove": {"ids": chosen}, "move": {"ids": chosen, "stage": "lost"},
        "mailings": {}, "sharing": {"private": False},
    }  # fmt: skip
    for method, path in about_lists:
        address = re.sub(r"{form}", "gpx" if "round" in path else "html", path.replace("{shortlist_id}", str(number)))
        body = bodies.get(address.rpartition("/")[2], {"name": "Mine now"} if method == "PATCH" else None)
        answer = cy.ask(method, f"/api{address}", body)
        assert (answer.status, answer.what) == (404, f"there is no shortlist {number}"), (method, path, answer.body)
    assert number not in [one["id"] for one in cy.get("/api/shortlists")]
    assert str(number) not in cy.get("/api/businesses/facets")["counts"]["shortlist"]
    for query in (f"shortlist={number}", f"shortlist=!{number}", f"shortlist=^{number}"):
        for path in ("/api/businesses?", "/api/businesses/facets?", "/api/businesses/points?"):
            assert cy.ask("GET", path + query).status == 422
    assert cy.ask("POST", f"/api/businesses/export/csv?shortlist={number}").status == 422
    tag = {"kind": "tag", "word": "x", "filter": {"shortlist": str(number)}}
    assert cy.ask("POST", "/api/actions", tag).status == 422
    assert cy.ask("POST", "/api/actions", {"kind": "shortlist", "word": str(number), "ids": chosen}).status == 404
    assert cy.ask("POST", "/api/sequences/1/candidates", {"shortlist": number}).status == 404
    assert cy.ask("POST", "/api/message-template-fit", {"shortlist": number, "template": 1}).status in {404, 422}
    assert number not in cy.get(f"/api/businesses/{chosen[0]}")["shortlists"]
    row = cy.get(f"/api/businesses?columns=shortlists&ids={chosen[0]}&state=all")["rows"][0]
    assert row == [0]
    assert chosen[0] not in [call["id"] for call in cy.get("/api/calls")]
    assert not [one for one in cy.get("/api/shortlists") if one["name"] == "Bo's own"]
    assert cy.ask("POST", "/api/shortlists", {"name": "Bo's own"}).status == 409, (
        "the name is taken; whose it is is not said"
    )


def test_whom_it_is_shared_with_sees_it_and_a_manager_does(
    ada: Person, bo: Person, cy: Person, secret: tuple[int, list[int]]
) -> None:
    number, chosen = secret
    assert ada.get(f"/api/shortlists/{number}/board")["shown"] == 3
    assert chosen[0] in [call["id"] for call in bo.get("/api/calls")]
    bo.do("PUT", f"/api/shortlists/{number}/sharing", {"private": True, "people": [number_of(ada, "Cy Marsh")]})
    assert cy.get(f"/api/shortlists/{number}/board")["shown"] == 3
    assert len(ids(cy, f"shortlist={number}&state=all")) == 3
    refused = cy.ask("PUT", f"/api/shortlists/{number}/sharing", {"private": False})
    assert (refused.status, refused.what) == (
        403,
        "only the person who made it, an owner or a manager can change who sees it",
    )
    bo.do("PUT", f"/api/shortlists/{number}/sharing", {"private": True})
    assert cy.ask("GET", f"/api/shortlists/{number}/board").status == 404
    ada.do("PUT", f"/api/shortlists/{number}/sharing", {"private": False})
    assert cy.get(f"/api/shortlists/{number}/board")["shown"] == 3
    assert bo.get(f"/api/shortlists/{number}/sharing")["made_by"] == "Bo Reed", "it stays his"
    ada.do("PUT", f"/api/shortlists/{number}/sharing", {"private": True})


def test_a_territory_is_shared_likewise(ada: Person, bo: Person, cy: Person) -> None:
    made = bo.do("POST", "/api/territories", {"name": "Bo's harbour", "areas": [circle(-37.02, 160.02, 3000.0)]})
    bo.do("PUT", f"/api/territories/{made['id']}/sharing", {"private": True})
    assert [one["name"] for one in bo.get("/api/territories")] == ["Bo's harbour"]
    assert cy.get("/api/territories") == []
    assert cy.ask("DELETE", f"/api/territories/{made['id']}").status == 404
    assert ada.get("/api/territories")[0]["private"] is True
    bo.do("PUT", f"/api/territories/{made['id']}/sharing", {"private": True, "people": [number_of(ada, "Cy Marsh")]})
    assert [one["name"] for one in cy.get("/api/territories")] == ["Bo's harbour"]


def test_who_is_put_on_a_list_goes_to_people_by_rule(ada: Person, bo: Person, cy: Person) -> None:
    area = ada.do("POST", "/api/territories", {"name": "Centre", "areas": [circle(-37.02, 160.02, 2500.0)]})["id"]
    rules = [
        {"trade": "vets", "territory_id": area, "people": ["Ada Finch"]},
        {"trade": "vets", "people": ["Bo Reed", "Cy Marsh"]},
    ]
    assert bo.ask("PUT", "/api/assignment-rules", {"rules": rules}).status == 403
    ada.do("PUT", "/api/assignment-rules", {"rules": rules})
    everybody = ids(ada, "trade=vets", 30) + ids(ada, "trade=photographers", 5)
    number = bo.do("POST", "/api/shortlists", {"name": "Spring"})["id"]
    bo.do("POST", f"/api/shortlists/{number}/members", {"ids": everybody})
    members = bo.get(f"/api/shortlists/{number}/board")["members"]
    by_owner: dict[str, list[Any]] = {}
    for member in members:
        by_owner.setdefault(member["owner"], []).append(member)
    assert {one["id"] for one in by_owner["Ada Finch"]} <= {one["id"] for one in members if one["trade"] == "vets"}
    assert {one["trade"] for one in by_owner[""]} == {"photographers"}
    assert abs(len(by_owner["Bo Reed"]) + 1 - len(by_owner["Cy Marsh"])) <= 1, "in turn; Bo had one already"
    history = bo.get(f"/api/businesses/{by_owner['Cy Marsh'][0]['id']}/activities")
    assert (history[0]["text"], history[0]["by"]) == ("now with Cy Marsh", "Bo Reed")
    ada.do("PUT", "/api/assignment-rules", {"rules": [*rules, {"people": ["Cy Marsh"]}]})
    done = ada.do("POST", f"/api/shortlists/{number}/assign")
    assert done == {"assigned": {"Cy Marsh": len(by_owner[""])}, "left": 0}
    assert ada.ask("PUT", "/api/assignment-rules", {"rules": [{"people": ["Ada"], "territory_id": 999}]}).status == 404
    assert (
        ada.ask("PUT", "/api/assignment-rules", {"rules": [{"people": ["Ada"], "trade": "alchemists"}]}).status == 422
    )
    assert len(ada.get("/api/assignment-rules")["rules"]) == 3, "what was refused changed nothing"


def test_each_has_their_own_day(
    app: Application, ada: Person, bo: Person, cy: Person, secret: tuple[int, list[int]]
) -> None:
    _, chosen = secret
    mine = bo.get("/api/my-day")
    assert mine["name"] == "Bo Reed"
    assert [call["id"] for call in mine["due"]] == [chosen[0]]
    assert mine["new"]
    assert chosen[0] not in {one["id"] for one in mine["new"]}, "what is begun is not new"
    theirs = cy.get("/api/my-day")
    assert theirs["due"] == []
    assert not {one["id"] for one in theirs["new"]} & {one["id"] for one in mine["new"]}
    assert cy.get("/api/my-day?name=Bo%20Reed")["name"] == "Cy Marsh", "signed in, it is one's own"
    business = mine["new"][0]["id"]
    bo.do("POST", f"/api/businesses/{business}/appointments", {"at": soon(), "place": "there"})
    mine = bo.get("/api/my-day")
    assert [one["business_id"] for one in mine["appointments"]] == [business]
    assert cy.get("/api/my-day")["appointments"] == []
    account = next(one for one in ada.get("/api/team")["people"] if one["name"] == "Bo Reed")
    body = {name: account[name] for name in ("id", "email", "role", "own_permissions")} | {"name": "Bo Reed-Marsh"}
    ada.do("PUT", "/api/team", body)
    renamed = bo.get("/api/my-day")
    assert renamed["name"] == "Bo Reed-Marsh"
    assert (len(renamed["new"]), len(renamed["due"])) == (len(mine["new"]), len(mine["due"])), "it all stays theirs"
    assert ["Bo Reed-Marsh", "Cy Marsh"] in [rule["people"] for rule in ada.get("/api/assignment-rules")["rules"]]


def soon() -> str:
    """A moment of today, on this machine's clock."""
    now = datetime.now().astimezone()
    later = now + timedelta(minutes=1)
    return (later if later.date() == now.date() else now).isoformat(timespec="seconds")
