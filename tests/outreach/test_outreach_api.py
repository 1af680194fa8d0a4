"""First contact over the API: call sheets, results and what follows, mailings."""

import csv
import io
import json
import re
import sqlite3
import urllib.error
import urllib.parse
import urllib.request
from contextlib import closing
from typing import Any

import pytest

from openacorn.clock import today
from tests.application import Application
from tests.asking import failing, ids_of, make_list, opened, total
from tests.outreach.contacted import app, folder

__all__ = ["app", "folder"]

pytestmark = pytest.mark.world


def test_a_call_sheet_holds_only_what_may_be_said(app: Application) -> None:
    sheets = [app.get(f"/api/businesses/{business}/call-sheet") for business in ids_of(app)[:40]]
    assert all(len(sheet["claims"]) <= 3 and not sheet["stale"] for sheet in sheets)
    assert all(claim["evidence"] and claim["text"] and claim["why"] for sheet in sheets for claim in sheet["claims"])
    assert any(sheet["people"] for sheet in sheets)
    assert any(sheet["line"] for sheet in sheets)
    assert not any(re.search(r"\{(name|town|trade)\}", sheet["line"]) for sheet in sheets)
    called = next(sheet for sheet in sheets if sheet["numbers"])
    assert all(re.fullmatch(r"\d\d:\d\d", time) for number in called["numbers"] for time in number["times"])
    assert "load_time" not in {claim["check"] for sheet in sheets for claim in sheet["claims"]}
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn:
        bare = conn.execute(
            "SELECT check_id FROM finding WHERE outcome IN ('gap', 'partial') AND evidence = '[]'"
        ).fetchall()
    assert bare == []  # what cannot be shown could not be claimed either


def test_nobody_is_called_by_what_stands_on_a_site_that_is_not_theirs(app: Application) -> None:
    business = next(b for b in ids_of(app, "has=email") if app.get(f"/api/businesses/{b}/call-sheet")["people"])
    answer = "UPDATE finding SET outcome = ? WHERE business_id = ? AND check_id = 'site_ownership'"
    with closing(sqlite3.connect(app.folder / "acorn.db", timeout=30)) as conn:
        with conn:
            conn.execute(answer, ("gap", business))
        whole, sheet = app.get(f"/api/businesses/{business}"), app.get(f"/api/businesses/{business}/call-sheet")
        with conn:
            conn.execute(answer, ("ok", business))
    assert {number["value"] for number in sheet["numbers"]} <= {whole["phone"]}
    assert not any("website" in person["role"] for person in sheet["people"])
    assert not any("address" in channel["kind"] and not channel["assumed"] for channel in whole["channels"])


def test_results_follow_through_and_are_undone(app: Application) -> None:
    ids = ids_of(app, "sort=-value")[:5]
    number, other = make_list(app, "Monday", ids), make_list(app, "Tuesday", ids[:1])

    def queue() -> list[int]:
        return [call["id"] for call in app.get(f"/api/shortlists/{number}/calls")]

    assert queue() == ids
    app.post(f"/api/businesses/{ids[0]}/contacts", {"result": "no answer", "by": "Ada"})
    assert queue() == [*ids[1:], ids[0]]  # tried in vain today: last
    everybody = total(app)
    results: list[dict[str, Any]] = [
        {"result": "refused", "note": "never again"},
        {"result": "call back", "follow_up": "2030-01-02"},
        {"result": "won", "amount": 2800.0},
        {"result": "call back", "follow_up": today()},
        {"result": "not interested"},
    ]
    actions_done = [
        app.post(f"/api/businesses/{business}/contacts", {"by": "Ada", **result})["id"]
        for business, result in zip(ids, results, strict=True)
    ]
    assert queue() == [call["id"] for call in app.get("/api/calls")] == [ids[3]]
    assert total(app) == everybody - 2  # the refused and the client are no prospects any more
    assert app.get(f"/api/businesses/{ids[0]}/call-sheet")["numbers"] == []
    (member,) = app.get(f"/api/shortlists/{other}/board")["members"]
    assert (member["stage"], member["relationship"], member["last_by"]) == ("lost", "refused", "Ada")
    assert member["last_text"] == "refused: never again"
    kept = app.get(f"/api/businesses/{ids[2]}")["outcomes"]
    assert [(item["stage"], item["amount"]) for item in kept] == [("won", 2800)]
    assert failing(app, "POST", f"/api/businesses/{ids[1]}/contacts", {"result": "call back"})[0] == 422
    assert failing(app, "POST", f"/api/businesses/{ids[1]}/contacts", {"result": "sold"})[0] == 422
    assert failing(app, "POST", f"/api/businesses/{ids[1]}/contacts", {"result": "won", "service": "x"})[0] == 422
    for form in ("html", "pdf"):
        assert opened(app, f"/api/shortlists/{number}/call-sheets.{form}")[0] == 200
        assert opened(app, f"/api/businesses/{ids[1]}/call-sheet.{form}")[0] == 200
    assert failing(app, "GET", f"/api/businesses/{ids[1]}/call-sheet.doc")[0] == 404
    for action_id in reversed(actions_done):
        app.post(f"/api/actions/{action_id}/undo")
    assert (queue(), total(app)) == ([*ids[1:], ids[0]], everybody)
    failing(app, "PATCH", f"/api/shortlists/{other}", {"name": "Monday"})
    for method, body in (("PATCH", {"name": "Wednesday"}), ("DELETE", None)):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"{app.url}/api/shortlists/{other}", data, {"Content-Type": "application/json"}, method=method
        )
        with urllib.request.urlopen(request) as answer:
            assert answer.status == 204
    assert failing(app, "GET", f"/api/shortlists/{other}/board")[0] == 404
    assert any(step["text"] == "no answer" for step in app.get(f"/api/businesses/{ids[0]}/activities"))


def rows_of(app: Application, number: int, query: str = "") -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(app.text(f"/api/mailings/{number}.csv{query}"))))


def test_a_mailing_holds_verified_addresses_alone_and_is_remembered(app: Application) -> None:
    ids = ids_of(app, "limit=60")
    app.post(f"/api/businesses/{ids[0]}/contacts", {"result": "refused"})
    number = make_list(app, "To write to", ids)
    draft = app.get(f"/api/shortlists/{number}/mailing?days=0")
    assert (draft["sent"] + draft["left_out"], draft["earlier"]) == (len(ids), [])
    out = {letter["id"]: letter["reason"] for letter in draft["letters"] if letter["reason"]}
    assert out[ids[0]] == "marked as refused"
    assert any("not verified" in reason or "no address" in reason for reason in out.values())
    sent = app.post(f"/api/shortlists/{number}/mailings", {"days": 0, "by": "Ada"})
    rows = rows_of(app, sent["mailing"])
    assert len(rows) == draft["sent"] == sent["sent"] > 0
    assert len({row["email"] for row in rows}) == len(rows)
    assert all(row["email"] and row["opening_line"] for row in rows)
    assert len(rows_of(app, sent["mailing"], "?left_out=true")) == len(ids)
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn:
        results = {row[0] for row in conn.execute("SELECT address FROM verification WHERE result = 'valid'")}
    assert {row["email"] for row in rows} <= results
    again = app.get(f"/api/shortlists/{number}/mailing?days=30")
    assert (again["sent"], len(again["earlier"])) == (0, 1)
    assert failing(app, "POST", f"/api/shortlists/{number}/mailings", {"days": 30})[0] == 422
    assert failing(app, "GET", f"/api/mailings/{sent['mailing']}.doc")[0] == 404
    app.post(f"/api/actions/{sent['action_id']}/undo")
    back = app.get(f"/api/shortlists/{number}/mailing?days=30")
    assert (back["sent"], back["earlier"]) == (draft["sent"], [])
