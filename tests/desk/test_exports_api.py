"""Exports over the API: every format, new rows alone, kept exports and their deliveries."""

import csv
import http.client
import http.server
import io
import json
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Callable
from pathlib import Path

import pytest

from openacorn.business.store import audits
from openacorn.db.database import Database
from tests.application import Application
from tests.asking import failing, total
from tests.desk.audited import HOOK_PORT, app, folder

__all__ = ["app", "folder"]

pytestmark = pytest.mark.world


@pytest.mark.parametrize("format_id", ["csv", "json", "ndjson", "geojson", "vcard", "xml", "html", "xlsx"])
def test_every_format_holds_everybody_who_passes(app: Application, format_id: str) -> None:
    import pandas as pd

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


def test_only_new_rows_are_exported_and_a_kept_export_has_a_guarded_link(app: Application) -> None:
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


def test_a_person_is_exported_from_the_pages_or_the_directory(app: Application, folder: Path) -> None:
    rows = list(csv.DictReader(io.StringIO(app.export_text("/api/businesses/export/csv?columns=id,person"))))
    named = {int(row["id"]): row["person"] for row in rows if row["person"]}
    assert len(named) > 10
    database = Database(folder / "acorn.db")
    with database.read() as conn:
        assert all(audits.first_person(conn, business) == person for business, person in list(named.items())[:20])
    database.close()
