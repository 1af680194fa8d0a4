"""The desk over the API: actions and undoing them, notes, services tried and saved, angles, and boards."""

import json
import urllib.error
import urllib.parse
import urllib.request
from pathlib import Path
from typing import Any

import pytest

from openacorn.core.desk.angle import shipped_angles
from openacorn.core.desk.filters import parse_filter
from openacorn.core.score.service import all_services
from openacorn.db.database import Database
from tests.application import Application
from tests.asking import delete, failing, table, total
from tests.desk.audited import app, folder

__all__ = ["app", "folder"]

pytestmark = pytest.mark.world


def test_actions_change_what_is_shown_and_can_be_undone(app: Application) -> None:
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


def test_an_action_on_all_that_match_is_one_action(app: Application) -> None:
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
    import pandas as pd

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


def test_what_is_wrong_answers_in_the_one_shape(app: Application) -> None:
    with pytest.raises(urllib.error.HTTPError) as caught:
        app.get("/api/businesses?columns=shoe")
    assert caught.value.code == 422
    caught.value.close()


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
