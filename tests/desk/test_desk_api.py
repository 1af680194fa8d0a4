"""The desk over the API: actions and undoing them, services tried and saved, angles, exports and their deliveries, cross-tables."""

import csv
import http.server
import io
import json
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pandas as pd
import pytest

from openacorn.business.store import audits
from openacorn.core.desk.angle import shipped_angles
from openacorn.core.desk.filters import parse_filter
from openacorn.core.score.service import all_services
from openacorn.db.database import Database
from openacorn.sim.serve import free_ports
from tests.api.test_api import failing
from tests.application import Application, application
from tests.conftest import Coast, circle

pytestmark = pytest.mark.world
PLAN: dict[str, Any] = {
    "trades": ["vets", "opticians"],
    "areas": [circle(-37.02, 160.02, 5000.0), circle(-36.78, 160.205, 5000.0)],
    "sources": ["listing_service"],
    "facts": ["website", "contacts", "people", "rank"],
}


HOOK_PORT = free_ports(1)[0]
"""Named in the settings before its server starts."""


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("desk")


@pytest.fixture(scope="module")
def app(coast: Coast, folder: Path) -> Iterator[Application]:
    hosts, folders = [f"127.0.0.1:{HOOK_PORT}", "127.0.0.1:9"], [str(folder.parent)]
    settings = coast.settings.model_copy(update={"trusted_hosts": hosts, "delivery_folders": folders})
    with application(folder, settings, coast.read("places.json")) as running:
        running.wait_for_run(running.post("/api/sweeps", {"name": "Two towns", "plan": PLAN})["run_id"])
        yield running


def table(app: Application, query: str = "") -> list[dict[str, Any]]:
    page = app.get(f"/api/businesses?limit=500&{query}")
    return [dict(zip(page["columns"], row, strict=True)) for row in page["rows"]]


def delete(app: Application, path: str) -> None:
    with urllib.request.urlopen(urllib.request.Request(app.url + path, method="DELETE")) as answer:
        assert answer.status == 204


def total(app: Application, query: str = "") -> int:
    return int(app.get(f"/api/businesses?limit=1&{query}")["total"])


def test_deeds_change_what_is_shown_and_can_be_undone(app: Application) -> None:
    first, second, third = (row["id"] for row in table(app)[:3])
    everybody = total(app)
    actions_done = [
        app.post("/api/actions", {"kind": kind, "word": word, "ids": ids})
        for kind, word, ids in (
            ("reject", "too small", [first, second]),
            ("tag", "warm", [second, third]),
            ("relationship", "client", [third]),
        )
    ]
    assert total(app) == everybody - 3  # clients are no prospects
    assert {row["rejected"] for row in table(app, "state=rejected") if row["id"] in (first, second)} == {
        "by hand: too small"
    }
    assert total(app, "tag=warm&state=all") == 2
    assert app.get(f"/api/businesses/{third}")["relationship"] == "client"
    # a verdict by hand stands over the rules, and over merging again
    actions_done.append(app.post("/api/actions", {"kind": "keep", "ids": [first]}))
    assert total(app) == everybody - 2
    app.wait_for_run(app.post(f"/api/sweeps/{app.get('/api/sweeps')[-1]['id']}/runs")["run_id"])
    assert app.get(f"/api/businesses/{second}")["rejected"] == "by hand: too small"
    for action_id in reversed(actions_done):
        assert app.post(f"/api/actions/{action_id['id']}/undo")["undone"]
    assert total(app) == everybody
    assert total(app, "tag=warm&state=all") == 0
    assert app.get(f"/api/businesses/{third}")["relationship"] == ""
    assert failing(app, "POST", f"/api/actions/{actions_done[0]['id']}/undo", {})[0] == 422
    assert failing(app, "POST", "/api/actions", {"kind": "burn", "ids": [first]})[0] == 422
    assert failing(app, "POST", "/api/actions", {"kind": "tag", "ids": [first]})[0] == 422
    assert failing(app, "POST", "/api/actions", {"kind": "relationship", "word": "friend", "ids": [first]})[0] == 422


def test_a_deed_to_all_that_match_is_one_deed(app: Application) -> None:
    wanted = total(app, "website=none")
    action_id = app.post("/api/actions", {"kind": "tag", "word": "no site", "filter": {"website": "none"}})
    assert total(app, "tag=no%20site") == wanted > 0
    app.post(f"/api/actions/{action_id['id']}/undo")
    assert total(app, "tag=no%20site") == 0


def test_notes_are_kept_and_forgotten(app: Application) -> None:
    business = table(app)[0]["id"]
    (note,) = app.post(f"/api/businesses/{business}/activities", {"text": " Ask for Petra \n"})
    assert (note["text"], note["kind"]) == ("Ask for Petra", "note")
    delete(app, f"/api/businesses/{business}/activities/{note['id']}")
    assert app.get(f"/api/businesses/{business}/activities") == []
    assert failing(app, "DELETE", f"/api/businesses/{business}/activities/{note['id']}", None)[0] == 404
    assert failing(app, "POST", f"/api/businesses/{business}/activities", {"text": "  "})[0] == 422


def asked_of(service: dict[str, Any]) -> dict[str, Any]:
    return {key: value for key, value in service.items() if key not in {"id", "margin"}}


def test_a_service_is_tried_saved_restored_and_taken_off(app: Application) -> None:
    before = {row["id"]: (row["offer"], row["score"]) for row in table(app, "state=all")}
    service = next(item for item in app.get("/api/services") if item["id"] == "new_website")
    changed = asked_of(service) | {"fee": 100, "delivery": 90, "monthly": 0, "note": "a gift"}
    preview = app.post("/api/services/new_website/preview", changed)
    assert sum(preview["bins"]) == preview["scored"] == preview["scored_before"]
    assert [row["rank"] for row in preview["top"]] == list(range(1, len(preview["top"]) + 1))
    assert {row["id"]: (row["offer"], row["score"]) for row in table(app, "state=all")} == before
    saved = app.put("/api/services/new_website", changed)
    assert saved["changed"] > 0
    assert total(app, "offer=new_website") < sum(offer == "new_website" for offer, _ in before.values())
    versions = app.get("/api/services/new_website/versions")
    assert [(item["number"], item["note"]) for item in versions] == [(saved["version"], "a gift"), (0, "as shipped")]
    app.post("/api/services/new_website/versions/0/restore")
    assert {row["id"]: (row["offer"], row["score"]) for row in table(app, "state=all")} == before
    made = app.post("/api/services", changed | {"title": "Logo & cards", "fee": 90_000})
    assert total(app, f"offer={made['service']['id']}") > 0
    app.post(f"/api/services/{made['service']['id']}", method="DELETE")
    (gone,) = app.get("/api/services/removed")
    assert (gone["service"]["title"], gone["note"]) == ("Logo & cards", "taken off")
    assert {row["id"]: (row["offer"], row["score"]) for row in table(app, "state=all")} == before


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"rules": [{"check": "nonsense", "weight": 1}]}, "no check 'nonsense'"),
        ({"rules": [{"check": "title", "weight": 1}, {"check": "title", "weight": 2}]}, "only once"),
        ({"rules": [{"check": "title", "weight": 0}]}, "greater than 0"),
        ({"rules": []}, "at least 1"),
        ({"fee": -1}, "greater than or equal to 0"),
        ({"gates": [{"check": "title", "passes": []}]}, "at least 1"),
    ],
)
def test_a_service_that_makes_no_sense_is_refused_in_words(app: Application, change: dict[str, Any], says: str) -> None:
    service = asked_of(app.get("/api/services")[0])
    status, error = failing(app, "PUT", "/api/services/speed", service | change)
    assert status == 422
    assert says in json.dumps(error)


def test_scores_on_the_wide_row_are_those_of_an_independent_recomputation(app: Application, folder: Path) -> None:
    """pandas, over everything this coast holds, from the outcomes, fit and reach that the store has."""
    database = Database(folder / "acorn.db")
    with database.read() as conn:
        frame = pd.read_sql_query(
            "SELECT id, outcomes, fit, reach, offer, score, value FROM business WHERE fit IS NOT NULL", conn
        )
    database.close()
    outcomes = pd.DataFrame(list(frame["outcomes"].map(json.loads)), index=frame.index)
    grades = {"gap": 1.0, "partial": 0.5, "ok": 0.0}
    offers: dict[str, pd.Series] = {}
    scores: dict[str, pd.Series] = {}
    for service in all_services():
        need = total_weight = known = pd.Series(0.0, index=frame.index)
        lift = pd.Series(0.0, index=frame.index)
        for rule in service.rules:
            answered = outcomes.get(rule.check, pd.Series("unknown", index=frame.index)).fillna("unknown")
            own = grades | {str(outcome): value for outcome, value in rule.severity.items()}
            severity = answered.map(own)
            need = need + rule.weight * severity.fillna(0)
            total_weight = total_weight + rule.weight * (answered != "not applicable")
            known = known + rule.weight * severity.notna()
            if rule.decisive:
                lift = lift.combine(severity.fillna(0), max)
        share = (known / total_weight).where(total_weight > 0, 1.0)
        lifted = (need / total_weight).where(total_weight > 0, 0.0).combine(lift, max)
        scored = share >= 0.5 - 1e-12
        for gate in service.gates:
            scored &= outcomes[gate.check].isin([str(outcome) for outcome in gate.passes])
        exact = (100 * lifted**0.6 * frame["fit"] ** 0.2 * frame["reach"] ** 0.2).where(scored)
        odds = -3.8918202981106265 + 0.35 * (exact - 50) / 10  # logit .02
        offers[service.id] = (service.margin / (1 + (-odds).map(lambda x: 2.718281828459045**x))).where(lifted >= 0.3)
        scores[service.id] = exact
    values = pd.DataFrame(offers)
    best = values.max(axis=1)
    assert ((frame["value"].fillna(-1) - best.fillna(-1)).abs() < 1e-6).all()
    for at, row in frame[frame["offer"] != ""].iterrows():
        assert row["score"] == round(scores[row["offer"]][at])
    assert (frame["offer"] != "").sum() > 50


def test_every_shipped_angle_counts_what_its_filter_shows(app: Application) -> None:
    checks = [check["id"] for check in app.get("/api/checks")]
    offered = {service.id for service in all_services()}
    result = {angle["id"]: angle for angle in app.get("/api/angles")}
    assert len(result) >= 10
    for angle in shipped_angles():
        parse_filter(angle.filter, checks)
        assert angle.service in offered
        query = "&".join(f"{key}={value.replace(' ', '%20')}" for key, value in angle.filter.items())
        assert total(app, query) == result[angle.id]["count"]
    assert sum(angle["count"] > 0 for angle in result.values()) >= 8
    worth = [angle["worth"] for angle in app.get("/api/angles")]
    assert worth == sorted(worth, reverse=True)
    made = app.post("/api/angles", {"name": "Mine", "service": "speed", "line": "x", "filter": {"has": "email"}})
    assert failing(app, "POST", "/api/angles", {"name": "Mine", "filter": {}})[0] == 409
    assert failing(app, "POST", "/api/angles", {"name": "Other", "filter": {"has": "fax"}})[0] == 422
    delete(app, f"/api/angles/own/{made['id'].split(':')[1]}")


@pytest.mark.parametrize("format_id", ["csv", "json", "ndjson", "geojson", "vcard", "xml", "html", "xlsx"])
def test_every_format_holds_everybody_who_passes(app: Application, format_id: str) -> None:
    wanted = total(app, "has=email")
    address = f"{app.url}/api/businesses/export/{format_id}?has=email&columns=id,name,emails,person"
    with urllib.request.urlopen(urllib.request.Request(address, b"", method="POST")) as answer:
        body = answer.read()
        assert int(answer.headers["X-Row-Count"]) == wanted > 5
    counters: dict[str, Callable[[], int]] = {
        "csv": lambda: len(list(csv.reader(io.StringIO(body.decode("utf-8-sig"))))) - 1,
        "json": lambda: len(json.loads(body)),
        "ndjson": lambda: body.count(b"\n"),
        "geojson": lambda: len(json.loads(body)["features"]),
        "vcard": lambda: body.count(b"BEGIN:VCARD"),
        "xml": lambda: body.count(b"<business>"),
        "html": lambda: body.count(b"<tr>") - 1,
        "xlsx": lambda: pd.read_excel(io.BytesIO(body), engine="openpyxl").shape[0],
    }
    assert counters[format_id]() == wanted


def test_only_whom_was_never_exported_and_kept_exports_with_a_guarded_link(app: Application) -> None:
    everybody = total(app)
    chosen = total(app, "trade=vets")
    app.export_text("/api/businesses/export/csv?trade=vets&columns=name")
    fresh = list(
        csv.DictReader(io.StringIO(app.export_text("/api/businesses/export/csv?only_new=true&columns=name,trade")))
    )
    assert all(row["trade"] != "Vet" for row in fresh)
    assert len(fresh) <= everybody - chosen
    assert app.export_text("/api/businesses/export/csv?only_new=true&columns=name").count("\n") == 1
    preset = app.post(
        "/api/presets",
        {"name": "Vets", "format": "json", "columns": ["name", "phone"], "filter": {"trade": "vets"}, "link": True},
    )
    assert (
        len(app.get(preset["link"])) == len(json.loads(app.export_text(f"/api/presets/{preset['id']}/file"))) == chosen
    )
    for wrong in (f"/api/feeds/{preset['id']}", f"/api/feeds/{preset['id']}?token=no", "/api/feeds/99?token=x"):
        assert failing(app, "GET", wrong, None)[0] == 404
    again = app.post("/api/presets", {"name": "Vets", "format": "csv", "link": True})
    assert (again["id"], again["link"]) == (preset["id"], preset["link"])
    assert failing(app, "POST", "/api/presets", {"name": "x", "format": "docx"})[0] == 422
    assert failing(app, "POST", "/api/presets", {"name": "x", "format": "csv", "columns": ["shoe"]})[0] == 422
    assert failing(app, "POST", "/api/presets", {"name": "x", "format": "csv", "folder": "/etc"})[0] == 422


def test_a_kept_export_is_delivered_after_each_run_to_a_folder_and_a_webhook(app: Application) -> None:
    came: list[tuple[str, bytes]] = []

    class Hook(http.server.BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            came.append((self.headers["Content-Type"], self.rfile.read(int(self.headers["Content-Length"]))))
            self.send_response(204)
            self.end_headers()

        def log_message(self, *_: object) -> None:
            """Stay quiet."""

    server = http.server.ThreadingHTTPServer(("127.0.0.1", HOOK_PORT), Hook)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        asked = {"format": "ndjson", "columns": ["name"], "filter": {"trade": "opticians"}}
        app.post("/api/presets", asked | {"name": "To a folder", "folder": str(app.folder.parent / "out")})
        app.post(
            "/api/presets", asked | {"name": "To a hook", "webhook": f"http://127.0.0.1:{server.server_address[1]}/in"}
        )
        app.post("/api/presets", asked | {"name": "To nobody", "webhook": "http://127.0.0.1:9/in"})
        app.wait_for_run(app.post(f"/api/sweeps/{app.get('/api/sweeps')[-1]['id']}/runs")["run_id"])
        until = time.monotonic() + 120
        while time.monotonic() < until and not (came and any(app.folder.parent.glob("out/*.ndjson"))):
            time.sleep(0.1)
    finally:
        server.shutdown()
        server.server_close()
    wanted = total(app, "trade=opticians")
    (written,) = app.folder.parent.glob("out/*")
    assert written.read_bytes().count(b"\n") == wanted
    assert came[0][0] == "application/x-ndjson"
    assert came[0][1].count(b"\n") == wanted
    until = time.monotonic() + 120
    while time.monotonic() < until and "To nobody" not in json.dumps(app.get("/api/notices")):
        time.sleep(0.1)
    assert "the export “To nobody”" in json.dumps(app.get("/api/notices"), ensure_ascii=False)


@pytest.mark.parametrize(
    ("rows", "columns", "measure"),
    [("trade", "town", "count"), ("town", "check.viewport", "share"), ("offer", "trade", "mean score"), ("score band", "has", "sum of value")],
)  # fmt: skip
def test_a_cross_table_is_that_of_pandas_and_each_cell_opens_its_rows(
    app: Application, rows: str, columns: str, measure: str
) -> None:
    found = app.get(
        f"/api/insight/table?rows={rows.replace(' ', '%20')}&columns={columns}&measure={measure.replace(' ', '%20')}"
    )
    page = app.get("/api/businesses?limit=500&columns=id,trade,town,offer,score,value,has,strip")
    frame = pd.DataFrame(page["rows"], columns=page["columns"]).replace({"town": {"": "?"}, "offer": {"": "?"}})
    checks = [check["id"] for check in app.get("/api/checks")]
    frame["check.viewport"] = (
        frame["strip"]
        .str[checks.index("viewport")]
        .map({"g": "gap", "p": "partial", "o": "ok", "n": "not applicable", "u": "unknown"})
    )
    frame["score band"] = pd.cut(
        frame["score"], [-1, 19, 39, 59, 79, 100], labels=["0 to 19", "20 to 39", "40 to 59", "60 to 79", "80 to 100"]
    )
    frame["has"] = frame["has"].str.split(", ")
    long = frame.explode("has")
    long = long if columns == "has" else frame
    if measure in ("count", "share"):
        expected = pd.crosstab(long[rows], long[columns], normalize="index" if measure == "share" else False)
        if measure == "share":  # of everybody in the row, also those never asked
            expected = pd.crosstab(long[rows], long[columns]).div(frame[rows].value_counts(), axis=0)
    else:
        how = "mean" if measure == "mean score" else "sum"
        expected = long.pivot_table(index=rows, columns=columns, values=measure.split()[-1], aggfunc=how, observed=True)
    for row, cells, behind in zip(found["rows"], found["cells"], found["counts"], strict=True):
        for column, cell, count in zip(found["columns"], cells, behind, strict=True):
            if count and cell is not None:  # pandas leaves out whoever has no number
                assert cell == pytest.approx(float(expected.loc[row["value"], column["value"]]), rel=1e-9)
    if measure == "count":  # nobody is left out unsaid, also not those without a known town
        assert sum(map(sum, found["counts"])) == found["total"] == len(frame)
    assert found["rows_outside"] == (int(frame["score"].isna().sum()) if rows == "score band" else 0)
    at = max(range(len(found["counts"][0])), key=lambda number: found["counts"][0][number])
    query = "&".join(f"{key}={value.replace(' ', '%20')}" for key, value in found["filters"][0][at].items())
    assert total(app, query) == found["counts"][0][at]
    assert failing(app, "GET", "/api/insight/table?rows=shoe", None)[0] == 422
    assert failing(app, "GET", "/api/insight/table?measure=luck", None)[0] == 422


def test_pages_are_searched_for_words_and_peers_lack_what_is_told(app: Application) -> None:
    business = next(row for row in table(app, "check.people_named=ok") if row["id"])
    whole = app.get(f"/api/businesses/{business['id']}")
    title = next(item for item in whole["findings"] if item["check"] == "title")["evidence"][0]["snippet"]
    word = urllib.parse.quote(title.removeprefix("<title>").split()[0].strip("“”\"',"))
    assert total(app, f"pages={word}&ids={business['id']}") == 1
    assert total(app, "pages=xyzzyplugh") == 0
    assert total(app, "pages=%22%22") == 0
    result = [app.get(f"/api/businesses/{row['id']}") for row in table(app)[:12]]
    assert any(item["peers"] and item["peers"]["lacks"] for item in result)
    for item in result:
        gaps = {finding["check"] for finding in item["findings"] if finding["outcome"] == "gap"}
        for lack in (item["peers"] or {"lacks": []})["lacks"]:
            assert lack["check"] in gaps
            assert lack["have"] >= 0.4 * lack["of"]
    assert len(app.get(f"/api/businesses/compare?ids={','.join(str(row['id']) for row in table(app)[:3])}")) == 3
    assert failing(app, "GET", "/api/businesses/compare?ids=1", None)[0] == 422


def test_a_person_is_exported_from_the_pages_or_the_directory(app: Application, folder: Path) -> None:
    rows = list(csv.DictReader(io.StringIO(app.export_text("/api/businesses/export/csv?columns=id,person"))))
    named = {int(row["id"]): row["person"] for row in rows if row["person"]}
    assert len(named) > 10
    database = Database(folder / "acorn.db")
    with database.read() as conn:
        assert all(audits.first_person(conn, business) == person for business, person in list(named.items())[:20])
    database.close()


def test_what_is_wrong_answers_in_the_one_shape(app: Application) -> None:
    with pytest.raises(urllib.error.HTTPError) as caught:
        app.get("/api/businesses?columns=shoe")
    assert caught.value.code == 422
    caught.value.close()


def test_what_came_of_contacts_teaches_the_chance_of_winning_and_the_user_chooses_it(app: Application) -> None:
    def result() -> tuple[dict[str, Any], dict[str, dict[str, Any]]]:
        odds = app.get("/api/win-model")
        return odds, {item["service"]: item for item in odds["services"]}

    def value(business: int) -> float:
        whole = app.get(f"/api/businesses/{business}")
        return float(next(o["value"] for o in whole["opportunities"] if o["service"] == service))

    assert (result()[0]["goes_by"], {round(item["learnt"], 3) for item in result()[1].values()}) == ("prior", {0.02})
    whole = [app.get(f"/api/businesses/{row['id']}") for row in table(app, "limit=40")]
    service = next(business["offer"] for business in whole if business["offer"])
    buyers = [b for b in whole if any(o["service"] == service and o["score"] is not None for o in b["opportunities"])][
        :4
    ]
    before = value(buyers[0]["id"])
    actions_done: list[int] = []
    for business in buyers:
        asked = {"result": "won", "service": service, "amount": 900}
        actions_done.append(app.post(f"/api/businesses/{business['id']}/contacts", asked)["id"])
        kept = app.get(f"/api/businesses/{business['id']}")["outcomes"]
        assert [(item["service"], item["stage"], item["amount"]) for item in kept] == [(service, "won", 900)]
    odds, by_service = result()
    assert by_service[service]["learnt"] > 0.02 == pytest.approx(by_service[service]["prior"])
    assert (by_service[service]["trials"], by_service[service]["won"], odds["trials"]) == (len(buyers),) * 3
    # ten of the rarer kind for each number fitted (a service, the slope, a channel), and nobody has been lost
    assert odds["needed"] == 30
    assert [(item["channel"], item["trials"], item["won"]) for item in odds["channels"]] == [("call", 4, 4)]
    assert value(buyers[0]["id"]) == pytest.approx(before)  # until the user says so
    assert app.put("/api/win-model", {"goes_by": "learnt"})["goes_by"] == "learnt"
    assert value(buyers[0]["id"]) > before
    curve = app.get(f"/api/win-model?service={service}")["curve"]
    assert all(point["learnt"] > point["prior"] for point in curve)
    held_back = next(o["service"] for o in buyers[0]["opportunities"] if o["score"] is None)
    asked = {"result": "won", "service": held_back}
    actions_done.append(app.post(f"/api/businesses/{buyers[0]['id']}/contacts", asked)["id"])
    kept = app.get(f"/api/businesses/{buyers[0]['id']}")["outcomes"]
    assert (
        next(item["score"] for item in kept if item["service"] == held_back) is None
    )  # kept, though nothing can be learnt
    assert result()[0]["trials"] == len(buyers)
    assert failing(app, "POST", "/api/businesses/999999/contacts", asked)[0] == 404
    app.post(f"/api/businesses/{buyers[0]['id']}/contacts", {"result": "talking", "service": service})
    assert result()[0]["trials"] == len(buyers)  # a client who is called again stays one
    assert app.put("/api/win-model", {"goes_by": "prior"})["goes_by"] == "prior"
    assert total(app, "state=relationship") == len(buyers)
    app.post(f"/api/actions/{app.get('/api/actions')[0]['id']}/undo")
    for number in reversed(actions_done):
        app.post(f"/api/actions/{number}/undo")
    assert (total(app, "state=relationship"), app.get(f"/api/businesses/{buyers[0]['id']}")["outcomes"]) == (0, [])
    mailed = [
        app.post(f"/api/businesses/{b['id']}/contacts", {"result": "mailed", "service": service})["id"] for b in buyers
    ]
    assert {round(item["learnt"], 3) for item in result()[1].values()} == {
        0.02
    }  # contacted today: nothing can be learnt yet
    for number in mailed:
        app.post(f"/api/actions/{number}/undo")


def test_members_are_moved_given_and_followed_up_and_their_history_is_one_on_all_lists(app: Application) -> None:
    first, second = (app.post("/api/shortlists", {"name": name})["id"] for name in ("Board one", "Board two"))
    ids = [row["id"] for row in table(app, "sort=-value")[:3]]
    for number in (first, second):
        app.post(f"/api/shortlists/{number}/members", {"ids": ids})
    result = app.get(f"/api/shortlists/{first}/board")
    assert (result["counts"], [member["id"] for member in result["members"]]) == ({"picked": 3}, ids)
    asked = {"ids": ids[:2], "stage": "talking", "owner": "Ada", "follow_up": "2026-12-01", "by": "Ada"}
    assert app.post(f"/api/shortlists/{first}/members/move", asked) == {"changed": 2}
    assert app.post(f"/api/shortlists/{first}/members/move", asked) == {"changed": 0}  # nothing new to note
    assert app.get(f"/api/shortlists/{first}/board")["counts"] == {"talking": 2, "picked": 1}
    there = next(member for member in app.get(f"/api/shortlists/{second}/board")["members"] if member["id"] == ids[0])
    assert (there["stage"], there["last_by"]) == ("talking", "Ada")  # whoever opens it there sees the contact
    assert there["last_text"] == "picked → talking, now with Ada, to follow up on 2026-12-01"
    steps = app.post(f"/api/businesses/{ids[0]}/activities", {"text": "Asked for a quote", "by": "Bo"})
    assert [step["text"] for step in steps] == ["Asked for a quote", there["last_text"]]
    assert (total(app, "stage=talking"), total(app, "stage=talking&state=relationship")) == (
        0,
        2,
    )  # spoken with: no longer prospects
    for path, body in (
        (f"/api/shortlists/{first}/members/move", {"ids": [ids[0]], "follow_up": "soon"}),
        (f"/api/shortlists/{first}/members/move", {"ids": [ids[0]], "stage": "sold"}),
    ):
        assert failing(app, "POST", path, body)[0] == 422
    assert failing(app, "POST", f"/api/shortlists/{first}/members/move", {"ids": [999999], "stage": "won"})[0] == 404
    assert failing(app, "GET", "/api/shortlists/999999/board")[0] == 404
