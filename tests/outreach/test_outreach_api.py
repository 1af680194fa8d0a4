"""First contact over the API: call sheets, results and what follows, owners' pages and what owners send back, mailings."""

import csv
import html
import http.client
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
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pypdfium2
import pytest
from PIL import Image
from starlette.requests import Request

from openacorn.clock import today
from openacorn.outreach import replies
from openacorn.outreach.public import sender_of
from openacorn.settings import MailSettings, Settings
from tests.api.test_api import failing
from tests.application import ROOT, Application, application
from tests.conftest import Coast, Swept, circle
from tests.desk.test_desk_api import total

pytestmark = pytest.mark.world
PLAN: dict[str, Any] = {
    "trades": ["vets", "opticians", "florists"],
    "areas": [circle(-37.02, 160.02, 5000.0)],
    "sources": ["listing_service"],
    "facts": ["website", "contacts", "people", "mailboxes"],
}
PERSON = "Mozilla/5.0 (X11; Linux)"


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("outreach")


@pytest.fixture(scope="module")
def app(coast: Coast, folder: Path, swept: Swept) -> Iterator[Application]:
    assert coast.settings.world is not None
    post = MailSettings(host="127.0.0.1", port=coast.settings.world.smtp_port, sender="acorn@wrenfold.example")
    settings = coast.settings.model_copy(update={"public_address": "https://pages.wrenfold.example", "mail": post})
    swept(PLAN, folder)
    with application(folder, settings, coast.read("places.json")) as running:
        yield running


def ids_of(app: Application, query: str = "") -> list[int]:
    return [row[0] for row in app.get(f"/api/businesses?columns=id&limit=500&{query}")["rows"]]


def make_list(app: Application, name: str, ids: list[int]) -> int:
    number = int(app.post("/api/shortlists", {"name": name})["id"])
    app.post(f"/api/shortlists/{number}/members", {"ids": ids})
    return number


def opened(app: Application, path: str, form: dict[str, str] | None = None, agent: str = PERSON) -> tuple[int, str]:
    """(status, page) of an owner's page, as a browser asks for it; redirects are followed."""
    body = urllib.parse.urlencode(form).encode() if form is not None else None
    request = urllib.request.Request(
        (app.url if path.startswith("/api/") else app.owners_url) + path, body, {"User-Agent": agent}
    )
    try:
        with urllib.request.urlopen(request, timeout=60) as answer:
            return answer.status, answer.read().decode("utf-8", "replace")
    except urllib.error.HTTPError as error:
        with error:
            return error.code, error.read().decode()


def made(app: Application, ids: list[int], **more: Any) -> list[dict[str, Any]]:
    """The pages of businesses, made in a run."""
    run = app.wait_for_run(app.post("/api/owner-pages", {"ids": ids, **more})["run_id"])
    assert (run["state"], run["progress"]["pages_done"]) == ("done", len(ids))
    return [app.get(f"/api/businesses/{business}/owner-page") for business in ids]


def path_of(page: dict[str, Any]) -> str:
    return str(urllib.parse.urlsplit(page["address"]).path)


def test_a_call_sheet_holds_only_what_may_be_said(app: Application) -> None:
    sheets = [app.get(f"/api/businesses/{business}/call-sheet") for business in ids_of(app)[:40]]
    assert all(len(sheet["claims"]) <= 3 and not sheet["stale"] for sheet in sheets)
    assert all(claim["evidence"] and claim["text"] and claim["why"] for sheet in sheets for claim in sheet["claims"])
    assert any(sheet["people"] for sheet in sheets)
    assert any(sheet["line"] for sheet in sheets)
    assert not any(re.search(r"\{(name|town|trade)\}", sheet["line"]) for sheet in sheets)
    called = next(sheet for sheet in sheets if sheet["numbers"])
    assert all(re.fullmatch(r"\d\d:\d\d", time) for number in called["numbers"] for time in number["times"])
    assert "load_time" not in {claim["check"] for sheet in sheets for claim in sheet["claims"]}
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn:
        bare = conn.execute(
            "SELECT check_id FROM finding WHERE outcome IN ('gap', 'partial') AND evidence = '[]'"
        ).fetchall()
    assert bare == []  # what cannot be shown could not be claimed either


def test_nobody_is_called_by_what_stands_on_a_site_that_is_not_theirs(app: Application) -> None:
    business = next(b for b in ids_of(app, "has=email") if app.get(f"/api/businesses/{b}/call-sheet")["people"])
    answer = "UPDATE finding SET outcome = ? WHERE business_id = ? AND check_id = 'site_ownership'"
    with closing(sqlite3.connect(app.folder / "acorn.db", timeout=30)) as conn:
        with conn:
            conn.execute(answer, ("gap", business))
        whole, sheet = app.get(f"/api/businesses/{business}"), app.get(f"/api/businesses/{business}/call-sheet")
        with conn:
            conn.execute(answer, ("ok", business))
    assert {number["value"] for number in sheet["numbers"]} <= {whole["phone"]}
    assert not any("website" in person["role"] for person in sheet["people"])
    assert not any("address" in channel["kind"] and not channel["assumed"] for channel in whole["channels"])


def test_results_follow_through_and_are_undone(app: Application) -> None:
    ids = ids_of(app, "sort=-value")[:5]
    number, other = make_list(app, "Monday", ids), make_list(app, "Tuesday", ids[:1])

    def queue() -> list[int]:
        return [call["id"] for call in app.get(f"/api/shortlists/{number}/calls")]

    assert queue() == ids
    app.post(f"/api/businesses/{ids[0]}/contacts", {"result": "no answer", "by": "Ada"})
    assert queue() == [*ids[1:], ids[0]]  # tried in vain today: last
    everybody = total(app)
    results: list[dict[str, Any]] = [
        {"result": "refused", "note": "never again"},
        {"result": "call back", "follow_up": "2030-01-02"},
        {"result": "won", "amount": 2800.0},
        {"result": "call back", "follow_up": today()},
        {"result": "not interested"},
    ]
    actions_done = [
        app.post(f"/api/businesses/{business}/contacts", {"by": "Ada", **result})["id"]
        for business, result in zip(ids, results, strict=True)
    ]
    assert queue() == [call["id"] for call in app.get("/api/calls")] == [ids[3]]
    assert total(app) == everybody - 2  # the refused and the client are no prospects any more
    assert app.get(f"/api/businesses/{ids[0]}/call-sheet")["numbers"] == []
    (member,) = app.get(f"/api/shortlists/{other}/board")["members"]
    assert (member["stage"], member["relationship"], member["last_by"]) == ("lost", "refused", "Ada")
    assert member["last_text"] == "refused: never again"
    kept = app.get(f"/api/businesses/{ids[2]}")["outcomes"]
    assert [(item["stage"], item["amount"]) for item in kept] == [("won", 2800)]
    assert failing(app, "POST", f"/api/businesses/{ids[1]}/contacts", {"result": "call back"})[0] == 422
    assert failing(app, "POST", f"/api/businesses/{ids[1]}/contacts", {"result": "sold"})[0] == 422
    assert failing(app, "POST", f"/api/businesses/{ids[1]}/contacts", {"result": "won", "service": "x"})[0] == 422
    for form in ("html", "pdf"):
        assert opened(app, f"/api/shortlists/{number}/call-sheets.{form}")[0] == 200
        assert opened(app, f"/api/businesses/{ids[1]}/call-sheet.{form}")[0] == 200
    assert failing(app, "GET", f"/api/businesses/{ids[1]}/call-sheet.doc")[0] == 404
    for action_id in reversed(actions_done):
        app.post(f"/api/actions/{action_id}/undo")
    assert (queue(), total(app)) == ([*ids[1:], ids[0]], everybody)
    failing(app, "PATCH", f"/api/shortlists/{other}", {"name": "Monday"})
    for method, body in (("PATCH", {"name": "Wednesday"}), ("DELETE", None)):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"{app.url}/api/shortlists/{other}", data, {"Content-Type": "application/json"}, method=method
        )
        with urllib.request.urlopen(request) as answer:
            assert answer.status == 204
    assert failing(app, "GET", f"/api/shortlists/{other}/board")[0] == 404
    assert any(step["text"] == "no answer" for step in app.get(f"/api/businesses/{ids[0]}/activities"))


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


def answered(
    url: str, path: str, method: str = "GET", body: bytes | None = None, /, **headers: str
) -> tuple[int, str, Any]:
    """(status, text, headers) of a request with headers of our choice."""
    host = urllib.parse.urlsplit(url).netloc
    asked = http.client.HTTPConnection(host, timeout=60)
    asked.request(
        method, path, body, headers={"Host": host} | {name.replace("_", "-"): v for name, v in headers.items()}
    )
    found = asked.getresponse()
    result = (found.status, found.read().decode("utf-8", "replace"), found.headers)
    asked.close()
    return result


def test_behind_the_owners_port_is_nothing_but_owners_pages_whatever_a_proxy_says(app: Application) -> None:
    (page,) = made(app, ids_of(app)[2:3], share=True)
    path = path_of(page)
    for host in ("pages.wrenfold.example", "127.0.0.1", "localhost", f"127.0.0.1:{app.port}"):
        assert "Wrenfold" in answered(app.owners_url, path, Host=host)[1]
        for other in ("/api/businesses", "/api/openapi.json", "/", "/acorn.svg", "/assets/", f"/o/{'x' * 24}"):
            assert answered(app.owners_url, other, Host=host)[0] == 404, other
    assert answered(app.url, "/api/status", Host="elsewhere.example")[0] == 400
    assert "Wrenfold" not in answered(app.url, path)[1]
    for header in ("X_Forwarded_For", "Forwarded", "Via"):  # a proxy that leads to the wrong port
        assert answered(app.url, "/api/status", **{header: "203.0.113.9"})[0] == 403


def test_a_body_from_outside_is_refused_before_it_is_read(app: Application) -> None:
    (page,) = made(app, ids_of(app)[2:3], share=True)
    path = f"{path_of(page)}/reply"
    assert answered(app.owners_url, path, "POST", Content_Length="300000000")[0] == 413
    assert answered(app.owners_url, f"/o/{'x' * 24}/reply", "POST", Content_Length="300000000")[0] == 413
    form = {"Content_Type": "application/x-www-form-urlencoded", "Transfer_Encoding": "chunked"}
    pieces = b"".join(b"8000\r\n" + b"x" * 0x8000 + b"\r\n" for _ in range(4)) + b"0\r\n\r\n"
    assert answered(app.owners_url, path, "POST", pieces, **form)[0] == 413
    assert answered(app.url, "/api/sweeps", "POST", Content_Length=str(10**9))[0] == 413


SENDERS = [
    ("203.0.113.9", "", (), "203.0.113.9"),
    ("203.0.113.9", "198.51.100.1", (), "203.0.113.9"),  # anybody can write that
    ("127.0.0.1", "198.51.100.1", (), ""),
    ("127.0.0.1", "198.51.100.1", ("127.0.0.1",), "198.51.100.1"),
    ("127.0.0.1", "192.0.2.1, 198.51.100.1", ("127.0.0.1",), "198.51.100.1"),  # what came before our proxy is hearsay
    ("127.0.0.1", "192.0.2.1, 198.51.100.1, 10.0.0.2", ("127.0.0.1", "10.0.0.2"), "198.51.100.1"),
]


@pytest.mark.parametrize(("peer", "told", "trusted", "sender"), SENDERS)
def test_who_sent_a_message_is_what_a_trusted_proxy_says_and_nobody_else(
    peer: str, told: str, trusted: tuple[str, ...], sender: str
) -> None:
    settings = Settings.model_validate({"trusted_proxies": trusted})
    scope = {"type": "http", "client": (peer, 1), "headers": [(b"x-forwarded-for", told.encode())]}
    assert sender_of(settings, Request(scope)) == sender


CROSS = [
    ({"Sec_Fetch_Site": "cross-site"}, 403),
    ({"Sec_Fetch_Site": "same-site"}, 403),
    ({"Origin": "https://other.example"}, 403),
    ({"Origin": "null"}, 403),
    ({"Referer": "https://other.example/page"}, 403),
    ({"Sec_Fetch_Site": "same-origin"}, 200),
    ({"Sec_Fetch_Site": "none"}, 200),
    ({}, 200),
]


@pytest.mark.parametrize(
    ("headers", "status"), CROSS, ids=[" ".join(map(str, headers.items())) for headers, _ in CROSS]
)
def test_another_sites_page_gets_nowhere_in_the_api(app: Application, headers: dict[str, str], status: int) -> None:
    assert answered(app.url, "/api/status", **headers)[0] == status
    address = "/api/businesses/export/csv?only_new=true&columns=name&trade=vets"
    assert answered(app.url, address, "POST", b"", **headers)[0] == status
    assert answered(app.url, address, "GET", **headers)[0] in {403, 404}
    if status == 403:
        preset = app.post("/api/presets", {"name": "For a tab", "format": "csv", "link": True})
        assert answered(app.url, preset["link"], **headers)[0] == 200  # a feed is made to be opened from anywhere


def test_every_answer_tells_the_browser_what_it_may_do(app: Application) -> None:
    for path in ("/", "/api/status", "/outreach", "/acorn.svg"):
        told = answered(app.url, path)[2]
        assert "frame-ancestors 'self'" in told["Content-Security-Policy"]
        assert "script-src 'self'" in told["Content-Security-Policy"]
        assert told["X-Content-Type-Options"] == "nosniff"


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


def rows_of(app: Application, number: int, query: str = "") -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(app.text(f"/api/mailings/{number}.csv{query}"))))


def test_a_mailing_holds_verified_addresses_alone_and_is_remembered(app: Application) -> None:
    ids = ids_of(app, "limit=60")
    app.post(f"/api/businesses/{ids[0]}/contacts", {"result": "refused"})
    number = make_list(app, "To write to", ids)
    draft = app.get(f"/api/shortlists/{number}/mailing?days=0")
    assert (draft["sent"] + draft["left_out"], draft["earlier"]) == (len(ids), [])
    out = {letter["id"]: letter["reason"] for letter in draft["letters"] if letter["reason"]}
    assert out[ids[0]] == "marked as refused"
    assert any("not verified" in reason or "no address" in reason for reason in out.values())
    sent = app.post(f"/api/shortlists/{number}/mailings", {"days": 0, "by": "Ada"})
    rows = rows_of(app, sent["mailing"])
    assert len(rows) == draft["sent"] == sent["sent"] > 0
    assert len({row["email"] for row in rows}) == len(rows)
    assert all(row["email"] and row["opening_line"] for row in rows)
    assert len(rows_of(app, sent["mailing"], "?left_out=true")) == len(ids)
    with closing(sqlite3.connect(app.folder / "acorn.db")) as conn:
        results = {row[0] for row in conn.execute("SELECT address FROM verification WHERE result = 'valid'")}
    assert {row["email"] for row in rows} <= results
    again = app.get(f"/api/shortlists/{number}/mailing?days=30")
    assert (again["sent"], len(again["earlier"])) == (0, 1)
    assert failing(app, "POST", f"/api/shortlists/{number}/mailings", {"days": 30})[0] == 422
    assert failing(app, "GET", f"/api/mailings/{sent['mailing']}.doc")[0] == 404
    app.post(f"/api/actions/{sent['action_id']}/undo")
    back = app.get(f"/api/shortlists/{number}/mailing?days=30")
    assert (back["sent"], back["earlier"]) == (draft["sent"], [])


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
