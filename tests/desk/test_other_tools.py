"""A file for another tool, from its own sample to its download and its link."""

import base64
import csv
import io
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.application import Application, application
from tests.asking import failing
from tests.conftest import Coast, Swept
from tests.outreach.contacted import PLAN

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("tools")
    swept(PLAN, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


def test_from_a_sample_to_a_file(app: Application) -> None:
    sample = base64.b64encode("Firma;Ort;Telefon;Quelle\nMuster;Bern;031;Messe\n".encode("cp1252")).decode()
    layout: dict[str, Any] = app.post("/api/exports/layout", {"content": sample})
    assert [field["column"] for field in layout["fields"]] == ["name", "town", "phone", ""]
    layout["fields"][3]["text"] = "Open Acorn"
    asked = {"name": "Our CRM", "format": "csv", "filter": {"trade": "vets"}, "link": True, "layout": layout}
    preset = app.post("/api/presets", asked)
    assert (preset["headings"], preset["columns"]) == (4, ["name", "town", "phone"])
    request = urllib.request.Request(f"{app.url}/api/presets/{preset['id']}/file", b"", method="POST")
    with urllib.request.urlopen(request, timeout=30) as answer:
        rows = list(csv.DictReader(io.StringIO(answer.read().decode("utf-8"), newline=""), delimiter=";"))
    wanted = app.get("/api/businesses?columns=name,town&trade=vets&limit=500&sort=-value")
    assert [row["Firma"] for row in rows] == [row[wanted["columns"].index("name")] for row in wanted["rows"]]
    assert {row["Quelle"] for row in rows} == {"Open Acorn"}
    assert app.text(preset["link"]).splitlines()[0] == "Firma;Ort;Telefon;Quelle"
    for wrong in ([{"heading": "x", "column": "nothing"}], [{"heading": "x"}], []):
        assert failing(app, "POST", "/api/presets", asked | {"layout": layout | {"fields": wrong}})[0] == 422, wrong
    assert failing(app, "POST", "/api/exports/layout", {"content": base64.b64encode(b"a,a").decode()})[0] == 422
