"""Files taken in: all rows or none, refused rows by line, columns remembered, and a kill in between."""

import csv
import io
import json
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import pytest
import xlsxwriter

from bench.noisy_listings import EASY, noisy_listings
from openacorn.settings import Settings
from tests.application import Application, application
from tests.conftest import Coast

pytestmark = pytest.mark.world


def upload(app: Application, name: str, data: bytes) -> Any:
    request = urllib.request.Request(
        f"{app.url}/api/imports?name={name}", data, {"Content-Type": "application/octet-stream"}
    )
    with urllib.request.urlopen(request, timeout=30) as answer:
        return json.load(answer)


def refused(app: Application, name: str, data: bytes) -> str:
    with pytest.raises(urllib.error.HTTPError) as caught:
        upload(app, name, data)
    error = json.load(caught.value)["error"]
    caught.value.close()
    assert caught.value.code == 422
    return str(error["what"])


def start(app: Application, result: Any, **changes: Any) -> Any:
    asked = {"title": result["title"], "columns": result["columns"], **changes}
    return app.wait_for_run(app.post(f"/api/imports/{result['id']}/start", asked)["run_id"])


EXPORTED = "Name,Phone,Website,Suburb,Lat,Lon\nGull Florist,(03) 5550 1111,gull-florist.example,Gannet Bay,-37.0,160.0\n=1+1 Vets,(03) 5550 1234,,Port Ellery,-37.01,160.02\n"


CLIENTS = "Client,Web,Where\nGull Florist,gull-florist.example,Gannet Bay\n,,\nHeron,heron.example,\n,no-name.example,\nX,not an address at all,\n"


def test_a_clients_own_list_is_taken_in_audited_and_remembered(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        result = upload(app, "clients.csv", CLIENTS.encode())
        assert result["columns"] == {"name": "Client", "website": "Web"}
        assert not result["remembered"]
        run = start(app, result, columns={**result["columns"], "town": "Where"}, trade="florists")
        assert (run["state"], run["held"]) == ("done", 4)
        (line,) = app.get("/api/imports")
        assert (line["taken"], line["refused"], line["refused_rows"]) == (
            4,
            1,
            [{"line": 3, "reason": "neither a name nor a website"}],
        )
        page = app.get("/api/businesses?limit=10")
        named = {row[1]: dict(zip(page["columns"], row, strict=True)) for row in page["rows"]}
        assert set(named) == {"Gull Florist", "Heron", "no-name.example", "X"}
        assert all(row["audited_at"] for row in named.values())
        assert upload(app, "again.csv", CLIENTS.encode())["columns"]["town"] == "Where"
        assert app.get("/api/coverage")["lines"][0]["held"] == 0  # own files tell nothing about what is missing
        result = app.post("/api/imports/pasted", {"kind": "addresses", "text": "https://heron.example/{1..3}"})
        assert [row["website"] for row in result["rows"]] == [f"https://heron.example/{n}" for n in (1, 2, 3)]
        result = app.post("/api/imports/pasted", {"kind": "list", "text": "Tide Vets\n(03) 5550 1234\n"})
        more = app.post(
            "/api/imports/pasted", {"kind": "list", "text": "Salt Vets\n(03) 5550 4321\n", "append_to": result["id"]}
        )
        assert [row["name"] for row in more["rows"]] == ["Tide Vets", "Salt Vets"]


def test_a_malformed_file_is_refused_and_nothing_is_half_taken_in(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        assert "longer than 4 MB" in refused(app, "line.csv", b"name\n" + b"x" * 6_000_000)
        good = "".join(f"Shop {n},\n" for n in range(20_000))
        late = upload(app, "late.csv", b"name,phone\n" + good.encode() + b"x" * 6_000_000)
        run = start(app, late)
        assert run["state"] == "failed"
        assert "line 20002 is longer than 4 MB" in run["why"]
        assert run["remedy"] == "correct the file and import it again"
        assert app.get("/api/businesses?limit=1&state=all")["all"] == 0


def test_a_guessed_encoding_is_shown_and_can_be_changed(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        result = upload(app, "old.csv", "name,town\nŽižka a syn,Plzeň\n".encode("cp1250"))
        assert {"cp1250", "cp1252", "utf-8"} <= {item["id"] for item in result["encodings"]}
        change = f"/api/imports/{result['id']}/encoding"
        assert app.put(change, {"encoding": "cp1252"})["rows"][0]["town"] == "Plzeò"
        with pytest.raises(urllib.error.HTTPError, match="422") as caught:
            app.put(change, {"encoding": "utf-8"})
        caught.value.close()
        result = app.put(change, {"encoding": "cp1250"})
        assert (result["encoding"], result["rows"]) == ("cp1250", [{"name": "Žižka a syn", "town": "Plzeň"}])
        assert start(app, result)["held"] == 1
        assert app.get("/api/businesses?limit=1&columns=name,town")["rows"] == [["Žižka a syn", "Plzeň"]]
        assert upload(app, "book.xlsx", a_workbook())["encoding"] == ""
        assert [path.name for path in (tmp_path / "imports").iterdir()] == ["2"]  # what was imported is deleted
        assert "workbook" in refused(app, "torn.xlsx", b"PK\3\4")
        assert [path.name for path in (tmp_path / "imports").iterdir()] == ["2"]


def a_workbook() -> bytes:
    data = io.BytesIO()
    with xlsxwriter.Workbook(data) as book:
        book.add_worksheet().write_row(0, 0, ["name", "town"])
    return data.getvalue()


def test_national_numbers_are_never_lost_for_want_of_a_country(tmp_path: Path) -> None:
    """Without a country they are asked about; with one they are numbers, also those that came before it was set."""
    with application(tmp_path, Settings(browser_looks=0), []) as app:
        result = upload(app, "a.csv", b"name,phone\nGull Vets,(03) 5550 1234\nHeron,+61 3 5550 4321\n")
        assert result["national_phones"] == ["(03) 5550 1234"]
        with pytest.raises(urllib.error.HTTPError, match="422") as caught:
            start(app, result)
        error = json.load(caught.value)["error"]
        caught.value.close()
        assert (error["where"], "(03) 5550 1234" in error["what"]) == ("country", True)
        assert start(app, result, keep_phones=True)["held"] == 2
        pasted = app.post(
            "/api/imports/pasted", {"kind": "list", "text": "Gull Vets\n03 5550 1234\n\nTern Vets\nTel. 03 5550-9876\n"}
        )
        assert pasted["national_phones"] == ["03 5550 1234", "03 5550-9876"]
        app.put("/api/settings/home", {"country": "AU"})
        start(app, pasted)
        rows = app.get("/api/businesses?limit=9&columns=name,phone&sort=name")["rows"]
        assert rows == [["Gull Vets", "+61355501234"], ["Heron", "+61355504321"], ["Tern Vets", "+61355509876"]]


def test_the_applications_own_exports_can_be_imported_back(coast: Coast, tmp_path: Path) -> None:
    def shown(app: Application) -> list[Any]:
        return list(app.get("/api/businesses?limit=99&columns=name,phone,website,town&sort=name")["rows"])

    with application(tmp_path / "one", coast.settings, coast.read("places.json")) as app:
        start(app, upload(app, "clients.csv", EXPORTED.encode()))
        before = shown(app)
        files = {form: app.export(f"/api/businesses/export/{form}") for form in ("csv", "xlsx", "geojson")}
    for form, body in files.items():
        with application(tmp_path / form, coast.settings, coast.read("places.json")) as app:
            start(app, upload(app, f"back.{form}", body))
            assert shown(app) == before, form


def test_a_kill_in_between_loses_and_doubles_nothing(coast: Coast, tmp_path: Path) -> None:
    import signal
    import time

    rows, numbers = noisy_listings(3000, EASY)
    file = tmp_path / "big.csv"
    with file.open("w", newline="") as out:
        writer = csv.DictWriter(
            out, [name for name in rows[0] if name not in {"website", "source"}], extrasaction="ignore"
        )
        writer.writeheader()
        writer.writerows(rows)
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        result = upload(app, "big.csv", file.read_bytes())
        run_id = app.post(f"/api/imports/{result['id']}/start", {"title": "big", "columns": result["columns"]})[
            "run_id"
        ]
        for moment in (0.2, 1.0):
            time.sleep(moment)
            app.end(signal.SIGKILL)
            app.start()
        run = app.wait_for_run(run_id)
        assert (run["state"], run["found"]) == ("done", 3000)
        assert len(set(numbers)) * 0.98 <= run["held"] <= len(set(numbers)) * 1.1
