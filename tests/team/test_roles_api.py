"""Every route of the API, tried by every role and by nobody; and what a viewer sees, searched for people's data."""

import json
import re
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest

from openacorn.api.routers import operations, routers
from tests.application import Application, application
from tests.conftest import TWO_SOURCES, Coast, Swept
from tests.team.person import Person, first_owner, invited

pytestmark = pytest.mark.world

OPEN = """
GET /health/live | GET /health/ready | GET /me | POST /session | POST /first-owner | POST /new-password
POST /forgotten-password | GET /feeds/{preset_id} | POST /passkey-sign-in | PUT /passkey-sign-in | POST /shared-view
"""
OWN = """
DELETE /session | GET /credentials | POST /credentials/tokens | DELETE /credentials/{number} | DELETE /credentials | PUT /me/password | POST /me/codes
PUT /me/codes | DELETE /me/codes | GET /status | GET /allowances | GET /me/passkeys | POST /me/passkeys | PUT /me/passkeys
DELETE /me/passkeys/{number}
"""
VIEWER = """
GET /metrics | GET /events | GET /countries | GET /map | GET /map/world | GET /map/tiles/{z}/{x}/{y} | GET /places | GET /trades | GET /sources
GET /checks | GET /coverage | GET /businesses | GET /businesses/facets | GET /businesses/points | GET /businesses/compare
GET /businesses/{business_id} | GET /businesses/{business_id}/nearby | GET /businesses/{business_id}/language | GET /sweeps
GET /sweeps/{sweep_id}/growth | GET /territories | GET /regions | GET /regions/{region_id}/areas | GET /services
GET /services/removed | GET /services/{service_id}/versions | GET /angles | GET /columns | GET /exports | GET /insight
GET /insight/table | GET /languages | GET /shortlists | GET /win-model | GET /runs | GET /runs/{run_id} | GET /runs/{run_id}/tiles
GET /runs/{run_id}/events | GET /notices | POST /notices/seen | POST /services/preview | POST /services/{service_id}/preview
POST /territories/held
"""
NOT_A_CALLER = """
POST /businesses/export/{format_id} | GET /presets | POST /presets | POST /presets/{preset_id}/file | POST /presets/{preset_id}/deliver
GET /shortlists/{shortlist_id}/call-list.csv | GET /shortlists/{shortlist_id}/audience.csv | GET /shortlists/{shortlist_id}/labels.pdf
GET /mailings/{number}.{form} | POST /sweeps | PUT /sweeps/{sweep_id} | POST /sweeps/{sweep_id}/runs | POST /sweeps/sample
POST /imports | POST /imports/address | POST /runs/{run_id}/stop | POST /runs/{run_id}/resume | PUT /services/{service_id}
POST /services | DELETE /services/{service_id} | PUT /message-templates | PUT /sequences | PUT /win-model | GET /settings
PUT /settings | GET /team | PUT /team | POST /team/{number}/link | GET /activity-log | GET /activity-log.csv | GET /mailboxes
PUT /mailboxes | PUT /webhooks | GET /webhooks | PUT /text-gateway | PUT /website-hosts | POST /apis | POST /recipes | POST /demo/leave
POST /everything.ndjson | POST /everything.sqlite | POST /everything | GET /backups | POST /backups | POST /backups/key
GET /spending | PUT /spending/{account} | PUT /assignment-rules | GET /view-links | POST /view-links | DELETE /view-links/{number}
GET /territories/{territory_id}/sharing | PUT /territories/{territory_id}/sharing
"""


def listed(text: str) -> set[tuple[str, str]]:
    found = [tuple(part.split()) for line in text.strip().splitlines() for part in line.split(" | ")]
    return {(method, path) for method, path in found}


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("roles")
    swept(TWO_SOURCES, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def owner(app: Application) -> Person:
    return first_owner(app)


@pytest.fixture(scope="module")
def viewer(owner: Person) -> Person:
    return invited(owner, "vera@wrenfold.example", "Vera Dune", "viewer")


def refused(person: Person, method: str, path: str) -> int:
    """401 or 403, whichever it is; 0 if it was let through. Nothing is changed: the numbers are nobody's, the body is none."""
    address = "/api" + re.sub(r"\{[^}]*\}", "999999", path)
    answer = person.ask(method, address, [] if method != "GET" else None)
    return answer.status if answer.status in (401, 403) else 0


UNTRIED = {("DELETE", "/session"), ("GET", "/runs/{run_id}/events"), ("GET", "/events")}


def asked() -> list[tuple[str, str]]:
    """Everything but what would end the session that asks, and what goes on without end."""
    return [one for one in operations(routers()) if one not in UNTRIED]


def test_nobody_gets_anywhere(app: Application, owner: Person) -> None:
    stranger = Person(app)
    let_in = {(method, path) for method, path in asked() if refused(stranger, method, path) != 401}
    assert let_in == listed(OPEN)


def test_a_viewer_sees_businesses_and_does_nothing(app: Application, viewer: Person) -> None:
    wanted = listed(OPEN) | listed(OWN) | listed(VIEWER)
    let_in = {(method, path) for method, path in asked() if not refused(viewer, method, path)}
    assert let_in == wanted & set(asked())


def test_a_caller_calls_and_an_owner_does_everything(app: Application, owner: Person) -> None:
    caller = invited(owner, "cal@wrenfold.example", "Cal Rook", "caller")
    kept_out = {(method, path) for method, path in asked() if refused(caller, method, path)}
    assert listed(NOT_A_CALLER) <= kept_out
    assert not kept_out & (listed(VIEWER) | listed(OWN))
    for method, path in [("POST", "/actions"), ("POST", "/businesses/{business_id}/contacts"), ("GET", "/inbox")]:
        assert (method, path) not in kept_out
    assert not [one for one in asked() if refused(owner, *one)]


def test_each_permission_opens_its_own_routes_alone(app: Application, owner: Person) -> None:
    """A person with one permission is kept out of whatever every other single permission opens and theirs does not."""
    names = ("people", "work", "send", "export", "spend", "offers", "manage")
    opened = {}
    for name in names:
        person = invited(owner, f"{name}@wrenfold.example", f"Only {name}", "viewer", [name])
        opened[name] = (
            {one for one in asked() if not refused(person, *one)} - listed(OPEN) - listed(OWN) - listed(VIEWER)
        )
    for name in names:
        assert opened[name], name
        assert not opened[name] & set().union(*(opened[other] for other in names if other != name)), name


def _people_in(app: Application) -> tuple[set[str], set[str], set[str]]:
    """E-mail addresses, phone numbers (last eight digits) and names of people that the store holds."""
    with sqlite3.connect(app.folder / "acorn.db") as conn:
        kept = conn.execute("SELECT kind, value FROM contact").fetchall()
        phones = {row[0] for row in conn.execute("SELECT phone FROM business WHERE phone != ''")}
        business_names = " ".join(row[0].lower() for row in conn.execute("SELECT name FROM business"))
    emails = {value.lower() for kind, value in kept if kind == "email"}
    numbers = {re.sub(r"\D", "", value)[-8:] for kind, value in kept if kind in {"phone", "mobile"}}
    numbers |= {re.sub(r"\D", "", value)[-8:] for value in phones}
    owner = Person(app).signed(Person(app).sign_in("ada@wrenfold.example"))
    people: set[str] = set()
    for row in owner.get("/api/businesses?limit=500&columns=id")["rows"]:
        people |= {person["name"].lower() for person in owner.get(f"/api/businesses/{row[0]}")["people"]}
    return emails, numbers, {name for name in people if len(name) > 5 and name not in business_names}


def test_a_viewer_finds_nobody_by_screen_or_address(app: Application, viewer: Person) -> None:
    emails, numbers, people = _people_in(app)
    assert len(emails) > 30, "there is something to be found"
    assert len(numbers) > 30
    assert len(people) > 10
    page = viewer.get("/api/businesses?limit=500&columns=id,name,phone,email,town,website,tags")
    ids = [row[0] for row in page["rows"]]
    texts = [json.dumps(page, ensure_ascii=False)]
    texts += [
        viewer.ask("GET", f"/api/businesses/{number}{part}").body.decode() for number in ids for part in ("", "/nearby")
    ]
    for method, path in sorted(listed(VIEWER)):
        if method == "GET" and "{" not in path and path != "/events":
            texts.append(viewer.ask("GET", f"/api{path}").body.decode(errors="replace"))
    texts.append(viewer.ask("GET", f"/api/businesses/compare?ids={ids[0]},{ids[1]}").body.decode())
    whole = "\n".join(texts).lower()
    digits = re.sub(r"(?<=\d)[\s().\u00a0-]+(?=\d)", "", whole)
    assert sorted(email for email in emails if email in whole) == []
    assert sorted(number for number in numbers if number in digits) == []
    assert sorted(name for name in people if name in whole) == []
    guess = sorted(people)[0].split()[-1]
    assert viewer.ask("GET", f"/api/businesses?pages={guess}").status == 403, "what pages say may name people"
    assert viewer.ask("GET", f"/api/businesses/facets?pages={guess}").status == 403
    assert viewer.ask("GET", f"/api/find?q={sorted(numbers)[0]}").status == 403
