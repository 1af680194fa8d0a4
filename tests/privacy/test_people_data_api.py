"""What is kept of people in a running application: found, given out, erased without a trace, and removed when its time is over."""

import json
import re
import shutil
import sqlite3
import time
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from openacorn.db.compression import NotCompressed, decompress
from openacorn.db.database import Database
from openacorn.privacy.erasing import remove_untouched
from tests.application import Application, application
from tests.conftest import Coast, Swept, circle

pytestmark = pytest.mark.world
PLAN = {
    "trades": ["vets", "photographers"], "areas": [circle(-37.02, 160.02, 5000.0)],
    "sources": ["listing_service", "map_data", "social_pages"], "facts": ["website", "contacts"],
}  # fmt: skip


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("people")
    swept(PLAN, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


def somebody(app: Application) -> tuple[int, dict[str, Any]]:
    """A business with a named person and that person's own address."""
    for row in app.get("/api/businesses?limit=500&columns=id")["rows"]:
        business = app.get(f"/api/businesses/{row[0]}")
        for person in business["people"]:
            if (
                person["address"]
                and not person["guessed"]
                and business["phone"]
                and person["name"] not in business["name"]
            ):
                return row[0], {**person, "phone": business["phone"]}
    raise AssertionError("the coast has somebody with an address of their own")


def places_of(folder: Path, needles: list[str]) -> list[str]:
    """Where any of the texts stands: every file of the data folder as bytes, archives and compressed cells unpacked, WAL and all."""
    wanted = [needle.lower().encode() for needle in needles]

    def holds(body: bytes) -> bool:
        return any(one in body.lower() for one in wanted)

    found = []
    for path in folder.rglob("*"):
        if path.is_file() and holds(path.read_bytes()):
            found.append(str(path.relative_to(folder)))
        if path.is_file() and zipfile.is_zipfile(path):
            with zipfile.ZipFile(path) as pack:
                found += [f"{path.name}/{name}" for name in pack.namelist() if holds(pack.read(name))]
    with sqlite3.connect(f"file:{folder / 'acorn.db'}?mode=ro", uri=True) as conn:
        for (table,) in conn.execute("SELECT name FROM sqlite_schema WHERE type = 'table'").fetchall():
            for row in conn.execute(f'SELECT * FROM "{table}"'):
                for cell in row:
                    if isinstance(cell, bytes) and cell[:1] == b"\x78":
                        try:
                            cell = decompress(cell)
                        except NotCompressed:
                            continue
                    if isinstance(cell, str | bytes) and holds(cell if isinstance(cell, bytes) else cell.encode()):
                        found.append(f"{table}: {str(row)[:200]}")
    return found


def test_somebody_is_found_given_out_and_erased_without_a_trace(app: Application) -> None:
    number, person = somebody(app)
    name, email, phone = person["name"], person["address"], person["phone"]
    app.post(f"/api/businesses/{number}/activities", {"text": f"Spoke to {name}, call {phone} after ten", "by": "Ada"})
    app.post("/api/actions", {"kind": "tag", "ids": [number], "word": f"ask {name}"})
    app.post(
        f"/api/businesses/{number}/appointments", {"at": "2027-03-01T10:00:00+11:00", "note": f"with {name} <{email}>"}
    )
    for form in ("csv", "xlsx"):
        kept = app.post(
            "/api/presets",
            {
                "name": f"All {form}",
                "format": form,
                "folder": "deliveries",
                "columns": ["name", "phone", "emails", "person"],
            },
        )
        app.post(f"/api/presets/{kept['id']}/deliver")
    assert len([path for path in (app.folder / "deliveries").rglob("*") if path.is_file()]) == 2
    asked = {"emails": [email], "phones": [phone], "names": [name]}
    found = app.post("/api/people-data/find", asked)
    assert {
        "Notes and calls",
        "Tags",
        "Appointments",
        "Contacts on a website",
        "What a source listed",
        "Findings",
    } <= set(found["by_title"])
    assert found["total"] == sum(found["by_title"].values())
    assert len(found["files"]) == 2
    assert all(trace["excerpt"] for trace in found["traces"])
    given = app.post("/api/people-data/export", asked)
    assert given["total"] == found["total"]
    digits = re.sub(r"\D", "", phone)[-9:]
    needles = [name, email, phone, digits, json.dumps(name)[1:-1]]
    assert places_of(app.folder, needles)

    done = app.post("/api/people-data/erase", asked)
    assert number in done["businesses"]
    assert len(done["files"]) == 2
    assert any("Backups" in line for line in done["left"])
    assert places_of(app.folder, needles) == []
    assert app.post("/api/people-data/find", asked)["total"] == 0
    business = app.get(f"/api/businesses/{number}")
    shown = json.dumps(business, ensure_ascii=False)
    assert name not in shown
    assert email not in shown
    assert digits not in re.sub(r"\D", "", shown)
    assert business["findings"], "the business stays, with what was found of its website"
    assert not [one for one in business["people"] if "removed" in one["name"]]
    assert app.get(f"/api/businesses?q={business['name'].split()[0]}")["total"] >= 1
    for page in ("/call-sheet", "/history", "/origins", "/activities"):
        assert name not in app.text(f"/api/businesses/{number}{page}"), page


def test_whom_a_source_brings_back_is_erased_again(app: Application) -> None:
    _, person = somebody(app)
    asked = {"emails": [person["address"]], "phones": [person["phone"]]}
    app.post("/api/people-data/erase", asked)
    run = app.post("/api/sweeps", {"name": "Once more", "plan": PLAN})["run_id"]
    assert app.wait_for_run(run)["state"] == "done"
    until = time.monotonic() + 60
    while app.post("/api/people-data/find", asked)["total"] and time.monotonic() < until:
        time.sleep(0.5)
    assert app.post("/api/people-data/find", asked)["total"] == 0
    assert app.get("/api/people-data")["kinds"][-1]["count"] >= 5, "hashes alone are kept"


def test_why_data_may_be_kept_is_noted_by_country(app: Application) -> None:
    text = "Legitimate interest, GDPR Art. 6 (1) f; balancing test of May 2026."
    assert app.put("/api/people-data/bases", {"country": "DE", "text": text})["bases"] == [
        {"country": "DE", "text": text}
    ]
    kinds = {(kind["kind"], kind["origin"]): kind for kind in app.get("/api/people-data")["kinds"]}
    assert kinds["E-mail addresses", "websites"]["count"] > 10
    assert kinds["E-mail addresses", "websites"]["since"]
    assert app.put("/api/people-data/bases", {"country": "DE", "text": " "})["bases"] == []


def test_what_nobody_touched_is_removed_after_its_months(app: Application, tmp_path: Path) -> None:
    with sqlite3.connect(app.folder / "acorn.db") as conn:
        conn.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    shutil.copy(app.folder / "acorn.db", tmp_path / "acorn.db")
    database = Database(tmp_path / "acorn.db")
    long_ago = (datetime.now(UTC) - timedelta(days=400)).isoformat(timespec="seconds")
    with database.write() as conn:
        conn.execute("UPDATE business SET first_seen = ?", (long_ago,))
        (touched,) = conn.execute(
            "SELECT business_id FROM contact WHERE kind = 'email' ORDER BY business_id DESC LIMIT 1"
        ).fetchone()
        conn.execute(
            "INSERT INTO step (business_id, at, by, text, kind) SELECT ?, ?, 'Ada', 'rang', 'note'",
            (touched, datetime.now(UTC).isoformat()),
        )
        before = conn.execute("SELECT count(*) FROM contact WHERE kind != 'social'").fetchone()[0]
    assert before > 20
    rows = app.get("/api/businesses?limit=500&columns=id")["rows"]
    everybody = [app.get(f"/api/businesses/{row[0]}") for row in rows if row[0] != touched]
    names = {
        business["id"]: [
            one["name"] for one in business["people"] if " " in one["name"] and one["name"] not in business["name"]
        ]
        for business in everybody
    }
    assert sum(map(len, names.values())) > 10
    assert remove_untouched(database, 0) == 0
    assert remove_untouched(database, 24) == 0
    assert remove_untouched(database, 12) > 20
    with database.read() as conn:
        left = {row[0] for row in conn.execute("SELECT business_id FROM contact WHERE kind != 'social'")}
        phones = {row[0] for row in conn.execute("SELECT id FROM business WHERE phone != ''")}
        audits = conn.execute("SELECT count(*) FROM finding").fetchone()[0]
        listed = conn.execute("SELECT business_id, body FROM listing WHERE business_id != ?", (touched,)).fetchall()
    assert left == {touched}, "a note of this year keeps it"
    assert phones <= {touched}
    assert not [text for number, text in listed if any(name in text for name in names.get(number, ()))], (
        "nor anybody's name"
    )
    assert audits > 100
    assert remove_untouched(database, 12) == 0, "done once"
    database.close()
