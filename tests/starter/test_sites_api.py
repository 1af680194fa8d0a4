"""A website begun at the coast: changed, gone back, shared, opened, withdrawn, taken along, and audited as any other."""

import asyncio
import io
import threading
import urllib.error
import urllib.request
import zipfile
from collections.abc import Iterator
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import docx
import pytest

from openacorn.settings import Settings
from openacorn.sim.writing_server import KEY, MODEL
from openacorn.terminal_audit import audit_all
from tests.application import Application
from tests.asking import failing, ids_of, opened
from tests.conftest import Coast
from tests.outreach.contacted import app, folder

__all__ = ["app", "folder"]
pytestmark = pytest.mark.world
NOT_CONTENT = {
    "ad_pixel", "google_ads_tag", "meta_pixel", "analytics", "tag_manager", "other_pixels", "session_recording", "chat",
    "video", "booking", "shop", "compression", "caching", "text_amount", "indexable", "social_links",
}  # fmt: skip
"""Gaps that no words mend: tags and programs of others, what the host does, and a domain that is not the site's yet."""


def site_of(app: Application, least: int = 1) -> tuple[int, dict[str, Any]]:
    """The first business whose old website has so many pages with text, and its new one."""
    for number in ids_of(app):
        found: dict[str, Any] = app.post(f"/api/businesses/{number}/website", {"by": "Ada"})
        if found["site"]["read_pages"] >= least:
            return number, found
    raise AssertionError("no website has text")


def test_begun_changed_and_gone_back(app: Application) -> None:
    number, found = site_of(app, 2)
    site = found["site"]
    assert found["themes"][0]["fits"]
    assert {item["origin"] for part in site["sections"] for item in part["paragraphs"]} >= {
        "website",
        "facts",
        "agency",
    }
    assert all(
        item["where"]
        for part in site["sections"]
        for item in part["paragraphs"]
        if item["origin"] in {"website", "facts"}
    )
    sections = [part | {"shown": part["id"] != "reviews"} for part in site["sections"]]
    about = next(part for part in sections if part["id"] == "about")
    about["paragraphs"] = [
        *about["paragraphs"],
        {"text": "We are here for you.", "origin": "agency", "where": "", "title": ""},
    ]
    asked = {"sections": sections, "theme": "loom", "colours": "deep", "by": "Bo"}
    changed = app.put(f"/api/businesses/{number}/website", asked)["site"]
    assert (changed["theme"], changed["colours"], len(changed["versions"])) == (
        "loom",
        "deep",
        len(site["versions"]) + 1,
    )
    page = app.text(f"/api/businesses/{number}/website/preview/about.html")
    assert "We are here for you." in page
    same = app.put(f"/api/businesses/{number}/website", asked)["site"]
    assert len(same["versions"]) == len(changed["versions"]), "what is as it was is no version"
    back = app.post(f"/api/businesses/{number}/website/restore", {"number": site["versions"][0]["number"], "by": "Bo"})[
        "site"
    ]
    assert (back["sections"], back["theme"]) == (site["sections"], site["theme"])
    for wrong, where in (
        ({"theme": "nothing"}, "website"),
        ({"sections": sections * 2}, "website"),
        ({"colours": "pink"}, "colours"),
    ):
        status, problem = failing(app, "PUT", f"/api/businesses/{number}/website", asked | wrong)
        assert (status, problem["where"]) == (422, where)
    assert failing(app, "POST", f"/api/businesses/{number}/website/restore", {"number": 999})[0] == 404


def test_a_paragraph_is_reworded_by_the_coasts_helper(app: Application, coast: Coast) -> None:
    number, found = site_of(app, 2)
    paragraph = next(
        item for part in found["site"]["sections"] for item in part["paragraphs"] if item["origin"] == "website"
    )
    asked = {"text": paragraph["text"], "tone": "friendlier"}
    assert found["site"]["helper"] == ""
    assert failing(app, "POST", f"/api/businesses/{number}/website/reword", asked)[0] == 422
    assert coast.settings.world is not None
    address = f"http://127.0.0.1:{coast.settings.world.agency_ports['writing']}/v1"
    app.put("/api/settings", {"values": {"writing.address": address, "writing.model": MODEL, "writing.key": KEY}})
    reworded = app.post(f"/api/businesses/{number}/website/reword", asked)
    assert (reworded["holds"], reworded["lost"]) == (True, []), reworded["sentences"]
    assert found["name"] in reworded["asked"]
    app.put("/api/settings", {"values": {"writing.address": ""}})


def test_shared_opened_and_withdrawn(app: Application) -> None:
    number, found = site_of(app)
    path = "/o/site/" + found["site"]["address"].split("/o/site/")[1]
    assert opened(app, path)[0] == 404, "not before it is shared"
    site = app.post(f"/api/businesses/{number}/website/share", {"by": "Ada"})["site"]
    assert site["shared_at"]
    for _ in range(2):
        status, text = opened(app, path)
        assert (status, found["name"].replace("'", "&#39;").replace("&", "&amp;") in text or found["name"] in text) == (
            200,
            True,
        )
    assert opened(app, path + "style.css")[0] == opened(app, path + "contact.html")[0] == 200
    assert opened(app, path + "../../etc/passwd")[0] == opened(app, path + "nothing.html")[0] == 404
    opened(app, path, agent="Mozilla/5.0 (compatible; Linkbot/2.1)")
    assert app.get(f"/api/businesses/{number}/website")["site"]["views"] == 2, "programs are no owners"
    assert "shared the new website" in [item["text"] for item in app.get(f"/api/businesses/{number}/activities")]
    app.post(f"/api/businesses/{number}/website/withdraw", {"by": "Ada"})
    assert opened(app, path)[0] == 410
    again = app.post(f"/api/businesses/{number}/website/share", {"by": "Ada"})["site"]
    assert again["address"] != site["address"], "what was withdrawn stays shut"
    app.post(f"/api/businesses/{number}/contacts", {"result": "refused", "by": "Ada"})
    assert failing(app, "POST", f"/api/businesses/{number}/website/share", {"by": "Ada"})[0] == 422


@pytest.fixture
def served(app: Application, tmp_path: Path) -> Iterator[str]:
    """The website as a ZIP archive, unpacked and served by the standard library."""
    number, _ = site_of(app, 2)
    with urllib.request.urlopen(f"{app.url}/api/businesses/{number}/website.zip", timeout=30) as answer:
        zipfile.ZipFile(io.BytesIO(answer.read())).extractall(tmp_path)

    class Quiet(SimpleHTTPRequestHandler):
        def log_message(self, format: str, *args: Any) -> None:
            """Keep quiet."""

    server = ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(tmp_path)))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}/"
    server.shutdown()


def test_our_own_audit_finds_nothing_that_words_could_mend(served: str) -> None:
    (result,) = asyncio.run(audit_all([served], Settings(region="AU"), allow_private=True, shown=lambda _: None))
    gaps = {
        check: found["reason"]
        for check, found in result["outcome_by_check"].items()
        if found["outcome"] in {"gap", "partial"}
    }
    assert {check: reason for check, reason in gaps.items() if check not in NOT_CONTENT} == {}
    assert result["timing"]["load_s"] < 1


def test_its_copy_as_files(app: Application) -> None:
    number, found = site_of(app)
    with urllib.request.urlopen(f"{app.url}/api/businesses/{number}/website.docx", timeout=30) as answer:
        document = docx.Document(io.BytesIO(answer.read()))
    written = "\n".join(paragraph.text for paragraph in document.paragraphs)
    markdown = app.text(f"/api/businesses/{number}/website.md")
    for section in found["site"]["sections"]:
        for item in section["paragraphs"] if section["shown"] else ():
            assert item["text"] in written
            assert item["text"] in markdown
    assert failing(app, "GET", f"/api/businesses/{number}/website.exe")[0] == 422
    assert failing(app, "GET", "/api/businesses/99999/website")[0] == 404
