"""A directory behind a log-in, searched by a form, whose further rows a button loads: found, kept sealed, gathered whole."""

import json
import urllib.error
from pathlib import Path
from typing import Any

import pytest

from openacorn.db import secrets
from openacorn.db.database import Database
from openacorn.sim.guild_site import HOST, PAGE, PASSWORD, USER
from tests.application import Application, application
from tests.conftest import Coast, circle

pytestmark = pytest.mark.world
REACHED: dict[str, Any] = {
    "title": "Guild",
    "address": f"http://{HOST}/find",
    "item": "",
    "fields": [],
    "pace_s": 0.02,
    "form": {"what": "{term}", "where": "{place}"},
    "log_in": f"http://{HOST}/login",
    "log_in_form": {"user": "{user}", "pass": "{secret}"},
    "user": USER,
}
PAGE_OF = {"address": f"http://{HOST}/find", "term": "vet", "place": "Port Ellery", "title": "Guild"}


def gather(app: Application, plan: dict[str, Any]) -> dict[str, Any]:
    kept = app.post("/api/recipes", plan)
    assert "secret" not in kept
    assert PASSWORD not in json.dumps(app.get("/api/recipes"))
    sweep = {
        "trades": ["vets"],
        "areas": [circle(-37.02, 160.02, 5000)],
        "sources": [f"directory:{kept['id']}"],
        "facts": [],
    }
    return app.wait_for_run(app.post("/api/sweeps", {"name": "guild", "plan": sweep})["run_id"])


def test_a_list_behind_a_log_in_is_found_and_read_to_its_end(coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        found = app.post("/api/recipes/page", {**PAGE_OF, "plan": {**REACHED, "secret": PASSWORD}})
        plan = {name: value for name, value in found["plan"].items() if name not in {"id", "secret_kept"}}
        assert {rule["field"] for rule in plan["fields"]} >= {"name", "street", "postcode", "phone"}
        assert (plan["next"], found["total"]) == ("button.more", PAGE)
        run = gather(app, {**plan, "secret": PASSWORD})
        listed = [
            row for row in coast.read("directory.json") if row["trade"] == "vets" and row["town"] == "Port Ellery"
        ]
        assert len(listed) > PAGE
        assert run["found"] >= len(listed)
        assert (run["failed"], run["progress"]["audits_done"]) == (0, 0)  # nothing was to be found out of websites
    stored = b"".join(file.read_bytes() for file in tmp_path.glob("acorn.db*"))
    assert PASSWORD.encode() not in stored
    database = Database(tmp_path / "acorn.db")
    with database.write() as conn:
        assert secrets.reveal(conn, tmp_path, "directory:1") == PASSWORD
        (tmp_path / secrets.KEY_FILE).unlink()
        with pytest.raises(secrets.SealBroken, match="enter it again"):
            secrets.reveal(conn, tmp_path, "directory:1")
    database.close()


def test_a_wrong_secret_fails_that_source_and_says_what_to_do(coast: Coast, tmp_path: Path) -> None:
    rules = [{"field": "name", "selector": "h4"}]
    plan = {**REACHED, "item": "article.member", "fields": rules, "next": "button.more", "secret": "wrong"}
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        run = gather(app, plan)
        assert run["found"] == 0
        assert any("log-in was refused" in note["text"] and "secret again" in note["remedy"] for note in run["notes"])
        with pytest.raises(urllib.error.HTTPError):
            app.post("/api/recipes/page", {**PAGE_OF, "plan": plan})
