"""The API: one error shape for every kind of bad input, a committed description, and answers that fit together."""

import csv
import io
import json
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.errors import AcornError
from tests.application import Application, application
from tests.asking import failing
from tests.conftest import Coast, circle

pytestmark = pytest.mark.world
PLAN = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 8000.0)], "wanted": 0, "place": "Port Ellery"}


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    with application(tmp_path_factory.mktemp("api"), coast.settings, coast.read("places.json")) as running:
        running.wait_for_run(running.post("/api/sweeps", {"name": "Vets", "plan": PLAN})["run_id"])
        yield running


def test_what_the_front_end_builds_on_is_that_of_the_code() -> None:
    from openacorn.api.contract import files

    for path, text in files().items():
        assert path.read_text(encoding="utf-8") == text, "run: python -m openacorn.api.contract"


BAD = [
    ("radius 0", "POST", "/api/sweeps/estimate", PLAN | {"areas": [circle(-37.0, 160.0, 0)]}, 422, "a radius of 0 km"),
    ("radius 5,000 km", "POST", "/api/sweeps", {"name": "x", "plan": PLAN | {"areas": [circle(-37.0, 160.0, 5e6)]}}, 422, "a radius of 5000 km"),
    ("an unknown trade", "POST", "/api/sweeps", {"name": "x", "plan": PLAN | {"trades": ["alchemists"]}}, 422, "no trade 'alchemists'"),
    ("no trade", "POST", "/api/sweeps/estimate", PLAN | {"trades": []}, 422, "at least one trade"),
    ("no area", "POST", "/api/sweeps/estimate", PLAN | {"areas": []}, 422, "choose where"),
    ("half a circle", "POST", "/api/sweeps/estimate", PLAN | {"areas": [{"lat": 1.0}]}, 422, "give a circle"),
    ("a bow tie", "POST", "/api/sweeps/estimate", PLAN | {"areas": [{"rings": [[[0, 0], [1, 1], [1, 0], [0, 1]]]}]}, 422, "crosses itself"),
    ("an unknown source", "POST", "/api/sweeps/estimate", PLAN | {"sources": ["rumour"]}, 422, "no source 'rumour'"),
    ("an impossible rule", "POST", "/api/sweeps/estimate", PLAN | {"rules": {"reviews_from": 9, "reviews_to": 2}}, 422, "nothing could pass"),
    ("no name", "POST", "/api/sweeps", {"name": "", "plan": PLAN}, 422, "at least 1 character"),
    ("an extra field", "POST", "/api/shortlists", {"name": "x", "colour": "red"}, 422, "Extra inputs"),
    ("no JSON", "POST", "/api/shortlists", None, 422, "Field required"),
    ("a blank name", "POST", "/api/shortlists", {"name": "   "}, 422, "pattern"),
    ("an unknown business", "GET", "/api/businesses/999999", None, 404, "no business 999999"),
    ("a number too large", "GET", f"/api/businesses/{2**70}", None, 422, "too large"),
    ("an unknown run", "GET", "/api/runs/999", None, 404, "no run 999"),
    ("events of an unknown run", "GET", "/api/runs/999/events", None, 404, "no run 999"),
    ("an unknown sweep", "POST", "/api/sweeps/999/runs", {}, 404, "no sweep 999"),
    ("an unknown shortlist", "POST", "/api/shortlists/999/members", {"ids": [1]}, 404, "no shortlist 999"),
    ("an unknown check", "GET", "/api/businesses?check.nonsense=gap", None, 422, "no check 'nonsense'"),
    ("a bad sort", "GET", "/api/businesses?sort=shoe", None, 422, "cannot sort by 'shoe'"),
    ("a page too far", "GET", f"/api/businesses?offset={2**70}", None, 422, "less than or equal to"),
    ("a bad page", "GET", "/api/businesses?offset=-1", None, 422, "greater than or equal to 0"),
    ("an unknown format", "POST", "/api/businesses/export/docx", None, 422, "no export format 'docx'"),
    ("an unknown address", "GET", "/api/nothing", None, 404, "no /api/nothing"),
]  # fmt: skip


@pytest.mark.parametrize(("method", "path", "body", "status", "says"), [c[1:] for c in BAD], ids=[c[0] for c in BAD])
def test_bad_input_is_answered_in_one_shape(
    app: Application, method: str, path: str, body: Any, status: int, says: str
) -> None:
    before = app.get("/api/sweeps")
    code, error = failing(app, method, path, body)
    assert code == status
    assert says in error["what"]
    assert error["where"]
    assert error["remedy"]
    assert app.get("/api/sweeps") == before


def test_a_name_is_taken_once(app: Application) -> None:
    app.post("/api/shortlists", {"name": "Taken"})
    assert failing(app, "POST", "/api/shortlists", {"name": "Taken"})[0] == 409


def test_another_sites_page_cannot_reach_in(app: Application) -> None:
    evil = {"Origin": "https://evil.example"}
    assert failing(app, "POST", "/api/shortlists", {"name": "x"}, evil)[0] == 403
    request = urllib.request.Request(app.url + "/api/status", headers={"Host": "evil.example"})
    with pytest.raises(urllib.error.HTTPError) as caught:
        urllib.request.urlopen(request, timeout=60)
    assert caught.value.code == 400
    caught.value.close()


def test_every_error_of_the_map_says_where_and_what_to_do() -> None:
    every: list[type[AcornError]] = [AcornError, *AcornError.__subclasses__()]
    every += [kind for parent in every[1:] for kind in parent.__subclasses__()]
    assert len(every) > 30
    assert all(kind.where and kind.remedy and 400 <= kind.status < 503 for kind in every)


def rows(page: dict[str, Any]) -> list[dict[str, Any]]:
    return [dict(zip(page["columns"], row, strict=True)) for row in page["rows"]]


def test_table_facets_pins_and_export_agree(app: Application) -> None:
    everything = app.get("/api/businesses?limit=500")
    facets = app.get("/api/businesses/facets")
    assert everything["total"] == len(everything["rows"]) == facets["total"] == everything["all"] > 20
    for check in ("title", "analytics", "website_listed"):
        for outcome, count in facets["counts"][f"check.{check}"].items():
            page = app.get(f"/api/businesses?check.{check}={outcome.replace(' ', '%20')}&limit=1")
            assert page["total"] == count
    picked = [row["id"] for row in rows(everything)[:3]]
    wanted = f"ids={','.join(map(str, picked))}"
    exported = list(csv.DictReader(io.StringIO(app.export_text(f"/api/businesses/export/csv?{wanted}"))))
    assert [int(row["id"]) for row in exported] == picked
    assert {point[0] for point in app.get(f"/api/businesses/points?{wanted}")["points"]} == set(picked)
    reviews = {row["id"]: row["reviews"] for row in rows(everything)}
    pins = app.get("/api/businesses/points?of=reviews&state=all")["points"]
    assert all(pin[4] == reviews[pin[0]] for pin in pins if pin[0] in reviews)
    assert failing(app, "GET", "/api/businesses/points?of=colour")[0] == 422


def test_sorting_pages_through_everything_once(app: Application) -> None:
    total = app.get("/api/businesses?limit=1")["total"]
    for sort in (
        "-score",
        "name",
        "town",
        "distance",
        "-reviews",
        "-gaps",
        "website",
        "audited",
        "offer",
        "check.title",
    ):
        ids = [
            row["id"]
            for offset in range(0, total, 25)
            for row in rows(app.get(f"/api/businesses?sort={sort}&offset={offset}&limit=25"))
        ]
        assert len(ids) == len(set(ids)) == total
    names = [row["name"].lower() for row in rows(app.get("/api/businesses?sort=name&limit=500"))]
    assert names == sorted(names)


def test_one_business_explains_itself(app: Application) -> None:
    best = rows(app.get("/api/businesses?limit=1"))[0]
    result = app.get(f"/api/businesses/{best['id']}")
    offers = {offer["service"]: offer for offer in result["opportunities"]}
    chosen = offers[best["offer"]]
    assert chosen["score"] == best["score"]
    assert chosen["score"] + sum(term["points"] for term in chosen["terms"]) == 100
    assert chosen["value"] == pytest.approx(chosen["p_win"] * chosen["margin"])
    assert len(result["findings"]) == len(app.get("/api/checks"))
    assert all(finding["reason"] for finding in result["findings"])
    facts = {fact["field"]: fact for fact in result["facts"]}
    assert facts["name"]["value"] == best["name"]
    assert facts["name"]["source"] == "Listing service"
    assert facts["name"]["source_id"]
    assert facts["name"]["seen_at"]


def test_shortlists_take_picks_and_whole_filters(app: Application) -> None:
    some = [row["id"] for row in rows(app.get("/api/businesses?limit=4"))]
    shortlist = app.post("/api/shortlists", {"name": "Monday"})["id"]
    members = f"/api/shortlists/{shortlist}/members"
    assert app.post(members, {"ids": some})["added"] == 4
    assert app.post(members, {"ids": some[:2] + [10**9]})["added"] == 0
    gaps = app.get("/api/businesses?check.analytics=gap&limit=1")["total"]
    app.post(members, {"filter": {"check.analytics": "gap"}})
    on_list = app.get(f"/api/businesses?shortlist={shortlist}&limit=500")
    assert gaps <= on_list["total"] <= gaps + 4
    app.post(members + "/remove", {"ids": some})
    assert not set(some) & {row["id"] for row in rows(app.get(f"/api/businesses?shortlist={shortlist}&limit=500"))}


def test_the_estimate_says_where_it_comes_from(app: Application) -> None:
    here = app.post("/api/sweeps/estimate", PLAN | {"areas": [circle(-37.02, 160.02, 9000)]})
    assert here["low"] <= here["rows"] <= here["high"]
    assert "residents" in here["how"]
    nowhere = app.post("/api/sweeps/estimate", PLAN | {"areas": [circle(10.0, 10.0, 4000)]})
    assert nowhere["rows"] == 0
    assert "nothing to estimate from" in nowhere["how"]
    few = app.post("/api/sweeps/estimate", PLAN | {"areas": [circle(-37.02, 160.02, 9000)], "wanted": 5})
    assert few["rows"] == 5
    assert few["requests"] <= here["requests"]


def test_places_are_found_by_any_part_of_their_name(app: Application) -> None:
    assert next(place["name"] for place in app.get("/api/places?q=port")) == "Port Ellery"
    assert app.get("/api/places?q=%25") == []


def test_a_run_is_watched_by_events_until_it_ends(app: Application) -> None:
    with urllib.request.urlopen(app.url + "/api/runs/1/events", timeout=60) as answer:
        lines = answer.read().decode().strip().splitlines()
    assert json.loads(lines[-1].removeprefix("data: "))["state"] == "done"


def test_pages_are_served_for_every_screen_and_nothing_else_is(app: Application) -> None:
    for path in ("/", "/businesses?q=x", "/sweeps/new"):
        assert '<div id="root">' in app.text(path)
    assert "agency" not in app.text("/../settings.json")
    assert Path(app.folder / "acorn.db").exists()


def test_a_sample_of_names_comes_before_a_run_and_an_empty_one_says_what_to_change(app: Application) -> None:
    (found,) = app.post("/api/sweeps/sample", PLAN)
    assert 0 < len(found["names"]) <= 12
    assert (found["trouble"], found["title"]) == ("", "Listing service")
    (none,) = app.post("/api/sweeps/sample", PLAN | {"areas": [circle(10.0, 10.0, 4000)]})
    assert (none["names"], none["remedy"]) == ([], "widen the area")


def test_one_business_is_found_by_name_close_spelling_phone_and_site(app: Application) -> None:
    row = next(
        row for row in rows(app.get("/api/businesses?website=listed&limit=50")) if row["phone"] and "Vet" in row["name"]
    )
    result = app.get(f"/api/businesses/{row['id']}")
    swapped = row["name"][:2] + row["name"][3] + row["name"][2] + row["name"][4:]
    for text in (row["name"], swapped, result["phone"], result["website"].split("/")[2]):
        found = app.get(f"/api/find?q={urllib.parse.quote(text)}")
        assert row["id"] in [item["id"] for item in found], text
    assert app.get("/api/find?q=zzzzqqqq") == []


def test_territories_are_kept_under_a_name_once(app: Application) -> None:
    areas = [
        circle(-37.02, 160.02, 4000),
        {"name": "Ward", "rings": [[[160, -37], [160.1, -37], [160.1, -36.9], [160, -37]]]},
    ]
    made = app.post("/api/territories", {"name": "Port and ward", "areas": areas})
    kept = app.get("/api/territories")
    assert [(item["name"], len(item["areas"])) for item in kept] == [("Port and ward", 2)]
    assert kept[0]["held"] > 10
    assert failing(app, "POST", "/api/territories", {"name": "Port and ward", "areas": areas})[0] == 409
    read = app.post("/api/territories/names", {"text": "port ellery\n7840, Atlantis"})
    assert ([area["name"] for area in read["areas"]], read["unknown"]) == (["Port Ellery", "7840"], ["Atlantis"])
    code, error = failing(app, "POST", "/api/territories/geojson", {"text": '{"type": "Point"}'})
    assert (code, error["what"][:10]) == (422, "no polygon")
    request = urllib.request.Request(f"{app.url}/api/territories/{made['id']}", method="DELETE")
    with urllib.request.urlopen(request, timeout=60) as answer:
        assert answer.status == 204
    assert app.get("/api/territories") == []


def test_nearby_are_the_nearest_others(app: Application) -> None:
    every = {row["id"]: row for row in rows(app.get("/api/businesses?limit=500"))}
    pins = {item[0]: item for item in app.get("/api/businesses/points")["points"]}
    here = next(iter(pins))
    result = app.get(f"/api/businesses/{here}/nearby?limit=5&own_trade=true")
    start = Point(*pins[here][1:3])
    true = sorted(distance_m(start, Point(*pin[1:3])) for key, pin in pins.items() if key != here and key in every)[:5]
    assert [item["metres"] for item in result] == pytest.approx(true)
    assert {item["trade"] for item in result} == {"vets"}
