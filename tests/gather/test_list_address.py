"""A list at an address: fetched, read by its columns, read again on the next run; and what stands there instead of one."""

import http.server
import io
import json
import urllib.error
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import openpyxl
import pytest

from tests.application import Application
from tests.running import new_application, served

pytestmark = pytest.mark.world
FIRST = "Firma;Straße;PLZ;Ort;Telefon\r\nBlumen Grün;Hauptstraße 1;10115;Berlin;030 23125 101\r\nKranz & Söhne;Ring 2;10115;Berlin;030 23125 102\r\n"
LATER = FIRST.replace("Blumen Grün;", "Neu am Platz;Gasse 9;10115;Berlin;030 23125 103\r\nBlumen Grün;").replace(
    "102", "104"
)


def workbook() -> bytes:
    book = openpyxl.Workbook()
    sheet = book.create_sheet("Firms", 0)
    for row in (["Name", "Phone"], ["Sheet Florist", "+49 30 23125105"]):
        sheet.append(row)
    held = io.BytesIO()
    book.save(held)
    return held.getvalue()


class Shelf(http.server.BaseHTTPRequestHandler):
    """Hands out whatever the test lays there: path → (status, headers, body)."""

    server: "Server"

    def do_GET(self) -> None:
        """Answer one request."""
        status, headers, body = self.server.shelf.get(self.path, (404, {}, b""))
        self.send_response(status)
        for name, value in headers.items():
            self.send_header(name, value)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: object) -> None:
        """Keep quiet."""


class Server(http.server.ThreadingHTTPServer):
    """The shelf, served."""

    shelf: dict[str, tuple[int, dict[str, str], bytes]]


@pytest.fixture(scope="module")
def server() -> Iterator[Server]:
    made = Server(("127.0.0.1", 0), Shelf)
    made.shelf = {
        "/list": (302, {"Location": "/export?id=1"}, b""),
        "/export?id=1": (200, {"Content-Type": "text/csv"}, FIRST.encode("cp1252")),
        "/sheet": (200, {"Content-Disposition": 'attachment; filename="firms.xlsx"'}, workbook()),
        "/page": (200, {"Content-Type": "text/html"}, b"<!DOCTYPE html><html><body>Sign in, please</body></html>"),
    }
    with served(made) as running:
        yield running


@pytest.fixture(scope="module")
def app(server: Server, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("lists") / "data"
    with new_application(
        folder, region="DE", trusted_hosts=[f"127.0.0.1:{server.server_port}"], browser_looks=0
    ) as running:
        yield running


def fetched(app: Application, server: Server, path: str) -> dict[str, Any]:
    answer: dict[str, Any] = app.post(
        "/api/imports/address", {"address": f"http://127.0.0.1:{server.server_port}{path}"}
    )
    return answer


def held(app: Application) -> dict[str, str]:
    return dict(row[:2] for row in app.get("/api/businesses?limit=99&columns=name,phone&state=all")["rows"])


def test_a_published_list_is_read_again_on_every_run(app: Application, server: Server) -> None:
    found = fetched(app, server, "/list")
    assert found["columns"] == {
        "name": "Firma",
        "street": "Straße",
        "postcode": "PLZ",
        "town": "Ort",
        "phone": "Telefon",
    }
    started = app.post(f"/api/imports/{found['id']}/start", {"title": "Berlin", "columns": found["columns"]})
    app.wait_for_run(started["run_id"])
    assert held(app) == {"Blumen Grün": "+493023125101", "Kranz & Söhne": "+493023125102"}
    server.shelf["/export?id=1"] = (200, {"Content-Type": "text/csv"}, LATER.encode("cp1252"))
    again = app.wait_for_run(app.post(f"/api/sweeps/{started['sweep_id']}/runs")["run_id"])
    assert (again["state"], again["why"]) == ("done", "")
    assert held(app) == {
        "Neu am Platz": "+493023125103",
        "Blumen Grün": "+493023125101",
        "Kranz & Söhne": "+493023125104",
    }
    server.shelf["/export?id=1"] = (410, {}, b"")
    gone = app.wait_for_run(app.post(f"/api/sweeps/{started['sweep_id']}/runs")["run_id"])
    assert any("HTTP 410" in note["text"] and "address" in note["remedy"] for note in gone["notes"])
    assert len(held(app)) == 3


def test_a_spreadsheet_is_known_by_the_name_that_its_server_gives(app: Application, server: Server) -> None:
    found = fetched(app, server, "/sheet")
    assert (found["title"], found["rows"][0]["Name"]) == ("firms", "Sheet Florist")


@pytest.mark.parametrize(
    ("path", "said"), [("/page", "a web page, no list"), ("/nothing", "HTTP 404")], ids=["a page", "nothing"]
)
def test_what_is_no_list_is_said(app: Application, server: Server, path: str, said: str) -> None:
    with pytest.raises(urllib.error.HTTPError) as caught:
        fetched(app, server, path)
    assert said in json.load(caught.value)["error"]["what"]
