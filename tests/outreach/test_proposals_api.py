"""A proposal from its draft to the sale: what is shared cannot be changed, what is accepted wins the business, once."""

import sqlite3
import urllib.request
from contextlib import closing
from typing import Any

import pypdfium2
import pytest

from tests.application import Application
from tests.asking import failing, ids_of, make_list, opened
from tests.outreach.contacted import app, folder

__all__ = ["app", "folder"]
pytestmark = pytest.mark.world
ASKED: dict[str, Any] = {
    "service": "new_website", "valid_until": "2099-12-31", "tax_percent": "10", "note": "", "by": "Ada",
    "items": [{"title": "New website", "amount": "1800"}, {"title": "Care", "amount": "40", "monthly": True}],
}  # fmt: skip


def made(app: Application, business: int, **more: Any) -> dict[str, Any]:
    found: dict[str, Any] = app.post(f"/api/businesses/{business}/proposals", ASKED | more)["proposals"][0]
    return found


def test_accepted_on_its_page(app: Application) -> None:
    business = ids_of(app, "sort=-value")[1]
    shortlist = make_list(app, "To win", [business])
    draft = made(app, business)
    assert (draft["once"], draft["monthly"]["gross"]) == ({"net": "1800", "tax": "180.00", "gross": "1980.00"}, "44.00")
    path = "/o/offer/" + draft["address"].rpartition("/")[2]
    assert opened(app, path)[0] == 404, "not before it is shared"
    app.put(f"/api/proposals/{draft['id']}", ASKED | {"note": "We begin in May."})
    app.post(f"/api/proposals/{draft['id']}/share", {"by": "Ada"})
    status, problem = failing(app, "PUT", f"/api/proposals/{draft['id']}", ASKED)
    assert (status, "was shared" in problem["what"]) == (422, True)
    status, page = opened(app, path)
    assert (status, "We begin in May." in page, "<form" in page) == (200, True, True)
    for wrong in ({"name": "Maria Lind"}, {"agreed": "yes", "name": " "}):
        assert opened(app, f"{path}/accept", wrong)[0] == 422
    for _ in range(2):
        status, page = opened(app, f"{path}/accept", {"name": "Maria <Lind>", "agreed": "yes"})
        assert (status, "Maria &lt;Lind&gt;" in page, "<form" in page) == (200, True, False)
    (found,) = app.get(f"/api/businesses/{business}/proposals")["proposals"]
    assert (found["accepted_by"], bool(found["accepted_at"])) == ("Maria <Lind>", True)
    (member,) = app.get(f"/api/shortlists/{shortlist}/board")["members"]
    assert member["stage"] == "won"
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn:
        sold = conn.execute("SELECT service, stage, amount FROM outcome WHERE business_id = ?", (business,)).fetchall()
    assert sold == [("new_website", "won", 1800 + 12 * 40)]
    wins = [item for item in app.get(f"/api/businesses/{business}/activities") if "accepted by Maria" in item["text"]]
    assert len(wins) == 1, "accepted twice, won once"
    assert failing(app, "POST", f"/api/proposals/{draft['id']}/withdraw", {"by": "Ada"})[0] == 422
    for name in ("proposal", "invoice"):
        with urllib.request.urlopen(f"{app.url}/api/proposals/{draft['id']}/{name}.pdf", timeout=60) as answer:
            text = pypdfium2.PdfDocument(answer.read())[0].get_textpage().get_text_range()
        assert "New website" in text
        assert ("Invoice" in text) == (name == "invoice")


def test_withdrawn_over_or_refused(app: Application) -> None:
    business = ids_of(app, "sort=-value")[2]
    shared, late = made(app, business), made(app, business)
    for one in (shared, late):
        app.post(f"/api/proposals/{one['id']}/share", {"by": "Ada"})
    form = {"name": "Maria", "agreed": "yes"}
    app.post(f"/api/proposals/{shared['id']}/withdraw", {"by": "Ada"})
    path = "/o/offer/" + shared["address"].rpartition("/")[2]
    assert opened(app, path)[0] == opened(app, f"{path}/accept", form)[0] == 410
    with closing(sqlite3.connect(app.folder / "acorn.db", timeout=30)) as conn, conn:
        conn.execute(
            "UPDATE proposal SET body = json_set(body, '$.valid_until', '2026-01-31') WHERE id = ?", (late["id"],)
        )
    path = "/o/offer/" + late["address"].rpartition("/")[2]
    status, page = opened(app, path)
    assert (status, "<form" in page) == (200, False)
    assert opened(app, f"{path}/accept", form)[0] == 410
    assert app.get(f"/api/businesses/{business}/proposals")["proposals"][0]["over"]
    past = made(app, business, valid_until="2026-01-31")
    assert failing(app, "POST", f"/api/proposals/{past['id']}/share", {"by": "Ada"})[0] == 422
    wrongs: tuple[dict[str, Any], ...] = (
        {"items": []},
        {"valid_until": "31.12.2026"},
        {"valid_until": "2026-02-31"},
        {"tax_percent": "-1"},
        {"service": "nothing"},
    )
    for wrong in wrongs:
        assert failing(app, "POST", f"/api/businesses/{business}/proposals", ASKED | wrong)[0] == 422, wrong
    app.post(f"/api/businesses/{business}/contacts", {"result": "refused", "by": "Ada"})
    another = made(app, business)
    assert failing(app, "POST", f"/api/proposals/{another['id']}/share", {"by": "Ada"})[0] == 422
    assert failing(app, "GET", "/api/proposals/999/preview")[0] == 404
