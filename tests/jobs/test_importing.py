"""Files taken in: all rows or none, refused rows by line, columns remembered, and a kill in between."""

import csv
import json
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import pytest

from openacorn.bench.noisy_listings import EASY, noisy_listings
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


def start(app: Application, told: Any, **changes: Any) -> Any:
    asked = {"title": told["title"], "columns": told["columns"], **changes}
    return app.wait_for_run(app.post(f"/api/imports/{told['id']}/start", asked)["run_id"])


CLIENTS = "Client,Web,Where\nGull Florist,gull-florist.example,Gannet Bay\n,,\nHeron,heron.example,\n,no-name.example,\nX,not an address at all,\n"


def test_a_clients_own_list_is_taken_in_audited_and_remembered(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        told = upload(app, "clients.csv", CLIENTS.encode())
        assert told["columns"] == {"name": "Client", "website": "Web"}
        assert not told["remembered"]
        run = start(app, told, columns={**told["columns"], "town": "Where"}, trade="florists")
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
        told = app.post("/api/imports/pasted", {"kind": "addresses", "text": "https://heron.example/{1..3}"})
        assert [row["website"] for row in told["rows"]] == [f"https://heron.example/{n}" for n in (1, 2, 3)]
        told = app.post("/api/imports/pasted", {"kind": "list", "text": "Tide Vets\n(03) 5550 1234\n"})
        more = app.post(
            "/api/imports/pasted", {"kind": "list", "text": "Salt Vets\n(03) 5550 4321\n", "append_to": told["id"]}
        )
        assert [row["name"] for row in more["rows"]] == ["Tide Vets", "Salt Vets"]


def test_a_malformed_file_is_refused_and_nothing_is_half_taken_in(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        assert "UTF-8" in refused(app, "old.csv", "name\nKüche\n".encode("latin-1"))
        assert "longer than 4 MB" in refused(app, "line.csv", b"name\n" + b"x" * 6_000_000)
        good = "".join(f"Shop {n},\n" for n in range(20_000))
        late = upload(app, "late.csv", b"name,phone\n" + good.encode() + b"K\xfcche,\n")
        run = start(app, late)
        assert run["state"] == "failed"
        assert "byte 0xfc is not UTF-8" in run["why"]
        assert run["remedy"] == "mend the file and bring it in again"
        assert app.get("/api/businesses?limit=1&state=all")["all"] == 0


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
        told = upload(app, "big.csv", file.read_bytes())
        run_id = app.post(f"/api/imports/{told['id']}/start", {"title": "big", "columns": told["columns"]})["run_id"]
        for moment in (0.2, 1.0):
            time.sleep(moment)
            app.end(signal.SIGKILL)
            app.start()
        run = app.wait_for_run(run_id)
        assert (run["state"], run["found"]) == ("done", 3000)
        assert len(set(numbers)) * 0.98 <= run["held"] <= len(set(numbers)) * 1.1
