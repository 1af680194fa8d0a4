"""Sequences at the coast: what leaves keeps every limit, what comes back ends what it must, and nobody is written to twice."""

import json
import random
import re
import signal
import sqlite3
import time
import urllib.parse
import urllib.request
from collections import Counter
from collections.abc import Iterator
from contextlib import closing
from datetime import datetime
from email import message_from_string, policy
from email.message import EmailMessage
from email.utils import parsedate_to_datetime
from itertools import pairwise
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from openacorn.sim.addresses import POST_HOST, POST_PASSWORD
from tests.application import Application, application
from tests.asking import failing, ids_of, make_list
from tests.conftest import Coast, Swept, circle

pytestmark = pytest.mark.world
HERE = ZoneInfo("Australia/Sydney")
PLAN: dict[str, Any] = {
    "trades": ["vets", "opticians", "florists"], "areas": [circle(-37.02, 160.02, 20_000.0)], "sources": ["listing_service"],
    "facts": ["website", "contacts", "people", "mailboxes"],
}  # fmt: skip
ANY_TIME = {"opens": 0, "closes": 1440, "days": [0, 1, 2, 3, 4, 5, 6], "on_holidays": True, "domain_cap": 1000}
STEPS: list[dict[str, Any]] = [
    {"kind": "email"}, {"kind": "email", "after_days": 2}, {"kind": "call", "after_days": 1}, {"kind": "email", "after_days": 2},
    {"kind": "call", "when": "bounced"},
]  # fmt: skip


@pytest.fixture
def app(swept: Swept, coast: Coast, tmp_path: Path) -> Iterator[Application]:
    folder = tmp_path / "data"
    folder.mkdir()
    swept(PLAN, folder)
    outbox = coast.folder / "outbox.ndjson"
    outbox.write_text("")
    settings = coast.settings.model_copy(
        update={"public_address": "https://pages.wrenfold.example", "time_zone": "Australia/Sydney"}
    )
    with application(folder, settings, coast.read("places.json")) as running:
        yield running


def mailbox(app: Application, name: str, **more: Any) -> None:
    usual = {
        "name": name.title(),
        "smtp_host": POST_HOST,
        "imap_host": POST_HOST,
        "password": POST_PASSWORD,
        "gap_s": 240,
        "jitter_s": 120,
    }
    app.put("/api/mailboxes", {"address": f"{name}@wrenfold.example", "daily_limit": 7, **usual, **more})


def begun(app: Application, size: int, steps: list[dict[str, Any]], **rules: Any) -> tuple[int, list[dict[str, Any]]]:
    """(a sequence with businesses in it, the candidates that it was offered)."""
    app.put("/api/sending", {"by_hand": 0, "post_address": "4 Harbour Road, Port Ellery", **rules})
    number = make_list(app, "To write to", ids_of(app)[:size])
    name = {"name": "Try", "steps": steps, "quiet_days": 0}
    sequence = next(item["id"] for item in app.put("/api/sequences", name) if item["name"] == "Try")
    return sequence, app.post(f"/api/sequences/{sequence}/enrolments", {"shortlist": number, "by": "Ada"})["candidates"]


def outbox(coast: Coast) -> list[EmailMessage]:
    """What reached the coast's post office, as it came over the wire."""
    lines = (coast.folder / "outbox.ndjson").read_text(encoding="utf-8").splitlines()
    return [message_from_string(json.loads(line)["body"], _class=EmailMessage, policy=policy.default) for line in lines]


def at(message: EmailMessage) -> datetime:
    return parsedate_to_datetime(str(message["Date"])).astimezone(HERE)


def pass_days(app: Application, days: int) -> None:
    for _ in range(days):
        app.post("/api/demo/hours?hours=24")


def rows(app: Application, query: str) -> list[Any]:
    with closing(sqlite3.connect(app.folder / "acorn.db", timeout=30)) as conn:
        return conn.execute(query).fetchall()


def test_ten_days_of_a_sequence(app: Application, coast: Coast) -> None:
    """Three mailboxes, four steps, ten simulated days: limits, hours, gaps, replies, opt-outs, bounces, and nobody twice."""
    for name in ("ada", "ines", "tomas"):
        mailbox(app, name)
    sequence, offered = begun(app, 300, STEPS)
    taken = {item["business_id"]: item["address"] for item in offered if not item["reason"]}
    assert len(taken) >= 20
    assert all(item["reason"] for item in offered if item["business_id"] not in taken)
    pass_days(app, 10)
    sent = outbox(coast)
    assert len(sent) > len(taken), "more than one step left"

    # limits a day and a mailbox, the gap between two, the receivers' hours
    per_day = Counter((str(item["From"]), at(item).date()) for item in sent)
    assert max(per_day.values()) <= 7
    for sender in {str(item["From"]) for item in sent}:
        moments = sorted(at(item) for item in sent if str(item["From"]) == sender)
        assert all((later - earlier).total_seconds() >= 239 for earlier, later in pairwise(moments))
    assert all(item.weekday() < 5 and 9 <= item.hour < 17 for item in map(at, sent))

    # nobody twice with one step, and all of a thread by one mailbox
    assert max(Counter((str(item["To"]), str(item["Subject"])) for item in sent).values()) == 1
    assert max(Counter(str(item["Message-ID"]) for item in sent).values()) == 1
    by_whom: dict[str, set[str]] = {}
    for item in sent:
        by_whom.setdefault(str(item["To"]), set()).add(str(item["From"]))
    assert all(len(found) == 1 for found in by_whom.values())

    # whoever answered got nothing after their answer
    arrived = app.get("/api/inbox")["arrived"]
    kinds = Counter(item["kind"] for item in arrived)
    assert kinds["reply"] > 0
    assert kinds["opt-out"] > 0
    for item in arrived:
        later = [m for m in sent if item["address"] in str(m["To"]) and at(m) > datetime.fromisoformat(item["at"])]
        assert later == [], item["address"]
    relationship = dict(rows(app, "SELECT id, relationship FROM business"))
    assert {relationship[item["business_id"]] for item in arrived if item["kind"] == "opt-out"} == {"refused"}
    assert {relationship[item["business_id"]] for item in arrived if item["kind"] == "reply"} == {"in conversation"}
    lines = app.get(f"/api/sequences/{sequence}/enrolments")
    assert all(line["reason"] for line in lines if line["state"] == "stopped")
    assert {line["state"] for line in lines if line["business_id"] in {i["business_id"] for i in arrived}} == {
        "stopped"
    }

    # what came of them is counted once, however they are told apart
    for by in ("template", "sequence", "step", "service", "mailbox", "hour"):
        groups = app.get(f"/api/what-works?by={by}")["groups"]
        assert sum(group["sent"] for group in groups) == len(sent)
        assert sum(group["replied"]["count"] for group in groups) == len({item["answers"] for item in arrived})

    # every message says who writes and how to stop; its facts came out of the store
    for item in sent:
        body = item.get_body(("plain",))
        assert body is not None
        text = body.get_content()
        assert "4 Harbour Road" in text
        assert "/o/stop/" in text
        assert not re.search(r"\{\{|\}\}|\{%", text + str(item["Subject"]))
        assert str(item["List-Unsubscribe-Post"]) == "List-Unsubscribe=One-Click"


def test_a_business_and_a_person_are_in_one_sequence_at_most(app: Application) -> None:
    mailbox(app, "ada")
    sequence, offered = begun(app, 60, STEPS, paused=True)
    taken = [item["business_id"] for item in offered if not item["reason"]]
    other = next(item["id"] for item in app.get("/api/sequences") if item["id"] != sequence)
    again = app.post(f"/api/sequences/{other}/enrolments", {"ids": taken, "by": "Ines"})
    assert again["taken"] == 0
    assert all("in the sequence 'Try' already" in item["reason"] for item in again["candidates"])
    line = app.get(f"/api/sequences/{sequence}/enrolments")[0]
    moved = app.post(f"/api/enrolments/{line['id']}", {"action": "move", "sequence_id": other, "by": "Ada"})
    assert next(item for item in moved if item["id"] == line["id"])["state"] == "stopped"
    assert [item["business_id"] for item in app.get(f"/api/sequences/{other}/enrolments")] == [line["business_id"]]
    assert failing(app, "POST", f"/api/enrolments/{line['id']}", {"action": "pause"})[0] == 409


def test_what_waits_is_approved_changed_cancelled_or_stopped_by_a_refusal(app: Application, coast: Coast) -> None:
    """Approval by hand; a text that was changed leaves as changed; whoever refuses meanwhile gets nothing."""
    mailbox(app, "ada", gap_s=1, jitter_s=0, daily_limit=100)
    begun(app, 120, STEPS[:1], by_hand=-1, **ANY_TIME)
    waiting = settled(app, "to approve")
    changed, cancelled, refused, *rest = waiting
    text = app.get(f"/api/messages/{changed['id']}")
    assert any(sentence["because"] for sentence in text["because"])
    app.put(f"/api/messages/{changed['id']}", {"subject": "By hand", "text": "Another text."})
    app.post(f"/api/messages/{cancelled['id']}/cancel")
    app.post("/api/messages/approve", {"ids": [changed["id"], refused["id"], rest[0]["id"]]})
    app.post(f"/api/businesses/{refused['business_id']}/contacts", {"result": "refused"})
    until(lambda: app.get("/api/queue")["counts"].get("waiting", 0) == 0)
    sent = {str(item["To"]): item for item in outbox(coast)}
    reached = {address for address in sent if changed["address"] in address or rest[0]["address"] in address}
    assert reached == set(sent) or any(refused["address"] in address for address in sent), (
        "a refusal may come too late, never twice"
    )
    assert next(str(item["Subject"]) for to, item in sent.items() if changed["address"] in to) == "By hand"
    assert not any(cancelled["address"] in address for address in sent)
    assert failing(app, "POST", f"/api/messages/{changed['id']}/cancel")[0] == 409


def settled(app: Application, state: str) -> list[dict[str, Any]]:
    """The messages in a state, once no step is due any more."""
    until(lambda: rows(app, "SELECT count(*) FROM enrolment WHERE state = 'active' AND next_at != ''")[0][0] == 0)
    found: list[dict[str, Any]] = app.get(f"/api/queue?states={urllib.parse.quote(state)}")["lines"]
    return found


def until(done: Any, standstill_s: float = 60) -> None:
    end = time.monotonic() + standstill_s
    while not done():
        assert time.monotonic() < end
        time.sleep(0.1)


def test_the_link_in_a_message_stops_everything_and_a_look_at_it_nothing(app: Application, coast: Coast) -> None:
    """RFC 8058: a POST with nothing else; programs that open links before people do change nothing."""
    mailbox(app, "ada", gap_s=1, jitter_s=0, daily_limit=100)
    begun(app, 60, STEPS[:2], **ANY_TIME)
    until(lambda: len(outbox(coast)) > 0)
    message = outbox(coast)[0]
    (link,) = re.findall(r"<https://pages.wrenfold.example(.+?)>", str(message["List-Unsubscribe"]))
    link = app.owners_url + link
    address = re.sub(r".*<|>.*", "", str(message["To"]))
    (business,) = rows(app, f"SELECT business_id FROM message WHERE address = '{address}'")[0]
    with urllib.request.urlopen(link, timeout=30) as answer:
        assert "Do not write to me again" in answer.read().decode()
    assert rows(app, f"SELECT relationship FROM business WHERE id = {business}") == [("",)]
    request = urllib.request.Request(link, b"List-Unsubscribe=One-Click", method="POST")
    with urllib.request.urlopen(request, timeout=30) as answer:
        assert answer.status == 200
    assert rows(app, f"SELECT relationship FROM business WHERE id = {business}") == [("refused",)]
    assert rows(app, f"SELECT state FROM enrolment WHERE business_id = {business}") == [("stopped",)]
    assert (address.lower(),) in rows(
        app, "SELECT value FROM relationship WHERE kind = 'refused' AND identifier_type = 'email'"
    )
    forged = urllib.request.Request(link[:-3] + "abc", b"", method="POST")
    with pytest.raises(urllib.error.HTTPError, match="404"):
        urllib.request.urlopen(forged, timeout=30)


def test_what_is_won_on_a_call_gets_no_further_message(app: Application) -> None:
    """Whatever ends it elsewhere: the steps that were still to come are not waited for."""
    mailbox(app, "ada", daily_limit=1)
    begun(app, 60, [{"kind": "call"}, {"kind": "email", "after_days": 3}])
    until(lambda: rows(app, "SELECT count(*) FROM enrolment WHERE next_at != ''")[0][0] > 1)
    won, lost = (row[0] for row in rows(app, "SELECT business_id FROM enrolment WHERE state = 'active' LIMIT 2"))
    app.post(f"/api/businesses/{won}/contacts", {"result": "won", "service": "speed", "amount": 900})
    app.post(f"/api/businesses/{lost}/contacts", {"result": "lost", "service": "speed"})
    until(
        lambda: (
            rows(app, f"SELECT count(*) FROM enrolment WHERE business_id IN ({won}, {lost}) AND state = 'stopped'")
            == [(2,)]
        )
    )
    reasons = dict(rows(app, f"SELECT business_id, reason FROM enrolment WHERE business_id IN ({won}, {lost})"))
    assert reasons == {won: "marked as client", lost: "lost on a shortlist"}


def test_kills_while_sending_double_nothing_and_lose_nothing_unnoted(app: Application, coast: Coast) -> None:
    """SIGKILL at five random moments: the post office has every message at most once, and the store knows of each that it has."""
    chance = random.Random(17)
    for name in ("ada", "ines", "tomas"):
        mailbox(app, name, gap_s=1, jitter_s=0, daily_limit=200)
    _, offered = begun(app, 300, STEPS[:1], **ANY_TIME)
    for _ in range(5):
        time.sleep(chance.uniform(0.4, 1.6))
        app.end(signal.SIGKILL)
        app.start()
    open_states = "state IN ('waiting', 'sending')"
    until(lambda: rows(app, f"SELECT count(*) FROM message WHERE {open_states}")[0][0] == 0
          and rows(app, "SELECT count(*) FROM enrolment WHERE state = 'active'")[0][0] == 0)  # fmt: skip
    received = Counter(re.sub(r".*<|>.*", "", str(item["To"])).lower() for item in outbox(coast))
    assert max(received.values()) == 1
    states = dict(rows(app, "SELECT lower(address), state FROM message"))
    assert {address for address in received if states[address] not in {"sent", "perhaps sent", "bounced"}} == set()
    assert {address for address, state in states.items() if state == "sent"} <= set(received)
    assert len(states) >= sum(not item["reason"] for item in offered) - 1


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"password": "wrong"}, "refused the user name or password"),
        ({"smtp_host": "127.0.0.1", "smtp_port": 9}, "cannot be used for sending"),
    ],
)
def test_a_mailbox_that_cannot_send_says_why_and_loses_nothing(
    app: Application, change: dict[str, Any], words: str
) -> None:
    mailbox(app, "ada", gap_s=1, jitter_s=0, **change)
    begun(app, 40, STEPS[:1], **ANY_TIME)
    until(lambda: app.get("/api/mailboxes")[0]["problem"])
    assert words in app.get("/api/mailboxes")[0]["problem"]
    assert words in app.post("/api/mailboxes/1/try")["sending"]
    queue = app.get("/api/queue")
    assert set(queue["counts"]) == {"waiting"}
    assert queue["lines"][0]["why"]


def test_people_are_answered_in_their_thread_by_the_mailbox_they_wrote_to(app: Application, coast: Coast) -> None:
    for name in ("ada", "ines"):
        mailbox(app, name, gap_s=1, jitter_s=0, daily_limit=200)
    begun(app, 300, STEPS[:1], **ANY_TIME)
    until(lambda: rows(app, "SELECT count(*) FROM enrolment WHERE state = 'active'")[0][0] == 0, 120)
    until(lambda: app.post("/api/inbox/look") is not None and app.get("/api/inbox")["left"] > 0)
    reply = next(item for item in app.get("/api/inbox")["arrived"] if item["kind"] == "reply")
    path = f"/api/businesses/{reply['business_id']}/conversation"
    turns = app.get(path)["turns"]
    assert [turn["ours"] for turn in turns] == [True, False]
    app.post(path, {"answers": reply["id"], "text": "Gladly. Thursday at ten?", "by": "Ada"})
    until(lambda: [turn["state"] for turn in app.get(path)["turns"] if turn["ours"]] == ["sent", "sent"])
    answer = outbox(coast)[-1]
    first = next(item for item in outbox(coast) if reply["address"] in str(item["To"]))
    assert str(answer["In-Reply-To"]) == reply["message_id"]
    assert str(answer["From"]) == str(first["From"])
    assert str(answer["Subject"]).startswith("Re: ")
    assert app.get("/api/inbox")["left"] == sum(not item["done"] for item in app.get("/api/inbox")["arrived"])
