"""A call list goes out and its results come back: noted once, shown before, skipped with the reason."""

import base64
import csv
import io
from typing import Any

import openpyxl
import pytest

from tests.application import Application
from tests.asking import failing, ids_of, make_list
from tests.outreach.contacted import app, folder

__all__ = ["app", "folder"]
pytestmark = pytest.mark.world


def workbook(rows: list[list[Any]]) -> str:
    book = openpyxl.Workbook()
    sheet = book.create_sheet("Calls", 0)
    for row in rows:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return base64.b64encode(out.getvalue()).decode()


def test_a_list_out_and_its_results_back(app: Application) -> None:
    number = make_list(app, "To dial", ids_of(app)[10:40])
    app.put("/api/call-list-columns", {"chosen": ["reference", "number", "line", "business", "voicemail"]})
    text = app.text(f"/api/shortlists/{number}/call-list.csv")
    listed = list(csv.DictReader(io.StringIO(text)))
    assert len(listed) > 4
    assert list(listed[0]) == ["Reference", "Number", "Line", "Business", "Voicemail"]
    assert all(row["Number"].startswith("+61") for row in listed)
    lines = [row["Line"] for row in listed]
    assert lines == sorted(lines, key=lambda line: line != "mobile"), "mobiles first"

    first, second, third, fourth = listed[:4]
    rows = [
        ["Reference", "Phone", "Disposition", "Notes", "Call time"],
        [first["Reference"], "", "Connected", "wants a sketch", "2026-11-02T10:00:00"],
        ["", second["Number"], "No answer", "", "2026-11-02T10:05:00"],
        [third["Reference"], third["Number"], "DNC", "", "2026-11-02T10:07:00"],
        [fourth["Reference"], "", "Zonk", "", "2026-11-02T10:08:00"],
        ["acorn-99999999", "", "Connected", "", "2026-11-02T10:09:00"],
    ]
    asked: dict[str, Any] = {"name": "results.xlsx", "content": workbook(rows), "by": "Ada"}
    shown = app.post("/api/call-results", asked)
    assert shown["meanings"] == {"Connected": "talking", "No answer": "no answer", "DNC": "refused", "Zonk": ""}
    assert (shown["noted"], sum(shown["skipped"].values())) == (3, 2)
    business = int(first["Reference"].removeprefix("acorn-"))
    before = app.get(f"/api/businesses/{business}/activities")
    kept = app.post("/api/call-results", {**asked, "keep": True, "meanings": {"Zonk": "not interested"}})
    assert kept["noted"] == 4
    assert kept["skipped"] == {"no business has this reference, number or address": 1}
    (latest, *_) = app.get(f"/api/businesses/{business}/activities")
    assert latest["text"] == "talking: wants a sketch"
    assert len(app.get(f"/api/businesses/{business}/activities")) == len(before) + 1
    refused = int(third["Reference"].removeprefix("acorn-"))
    assert app.get(f"/api/businesses/{refused}/call-sheet")["relationship"] == "refused"
    assert third["Reference"] not in app.text(f"/api/shortlists/{number}/call-list.csv")

    again = app.post("/api/call-results", {**asked, "keep": True, "meanings": {"Zonk": "not interested"}})
    assert again["noted"] == 0, "a file read twice notes nothing twice"
    assert again["skipped"]["it was read before"] == 4


def test_a_file_that_cannot_be_read_says_why(app: Application) -> None:
    table = base64.b64encode(b"Colour,Shape\r\nred,round\r\n").decode()
    status, body = failing(app, "POST", "/api/call-results", {"name": "x.csv", "content": table, "keep": True})
    assert (status, "choose the column of the result" in str(body)) == (422, True)
    broken = base64.b64encode(b"PK\x03\x04not a workbook").decode()
    assert failing(app, "POST", "/api/call-results", {"name": "x.xlsx", "content": broken})[0] == 422
    assert failing(app, "POST", "/api/call-results", {"name": "x.csv", "content": "%%%"})[0] == 422
    assert failing(app, "PUT", "/api/call-list-columns", {"chosen": ["shoe size"]})[0] == 422


def test_a_mailers_results_by_address_mapped_once(app: Application) -> None:
    """A file in another shape: addresses instead of numbers, semicolons, a comma for cents; read again it needs no mapping."""
    listed = {}
    for number in ids_of(app):
        addresses = [
            item["value"] for item in app.get(f"/api/businesses/{number}")["contacts"] if item["kind"] == "email"
        ]
        if addresses:
            listed[number] = addresses[0].lower()
    single = [number for number, address in listed.items() if list(listed.values()).count(address) == 1][:4]
    bought, gone, answered, opened = (listed[number] for number in single)
    lines = [
        "Empfänger;Zustand;Deal",
        f"{bought.upper()};Gekauft;1.200,50",
        f"{gone};Hard bounce;",
        f"{answered};Replied;",
        f"{opened};Opened;",
    ]
    table = base64.b64encode("\n".join(lines).encode()).decode()
    asked: dict[str, Any] = {"name": "export.csv", "content": table, "by": "Ada", "channel": "email"}
    unknown = app.post("/api/call-results", asked)
    assert (unknown["headings"], unknown["noted"]) == (["Empfänger", "Zustand", "Deal"], 0), "nobody can guess these"
    assert "choose the column of the result" in unknown["lacks"]
    mapped = asked | {"fields": {"email": "Empfänger", "result": "Zustand"}, "meanings": {"Gekauft": "won"}}
    shown = app.post("/api/call-results", mapped)
    assert shown["meanings"] == {"Gekauft": "won", "Hard bounce": "bounced", "Replied": "talking", "Opened": "mailed"}
    assert (shown["noted"], shown["fields"]["amount"]) == (4, "Deal")
    assert app.post("/api/call-results", mapped | {"keep": True})["noted"] == 4
    first, second, *_ = single
    assert app.get(f"/api/businesses/{first}/call-sheet")["relationship"] == "client"
    assert "1,200" in app.get(f"/api/businesses/{first}/activities")[0]["text"]
    history = [item["text"] for item in app.get(f"/api/businesses/{second}/activities")]
    assert f"a message to {gone} came back" in history
    sheet = app.get(f"/api/businesses/{second}/call-sheet")
    assert sheet["relationship"] == "", "an address that bounced says nothing of the business"
    again = app.post("/api/call-results", {"name": "export.csv", "content": table})
    assert (again["channel"], again["meanings"]["Gekauft"], again["fields"]["email"]) == ("email", "won", "Empfänger")
