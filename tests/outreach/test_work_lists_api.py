"""Files made from a shortlist of the coast: who refused is in none of them."""

import csv
import io

import gpxpy
import pytest

from tests.application import Application
from tests.asking import failing, ids_of, make_list
from tests.outreach.contacted import app, folder

__all__ = ["app", "folder"]
pytestmark = pytest.mark.world


def rows(app: Application, path: str) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(app.text(path), newline="")))


def test_on_paper_with_the_parts_that_are_wanted(app: Application) -> None:
    number = make_list(app, "On paper", ids_of(app)[:3])
    whole = app.text(f"/api/shortlists/{number}/call-sheets.html")
    few = app.text(f"/api/shortlists/{number}/call-sheets.html?parts=claims&parts=result")
    assert ("If they say" in whole, "If they say" in few, "What to say" in few) == (True, False, True)
    bare = app.text(f"/api/shortlists/{number}/list.html?columns=none")
    table = app.text(f"/api/shortlists/{number}/list.html?columns=phone&columns=notes")
    assert (bare.count("<th>"), table.count("<th>"), table.count("<th scope")) == (1, 3, 3)
    assert app.content(f"/api/shortlists/{number}/list.pdf").startswith(b"%PDF-")
    assert failing(app, "GET", f"/api/shortlists/{number}/list.docx")[0] == 404
    assert failing(app, "GET", "/api/shortlists/9999/list.html")[0] == 404


def test_files_of_a_list(app: Application) -> None:
    ids = ids_of(app)[-12:]
    number = make_list(app, "To advertise to", ids)
    names = {row[0]: row[1] for row in app.get("/api/businesses?columns=id,name&limit=500")["rows"]}
    counts = {item["kind"]: item["rows"] for item in app.get(f"/api/shortlists/{number}/audience")["counts"]}
    plain = rows(app, f"/api/shortlists/{number}/audience.csv?kind=contacts&hash=false")
    assert 0 < len(plain) <= counts["contacts"] <= counts["companies"] == len(ids)
    assert all(row["phone"].startswith("+61") for row in plain if row["phone"])
    hashed = rows(app, f"/api/shortlists/{number}/audience.csv?kind=contacts")
    assert len(hashed) == len(plain)
    assert not {row["email"] for row in plain if row["email"]} & {row["email"] for row in hashed}
    assert [row["country"] for row in hashed] == [row["country"] for row in plain]
    refused = ids[0]
    app.post(f"/api/businesses/{refused}/contacts", {"result": "refused", "by": "Ada"})
    after = app.get(f"/api/shortlists/{number}/audience")
    assert after["refused"] >= 1
    assert names[refused] not in [
        row["company"] for row in rows(app, f"/api/shortlists/{number}/audience.csv?kind=companies")
    ]
    gpx = gpxpy.parse(app.text(f"/api/shortlists/{number}/round.gpx"))
    choices = app.get(f"/api/shortlists/{number}/work-lists")
    assert len(gpx.routes[0].points) == choices["placed"]
    assert names[refused] not in [point.name for point in gpx.routes[0].points]
    assert choices["addressed"] > 0
    empty = make_list(app, "Nobody", [])
    for path in ("audience.csv", "labels.pdf", "round.gpx"):
        assert failing(app, "GET", f"/api/shortlists/{empty}/{path}")[0] == 422
    for path in ("labels.pdf?sheet=a9-1", "round.zip"):
        assert failing(app, "GET", f"/api/shortlists/{number}/{path}")[0] == 422
    assert failing(app, "GET", "/api/shortlists/999/audience")[0] == 404
