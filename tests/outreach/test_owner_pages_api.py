"""Owners' pages over the API: shared and withdrawn, what owners send back, the letterhead, and an audit of a page."""

import html
import io
import json
import re
import sqlite3
import subprocess
import sys
import time
import urllib.error
import urllib.parse
import urllib.request
from contextlib import closing
from pathlib import Path

import pypdfium2
import pytest
from PIL import Image

from openacorn.outreach import replies
from tests.application import ROOT, Application
from tests.asking import failing, ids_of, make_list, opened
from tests.conftest import Coast
from tests.outreach.contacted import app, folder, made, path_of

__all__ = ["app", "folder"]

pytestmark = pytest.mark.world


def test_a_page_is_seen_by_nobody_before_it_is_shared_nor_after_it_is_withdrawn(app: Application) -> None:
    (page,) = made(app, ids_of(app)[:1])
    assert page["address"].startswith("https://pages.wrenfold.example/o/")
    assert len(path_of(page)) >= 24
    assert opened(app, path_of(page))[0] == 404
    preview = app.text(f"/api/owner-pages/{page['id']}/preview")
    assert all(claim.split("'")[0] in preview for claim in page["claims"])
    shared = app.post(f"/api/owner-pages/{page['id']}/share", {"by": "Ada"})
    assert (shared["no_longer"], shared["newer"]) == ([], False)
    assert opened(app, path_of(page))[0] == 200
    opened(app, path_of(page), agent="MailScanner bot")
    app.text(f"/api/owner-pages/{page['id']}/preview")
    assert app.get(f"/api/businesses/{page['business_id']}/owner-page")["views"] == 1  # a person's alone
    trimmed = app.put(f"/api/owner-pages/{page['id']}/sections", {"sections": ["findings"]})
    assert trimmed["sections"] == ["findings"]
    assert "Scores by area" not in opened(app, path_of(page))[1]
    assert failing(app, "PUT", f"/api/owner-pages/{page['id']}/sections", {"sections": ["prices"]})[0] == 422
    app.post(f"/api/owner-pages/{page['id']}/withdraw", {"by": "Ada"})
    assert opened(app, path_of(page))[0] == 410
    assert failing(app, "POST", f"/api/owner-pages/{page['id']}/share", {})[0] == 422
    (again,) = made(app, [page["business_id"]], share=True)
    assert (again["address"] != page["address"], bool(again["shared_at"])) == (True, True)


def test_old_facts_are_not_shared_and_old_findings_not_claimed(app: Application, folder: Path) -> None:
    business = next(b for b in ids_of(app) if app.get(f"/api/businesses/{b}/call-sheet")["claims"])
    (page,) = made(app, [business])
    with closing(sqlite3.connect(folder / "acorn.db", timeout=30)) as conn, conn:
        conn.execute("UPDATE owner_page SET made_at = '2026-01-01T00:00:00+00:00' WHERE id = ?", (page["id"],))
        conn.execute("UPDATE audit SET at = '2026-01-01T00:00:00+00:00' WHERE business_id = ?", (business,))
        conn.execute("UPDATE business SET audited_at = '2026-01-01T00:00:00+00:00' WHERE id = ?", (business,))
        conn.execute(
            'UPDATE finding SET evidence = replace(evidence, \'"at":"2\', \'"at":"1\') WHERE business_id = ?',
            (business,),
        )
    conn.close()
    status, result = failing(app, "POST", f"/api/owner-pages/{page['id']}/share", {})
    assert (status, "refresh" in result["what"]) == (422, True)
    sheet = app.get(f"/api/businesses/{business}/call-sheet")
    assert (sheet["claims"], sheet["line"], sheet["stale"]) == ([], "", True)
    assert any("14 days" in withheld["reason"] for withheld in sheet["withheld"])
    before = len(app.get(f"/api/businesses/{business}/history")["audits"])
    number = make_list(app, "Seen long ago", [business])
    assert [call["stale"] for call in app.get(f"/api/shortlists/{number}/calls")] == [True]
    people = sheet["people"]
    (fresh,) = made(app, [business], share=True)  # looked at again by itself
    assert app.get(f"/api/businesses/{business}/call-sheet")["people"] == people  # the directory was not asked again
    assert len(app.get(f"/api/businesses/{business}/history")["audits"]) == before + 1
    assert (fresh["claims"], fresh["newer"]) == (page["claims"], False)


def stamped(shown: str) -> str:
    found = re.search(r'name="opened" value="([^"]+)"', shown)
    assert found
    return found.group(1)


def test_replies_arrive_machines_are_marked_and_floods_are_stopped(app: Application, coast: Coast) -> None:
    domain = next(name for name, known in coast.read("mailboxes.json").items() if known["mode"] == "all")
    app.put("/api/letterhead", {"name": "Wrenfold Studio", "email": f"hello@{domain}"})
    outbox = coast.folder / "outbox.ndjson"
    before = outbox.read_text() if outbox.exists() else ""
    (page,) = made(app, ids_of(app)[1:2], share=True)
    path, business = path_of(page), page["business_id"]
    stamp = stamped(opened(app, path)[1])
    words = {"name": "Petra <b>", "reach": "0491 570 006", "text": "Call me & <script>x</script>", "opened": stamp}
    status, result = opened(app, f"{path}/reply", {**words, "company": "Spam Ltd"})
    assert (status, "has arrived" in result) == (200, True)  # a machine is not told that it was seen through
    opened(app, f"{path}/reply", {**words, "opened": "0.0"})
    assert opened(app, f"{path}/reply", {**words, "text": " "})[0] == 422
    told = app.get("/api/replies")
    assert {reply["suspect"] != "" for reply in told["replies"]} == {True}
    assert told["left"] == 0
    assert not [step for step in app.get(f"/api/businesses/{business}/activities") if step["kind"] == "reply"]
    asked_at = time.time()
    quick = {**words, "opened": stamped(opened(app, path)[1])}
    opened(app, f"{path}/reply", quick)  # too quick: doubtful as well
    was_quick = time.time() - asked_at < replies.FASTEST_S  # a machine that is busy with other things may not have been
    time.sleep(replies.FASTEST_S)
    for _ in range(2):
        opened(app, f"{path}/reply", words)
    assert app.get("/api/replies")["left"] == (2 if was_quick else 3)
    assert app.get(f"/api/businesses/{business}/activities")[0]["text"] == f"wrote: {words['text']} ({words['reach']})"
    for _ in range(50):  # word of it goes to the agency by e-mail
        if (outbox.read_text() if outbox.exists() else "") != before:
            break
        time.sleep(0.1)
    assert "a reply" in outbox.read_text().removeprefix(before)
    for _ in range(replies.PAGE_SUSPECTS + 2):  # a flood shuts nobody out, and holds no more than the latest
        opened(app, f"{path}/reply", {**words, "opened": "0.0"})
    left = app.get("/api/replies")["left"]
    assert opened(app, f"{path}/reply", {**words, "text": "I am still here"})[0] == 200
    told = app.get("/api/replies")
    assert told["left"] == left + 1
    assert sum(reply["suspect"] != "" for reply in told["replies"]) == replies.PAGE_SUSPECTS
    statuses = [opened(app, f"{path}/reply", words)[0] for _ in range(replies.PAGE_REPLIES + 1)]
    assert statuses[-1] == 429  # but nobody writes so much by hand
    assert failing(app, "PUT", "/api/replies/999999", {"done": True})[0] == 404


def test_what_an_owner_asks_for_is_not_the_agencys_to_undo(app: Application) -> None:
    (page,) = made(app, ids_of(app)[4:5], share=True)
    path, business = path_of(page), page["business_id"]
    done = app.get("/api/actions")
    for _ in range(3):
        opened(app, f"{path}/stop", {})
    assert app.get(f"/api/businesses/{business}")["relationship"] == "refused"
    assert [step["by"] for step in app.get(f"/api/businesses/{business}/activities")].count("the owner") == 1
    assert app.get("/api/actions") == done
    assert failing(app, "POST", "/api/owner-pages", {"ids": [business]})[0] == 422


def test_the_letterhead_is_on_the_page_and_no_script_or_foreign_file_is(app: Application) -> None:
    head = {"name": "Wrenfold <Studio>", "person": "Ada Wren", "line": "Websites & more", "colour": "#ffcc00"}
    assert app.put("/api/letterhead", head)["name"] == "Wrenfold <Studio>"
    picture = io.BytesIO()
    Image.new("RGB", (900, 300), "red").save(picture, "PNG")
    request = urllib.request.Request(app.url + "/api/letterhead/logo", picture.getvalue(), method="PUT")
    with urllib.request.urlopen(request) as answer:
        assert b'"logo":true' in answer.read()
    with urllib.request.urlopen(app.url + "/api/letterhead/logo") as answer, Image.open(answer) as kept:
        assert kept.size == (480, 160)
    large = io.BytesIO()
    Image.new("1", (9000, 9000)).save(large, "PNG")
    for broken in (b"<svg onload='x()'/>", b"\x89PNG\r\n", large.getvalue()):
        request = urllib.request.Request(app.url + "/api/letterhead/logo", broken, method="PUT")
        with pytest.raises(urllib.error.HTTPError) as caught:
            urllib.request.urlopen(request)
        assert caught.value.code == 422
        caught.value.close()
    (page,) = made(app, ids_of(app)[3:4], share=True)
    shown = opened(app, path_of(page))[1]
    assert "Wrenfold &lt;Studio&gt;" in shown
    assert "/o/logo.png" in shown
    assert "<script" not in shown
    assert not re.search(r'(src|href|action)="(https?:|//)', shown)
    with urllib.request.urlopen(app.owners_url + f"{path_of(page)}/page.pdf") as answer:
        text = "".join(p.get_textpage().get_text_range() for p in pypdfium2.PdfDocument(answer.read()))
    assert "Wrenfold <Studio>" in text


def test_a_site_that_could_not_be_read_and_one_with_nothing_wrong_say_so(app: Application) -> None:
    with closing(sqlite3.connect(app.folder / "acorn.db", timeout=30)) as conn:
        query = "SELECT business_id, reason FROM finding WHERE check_id = 'title' AND outcome = 'unknown'"
        hidden, reason = conn.execute(query).fetchone()
        sound = ids_of(app, "has=email")[4]
        with conn:
            conn.execute("UPDATE finding SET outcome = 'ok' WHERE business_id = ?", (sound,))
    unread, fine = made(app, [hidden, sound])
    shown = app.text(f"/api/owner-pages/{unread['id']}/preview")
    assert "What we could not check" in shown
    assert html.escape(reason) in shown
    assert (fine["claims"], "We found nothing to mend" in app.text(f"/api/owner-pages/{fine['id']}/preview")) == (
        [],
        True,
    )


def test_making_pages_is_stopped_and_gone_on_with(app: Application) -> None:
    wanted = ids_of(app)
    run = app.post("/api/owner-pages", {"filter": {}, "again": True})["run_id"]
    app.post(f"/api/runs/{run}/stop")
    stopped = app.wait_for_run(run)
    assert (stopped["state"], stopped["progress"]["pages_left"]) == ("stopped", len(wanted))
    app.post(f"/api/runs/{run}/resume")
    ended = app.wait_for_run(run)
    assert (ended["state"], ended["progress"]["pages_done"], ended["share"]) == ("done", len(wanted), 1.0)


NOT_ASKED_OF_A_LETTER = {
    "indexable": "nobody but its owner may find it", "sitemap": "as above", "structured_data": "as above", "privacy_page": "",
    "analytics": "its owner is not watched", "ad_pixel": "", "google_ads_tag": "", "meta_pixel": "", "tag_manager": "",
    "other_pixels": "", "session_recording": "", "social_links": "it is no shop window", "hours_found": "", "people_named": "",
    "copyright_year": "a page may quote the line of the site that it is about", "server_wait": "how busy this machine is", "load_time": "as above",
    "booking": "", "shop": "", "video": "", "chat": "", "email_found": "", "address_found": "",
}  # fmt: skip


def test_an_owners_page_passes_our_own_audit(app: Application) -> None:
    """All that a page under somebody's name is asked for elsewhere; HTTPS is the matter of the proxy in front."""
    head = {
        "name": "Wrenfold Studio",
        "person": "Ada Wren",
        "phone": "+61 3 5550 1180",
        "email": "hello@wrenfold.example",
    }
    app.put("/api/letterhead", head)
    (page,) = made(app, ids_of(app)[5:6], share=True)
    command = [
        sys.executable,
        "-m",
        "openacorn.cli",
        "audit",
        app.owners_url + path_of(page),
        "--allow-private",
        "--json",
    ]
    (told,) = json.loads(
        subprocess.run(command, capture_output=True, text=True, check=True, cwd=ROOT, timeout=120).stdout
    )
    answers = {check: finding["outcome"] for check, finding in told["outcome_by_check"].items()}
    assert {check for check, outcome in answers.items() if outcome in {"gap", "partial"}} <= set(NOT_ASKED_OF_A_LETTER)
    for check in (
        "title",
        "meta_description",
        "headings",
        "language",
        "viewport",
        "tap_phone",
        "compression",
        "contact_form",
    ):
        assert answers[check] == "ok", check
