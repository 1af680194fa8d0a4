"""Links to a view of the table: for whoever has one, until a day, with nothing of people in it and nothing else behind it."""

import re
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from tests.application import Application, application
from tests.conftest import TWO_SOURCES, Coast, Swept
from tests.team.person import Person, first_owner, invited

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("links")
    swept(TWO_SOURCES, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def ada(app: Application) -> Person:
    return first_owner(app)


def made(person: Person, **asked: Any) -> str:
    """The key of a new link."""
    address = str(person.do("POST", "/api/view-links", {"name": "Vets of the coast", **asked})["address"])
    page, _, key = address.partition("#")
    assert page.endswith("/shared")
    return key


def opened(app: Application, key: str, **asked: Any) -> Any:
    return Person(app).ask("POST", "/api/shared-view", {"key": key, **asked})


def test_whoever_has_it_sees_the_view_and_nothing_of_people(app: Application, ada: Person) -> None:
    key = made(ada, filter={"trade": "vets", "website": "listed"})
    seen = opened(app, key).json
    everybody = ada.get("/api/businesses?trade=vets&website=listed&columns=name,phone,email&limit=500")
    assert seen["total"] == everybody["total"] > 5
    assert [row[0] for row in seen["rows"]] == [row[0] for row in everybody["rows"]]
    assert (seen["name"], seen["by"], seen["agency"]) == ("Vets of the coast", "Ada Finch", "Wrenfold Studio")
    assert seen["sentence"]
    text = str(seen)
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn:
        secrets = {
            str(value)
            for (value,) in conn.execute("SELECT value FROM contact UNION SELECT phone FROM business WHERE phone != ''")
        }
    assert len(secrets) > 20
    assert not [value for value in secrets if value in text]
    assert not re.search(r"[\w.]+@[\w.]+", text)
    (link,) = [one for one in ada.get("/api/view-links")["links"] if one["name"] == "Vets of the coast"]
    assert link["opened"] == 1
    assert key not in str(link)
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn:
        assert key not in str(conn.execute("SELECT * FROM view_link").fetchall()), "the key is kept nowhere"
    for path in ("/api/businesses", "/api/shortlists", "/api/view-links", f"/api/shared-view?key={key}"):
        assert Person(app, headers={"Authorization": f"Bearer {key}"}).ask("GET", path).status in {401, 404, 405}, path


@pytest.mark.parametrize(
    "column",
    [
        "phone",
        "email",
        "stage",
        "tags",
        "shortlists",
        "relationship",
        "has",
        "rejected",
        "id",
        "nothing",
        "person",
        "notes",
    ],
)
def test_columns_of_people_and_of_the_agencys_own_cannot_be_shared(ada: Person, column: str) -> None:
    refused = ada.ask("POST", "/api/view-links", {"name": "x", "columns": ["name", column]})
    assert (refused.status, refused.json["error"]["where"]) == (422, "filter")


def test_it_ends(app: Application, ada: Person) -> None:
    bo = invited(ada, "bo@wrenfold.example", "Bo Reed", "manager")
    key, by_day, by_hand = made(bo, days=1), made(ada, name="Short", days=1), made(ada, name="By hand")
    assert [opened(app, one).status for one in (key, by_day, by_hand)] == [200, 200, 200]
    number = next(one["id"] for one in ada.get("/api/view-links")["links"] if one["name"] == "By hand")
    ada.do("DELETE", f"/api/view-links/{number}")
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn, conn:
        conn.execute("UPDATE view_link SET expires_at = '2020-01-01T00:00:00+00:00' WHERE name = 'Short'")
    account = next(one for one in ada.get("/api/team")["people"] if one["name"] == "Bo Reed")
    ada.do("PUT", "/api/team", {name: account[name] for name in ("id", "email", "name", "role")} | {"active": False})
    answers = [opened(app, one) for one in (key, by_day, by_hand, "guessed", key[:-1])]
    assert {(one.status, one.what) for one in answers} == {(404, "this link is good no more, or was not copied whole")}
    assert [one["name"] for one in ada.get("/api/view-links")["links"]].count("Short") == 0


def test_what_makes_no_view_is_refused(ada: Person) -> None:
    for asked in (
        {"filter": {"pages": "dr"}},
        {"filter": {"check.nothing": "gap"}},
        {"sort": "-colour"},
        {"days": 91},
        {"days": 0},
    ):
        assert ada.ask("POST", "/api/view-links", {"name": "x", **asked}).status == 422, asked
