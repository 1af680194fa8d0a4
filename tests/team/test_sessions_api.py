"""Signing in, staying in and getting in by force: a running application, attacked over plain sockets.

The attacks are those of the OWASP Web Security Testing Guide (4.2): session management, authentication, authorization.
"""

import hashlib
import re
import sqlite3
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from email.message import Message as EmailMessage
from pathlib import Path
from statistics import median
from typing import Any, ClassVar

import pyotp
import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.handlers import Message

from openacorn.sim.serve import free_ports
from tests.application import Application, application
from tests.conftest import Coast
from tests.team.person import PASSWORD, Person, first_owner, invited

pytestmark = pytest.mark.world
BO = "bo@wrenfold.example"


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("team")
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def ada(app: Application) -> Person:
    assert Person(app).get("/api/me")["accounts"] is False, "until there are accounts, nobody signs in"
    assert Person(app).ask("GET", "/api/settings").status == 200
    return first_owner(app)


@pytest.fixture(scope="module")
def bo(ada: Person) -> Person:
    return invited(ada, BO, "Bo Reed", "caller")


def test_the_first_account_shuts_the_door(app: Application, ada: Person) -> None:
    stranger = Person(app)
    assert stranger.get("/api/me") == {
        "accounts": True, "name": "", "email": "", "role": "", "permissions": [], "codes": False, "csrf": "",
    }  # fmt: skip
    for method, path in [
        ("GET", "/api/businesses"),
        ("POST", "/api/sweeps"),
        ("GET", "/api/team"),
        ("GET", "/api/openapi.jsonx"),
    ]:
        assert stranger.ask(method, path).status == 401, path
    again = stranger.ask("POST", "/api/first-owner", {"email": "eve@evil.example", "name": "Eve", "password": PASSWORD})
    assert again.status == 409
    assert ada.get("/api/me")["role"] == "owner"


@pytest.mark.parametrize(
    "password",
    [
        "short-one",
        "passwordpassword",
        "qwertyuiopasdf",
        "adafinchadafinch",
        "wrenfold.example",
        "a" * 201,
        "123456789012",
    ],
)
def test_a_password_that_is_soon_guessed_is_refused(app: Application, ada: Person, password: str) -> None:
    refused = ada.ask("PUT", "/api/me/password", {"old": PASSWORD, "password": password})
    assert (refused.status, refused.json["error"]["where"]) == (422, "password")


def test_the_cookie_is_for_this_host_alone_unread_by_scripts_and_new_at_each_sign_in(
    app: Application, bo: Person
) -> None:
    planted = Person(app, cookie="chosen-by-an-attacker", csrf="x")  # fixation
    answer = planted.ask("POST", "/api/session", {"email": BO, "password": PASSWORD})
    attributes = {part.strip().lower() for part in answer.headers["Set-Cookie"].split(";")[1:]}
    assert {"secure", "httponly", "samesite=strict", "path=/"} <= attributes
    assert not any(part.startswith("domain") for part in attributes), (
        "a __Host- cookie names none (RFC 6265bis, 4.1.3.2)"
    )
    assert "chosen-by-an-attacker" not in answer.headers["Set-Cookie"]
    assert planted.ask("GET", "/api/status").status == 401


def test_what_is_stolen_is_worth_nothing_after_sign_out(app: Application, bo: Person) -> None:
    mine = Person(app).signed(bo.sign_in(BO))
    thief = Person(app, cookie=mine.cookie, csrf=mine.csrf)
    assert thief.ask("GET", "/api/status").status == 200
    assert mine.ask("DELETE", "/api/session").status == 204
    assert thief.ask("GET", "/api/status").status == 401
    assert bo.ask("GET", "/api/status").status == 200, "the other browser stays in"


def test_a_change_without_the_sessions_token_is_refused(app: Application, bo: Person) -> None:
    body = {"name": "By another site"}
    for token in ("", "0" * 64, Person(app).signed(bo.sign_in(BO)).csrf):
        assert bo.ask("POST", "/api/shortlists", body, X_CSRF_Token=token).status == 403
    assert bo.ask("POST", "/api/shortlists", body, Sec_Fetch_Site="cross-site").status == 403
    assert bo.ask("POST", "/api/shortlists", body, Origin="https://evil.example").status == 403
    assert (
        Person(app).ask("POST", "/api/session", {"email": BO, "password": PASSWORD}, Sec_Fetch_Site="cross-site").status
        == 403
    )
    assert not [one for one in bo.get("/api/shortlists") if one["name"] == "By another site"]


def test_nobody_is_sent_to_ask_for_what_they_may_not_see(app: Application, bo: Person) -> None:
    """A page names what the browser is to load ahead (RFC 8288): only for somebody signed in, and only where it is used."""
    named = {
        path: bo.ask("GET", path).headers["Link"] for path in ("/", "/businesses", "/businesses?trade=vets", "/offers")
    }
    assert [path for path, link in named.items() if link] == ["/", "/businesses"]
    addresses = re.findall("<(.*?)>", named["/"])
    assert len(addresses) > 5
    assert {bo.ask("GET", address).status for address in addresses} == {200}
    assert Person(app).ask("GET", "/businesses").headers["Link"] is None


def test_no_other_site_frames_it(app: Application, bo: Person) -> None:
    policy = bo.ask("GET", "/").headers["Content-Security-Policy"]
    assert "frame-ancestors 'self'" in policy
    assert "script-src 'self'" in policy


@pytest.mark.parametrize(
    "host", ["evil.example", "127.0.0.1.evil.example", "localhost@evil.example", "desk.agency.example", ""]
)
def test_a_name_that_is_not_ours_gets_nothing(app: Application, bo: Person, host: str) -> None:
    assert bo.ask("GET", "/api/status", Host=host or "[::ffff:1.2.3.4]").status == 400


@pytest.mark.parametrize("header", ["X_Forwarded_For", "X_Forwarded_Host", "Forwarded", "X_Real_IP", "Via"])
def test_what_no_trusted_proxy_says_is_refused(app: Application, bo: Person, header: str) -> None:
    assert bo.ask("GET", "/api/status", **{header: "127.0.0.1"}).status == 403


def test_an_unknown_account_takes_as_long_and_says_the_same(app: Application, ada: Person) -> None:
    cleo = invited(ada, "cleo@wrenfold.example", "Cleo Marsh", "viewer")

    def tried(email: str) -> tuple[float, str]:
        began = time.perf_counter()
        answer = cleo.sign_in(email, "not-the-password-at-all")
        assert answer.status == 401
        return time.perf_counter() - began, answer.what

    known, unknown = ([tried(f"{who}@wrenfold.example") for _ in range(5)] for who in ("cleo", "nobody"))
    assert {said for _, said in known} == {said for _, said in unknown}
    at_known, at_unknown = (median(seconds for seconds, _ in found) for found in (known, unknown))
    assert at_unknown > at_known / 3, "a hash is computed for nobody, too"


def test_guessing_one_password_and_spraying_one_over_many_accounts_are_stopped(app: Application, ada: Person) -> None:
    dora = invited(ada, "dora@wrenfold.example", "Dora Vale", "viewer")
    said = [dora.sign_in("dora@wrenfold.example", f"guess-number-{number}-of-many").status for number in range(10)]
    assert said[:8] == [401] * 8
    assert said[8:] == [429] * 2
    assert dora.sign_in("dora@wrenfold.example").status == 429, "the right one does not open while somebody guesses"
    assert dora.ask("GET", "/api/status").status == 200, "who is in stays in"
    sprayed = [dora.sign_in(f"person{number}@wrenfold.example", "Summer-2026-is-hot").status for number in range(40)]
    assert sprayed[0] == 401
    assert sprayed[-1] == 429


def test_a_code_is_asked_for_once_it_is_on_and_lets_in_once(app: Application, ada: Person) -> None:
    email = "finn@wrenfold.example"
    finn = invited(ada, email, "Finn Holt", "caller")
    begun = finn.do("POST", "/api/me/codes")
    assert begun["picture"].startswith("data:image/svg+xml")
    assert finn.ask("PUT", "/api/me/codes", {"secret": begun["secret"], "code": "000000"}).status == 422
    clock = pyotp.TOTP(begun["secret"])
    now = datetime.now(UTC)
    recovery = finn.do(
        "PUT", "/api/me/codes", {"secret": begun["secret"], "code": clock.at(now - timedelta(seconds=30))}
    )
    codes = recovery["recovery"]
    assert len(set(codes)) == 10
    assert finn.get("/api/me")["codes"] is True
    _clear_failures(app)
    assert finn.sign_in(email).json["error"]["where"] == "code"
    assert finn.sign_in(email, code=clock.at(now - timedelta(minutes=5))).status == 401
    fresh = clock.at(datetime.now(UTC))
    assert finn.sign_in(email, code=fresh).status == 200
    assert finn.sign_in(email, code=fresh).status == 401, "a code that was seen over a shoulder"
    assert finn.sign_in(email, code=codes[0].upper()).status == 200
    assert finn.sign_in(email, code=codes[0]).status == 401
    assert finn.ask("DELETE", "/api/me/codes", {"password": "not-it-not-it-not-it"}).status == 422
    finn.do("DELETE", "/api/me/codes", {"password": PASSWORD})
    assert finn.sign_in(email).status == 200


def _clear_failures(app: Application) -> None:
    """As a quarter of an hour would."""
    with sqlite3.connect(app.folder / "acorn.db") as conn:
        conn.execute("DELETE FROM failed_sign_in")


def test_a_link_works_once_and_ends_every_session(app: Application, ada: Person) -> None:
    gwen = invited(ada, "gwen@wrenfold.example", "Gwen Moss", "caller")
    number = next(one["id"] for one in ada.get("/api/team")["people"] if one["name"] == "Gwen Moss")
    older = ada.do("POST", f"/api/team/{number}/link")["link"].rpartition("#")[2]
    key = ada.do("POST", f"/api/team/{number}/link")["link"].rpartition("#")[2]
    chosen = {"key": older, "password": "another-good-one-4711"}
    assert Person(app).ask("POST", "/api/new-password", chosen).status == 422, "a newer link was made"
    new = Person(app).signed(Person(app).ask("POST", "/api/new-password", {**chosen, "key": key}))
    assert new.get("/api/me")["name"] == "Gwen Moss"
    assert gwen.ask("GET", "/api/status").status == 401
    assert Person(app).ask("POST", "/api/new-password", {**chosen, "key": key}).status == 422


def test_a_session_ends_after_twelve_idle_hours_and_on_its_day(app: Application, bo: Person) -> None:
    idle, old = (Person(app).signed(bo.sign_in(BO)) for _ in range(2))
    hours_ago = (datetime.now(UTC) - timedelta(hours=13)).isoformat(timespec="seconds")
    with sqlite3.connect(app.folder / "acorn.db") as conn:  # as time would, seen by the application within five seconds
        change = "UPDATE credential SET {} = ? WHERE hash = ?"
        conn.execute(change.format("seen_at"), (hours_ago, hashlib.sha256(idle.cookie.encode()).hexdigest()))
        conn.execute(change.format("expires_at"), (hours_ago, hashlib.sha256(old.cookie.encode()).hexdigest()))
    time.sleep(6)
    assert idle.ask("GET", "/api/status").status == 401
    assert old.ask("GET", "/api/status").status == 401
    assert bo.ask("GET", "/api/status").status == 200


def test_after_how_long_without_use_it_ends_can_be_set(app: Application, ada: Person, bo: Person) -> None:
    ada.do("PUT", "/api/settings", {"values": {"idle_minutes": 30}})
    browsers = {minutes: Person(app).signed(bo.sign_in(BO)) for minutes in (29, 31)}
    with sqlite3.connect(app.folder / "acorn.db") as conn:
        for minutes, mine in browsers.items():
            at = (datetime.now(UTC) - timedelta(minutes=minutes)).isoformat(timespec="seconds")
            hashed = hashlib.sha256(mine.cookie.encode()).hexdigest()
            conn.execute("UPDATE credential SET seen_at = ? WHERE hash = ?", (at, hashed))
    time.sleep(6)
    assert [mine.ask("GET", "/api/status").status for mine in browsers.values()] == [200, 401]
    ada.do("PUT", "/api/settings", {"values": {"idle_minutes": 720}})
    assert ada.ask("PUT", "/api/settings", {"values": {"idle_minutes": 1}}).status == 422


def test_links_travel_by_mail_and_a_stranger_learns_nothing(app: Application, ada: Person) -> None:
    class Box(Message):  # type: ignore[misc]
        arrived: ClassVar[list[EmailMessage]] = []

        def handle_message(self, message: Any) -> None:
            self.arrived.append(message)

    server = Controller(Box(), hostname="127.0.0.1", port=free_ports(1)[0])
    server.start()
    try:
        mail = {"mail.host": "127.0.0.1", "mail.port": server.port, "application_address": app.url}
        ada.do("PUT", "/api/settings", {"values": mail})
        answer = ada.do("PUT", "/api/team", {"email": "ida@wrenfold.example", "name": "Ida Lark", "role": "viewer"})
        assert answer["mailed"] == "sent"
        link = re.search(r"/welcome#(\S+)", str(Box.arrived[-1].get_payload()))
        assert link
        chosen = {"key": link[1], "password": PASSWORD}
        assert Person(app).ask("POST", "/api/new-password", chosen).status == 200
        _clear_failures(app)
        for email in ("ida@wrenfold.example", "nobody@wrenfold.example"):
            answer = Person(app).ask("POST", "/api/forgotten-password", {"email": email})
            assert (answer.status, answer.body) == (202, b"null")
        until = time.monotonic() + 20
        while len(Box.arrived) < 2 and time.monotonic() < until:
            time.sleep(0.1)
        assert [message["To"] for message in Box.arrived] == ["ida@wrenfold.example"] * 2
        for _ in range(5):
            Person(app).ask("POST", "/api/forgotten-password", {"email": "ida@wrenfold.example"})
        time.sleep(1)
        assert len(Box.arrived) <= 3, "nobody's box is flooded"
    finally:
        server.stop()
        ada.do("PUT", "/api/settings", {"values": {"mail.host": "", "application_address": ""}})


def test_whoever_is_switched_off_is_out_at_once(app: Application, ada: Person) -> None:
    hal = invited(ada, "hal@wrenfold.example", "Hal Penn", "caller")
    token = hal.do("POST", "/api/credentials/tokens", {"name": "Script", "scopes": ["see"], "until": "2099-01-01"})[
        "secret"
    ]
    account = next(one for one in ada.get("/api/team")["people"] if one["name"] == "Hal Penn")
    body = {name: account[name] for name in ("id", "email", "name", "role", "own_permissions")}
    ada.do("PUT", "/api/team", {**body, "active": False})
    assert hal.ask("GET", "/api/status").status == 401
    assert Person(app, token=token).ask("GET", "/api/status").status == 401
    _clear_failures(app)
    assert hal.sign_in("hal@wrenfold.example").status == 401


def test_a_token_does_what_its_scopes_say_and_no_more(app: Application, bo: Person, ada: Person) -> None:
    made = bo.do("POST", "/api/credentials/tokens", {"name": "Reader", "scopes": ["see"], "until": "2099-01-01"})
    reader = Person(app, token=made["secret"])
    assert reader.ask("GET", "/api/businesses").status == 200
    assert reader.ask("POST", "/api/shortlists", {"name": "No"}).status == 403
    assert reader.ask("GET", "/api/inbox").status == 403
    for method, path, body in [
        ("POST", "/api/credentials/tokens", {"name": "More", "scopes": ["work"], "until": "2099-01-01"}),
        ("PUT", "/api/me/password", {"old": PASSWORD, "password": "taken-over-by-a-token-1"}),
        ("DELETE", "/api/credentials", None),
    ]:
        assert reader.ask(method, path, body).status == 403, path
    refused = bo.ask("POST", "/api/credentials/tokens", {"name": "Much", "scopes": ["manage"], "until": "2099-01-01"})
    assert refused.status == 403
    assert (
        bo.ask("POST", "/api/credentials/tokens", {"name": "Old", "scopes": ["see"], "until": "2001-01-01"}).status
        == 422
    )
    assert Person(app, cookie=made["secret"], csrf="").ask("GET", "/api/status").status == 401, "no token as a cookie"
    assert Person(app, token=bo.cookie).ask("GET", "/api/status").status == 401, "no session as a token"
    assert made["secret"] not in str(bo.get("/api/credentials")), "shown once"
    number = next(one["id"] for one in made["tokens"] if one["name"] == "Reader")
    assert ada.ask("DELETE", f"/api/credentials/{number}").status == 422, "it is not hers to end"
    bo.do("DELETE", f"/api/credentials/{number}")
    assert reader.ask("GET", "/api/status").status == 401


def test_nobody_gives_what_they_have_not_and_an_owner_stays(app: Application, ada: Person) -> None:
    mia = invited(ada, "mia@wrenfold.example", "Mia Gorse", "manager")
    ned = invited(ada, "ned@wrenfold.example", "Ned Tarn", "viewer", ["see", "manage"])
    people = {one["name"]: one for one in ada.get("/api/team")["people"]}

    def change(by: Person, name: str, **what: object) -> int:
        account = {key: people[name][key] for key in ("id", "email", "name", "role", "own_permissions", "active")}
        return by.ask("PUT", "/api/team", {**account, **what}).status

    assert change(mia, "Ada Finch", active=False) == 403
    assert change(mia, "Mia Gorse", role="owner") == 422, "one's own rights"
    assert mia.ask("PUT", "/api/team", {"email": "x@y.example", "name": "X", "role": "owner"}).status == 403
    assert mia.ask("POST", f"/api/team/{people['Ada Finch']['id']}/link").status == 403, (
        "that would be signing in as her"
    )
    assert ned.ask("PUT", "/api/team", {"email": "x@y.example", "name": "X", "role": "caller"}).status == 403
    assert ned.ask("POST", f"/api/team/{people['Mia Gorse']['id']}/link").status == 403
    assert change(ada, "Ada Finch", role="viewer") == 422
    olga = invited(ada, "olga@wrenfold.example", "Olga Fen", "owner")
    people |= {one["name"]: one for one in ada.get("/api/team")["people"]}
    assert change(olga, "Ada Finch", role="caller") == 200
    assert ada.ask("GET", "/api/team").status == 403, "at once, not at the next sign-in"
    assert change(olga, "Ada Finch", role="owner") == 200
    assert change(ada, "Olga Fen", active=False) == 200
    assert change(ada, "Ned Tarn", role="emperor") == 422


def test_who_did_what_is_written_down_under_the_name_of_who_is_signed_in(
    app: Application, ada: Person, bo: Person
) -> None:
    number = bo.do("POST", "/api/shortlists", {"name": "Bo's"})["id"]
    assert bo.ask("POST", "/api/shortlists", {"name": ""}).status == 422
    bo.do("PATCH", f"/api/shortlists/{number}", {"name": "Bo's own"})
    found = ada.get("/api/activity-log?author=Bo+Reed&what=shortlist")
    assert [(one["what"], one["subject"]) for one in found["activities"]][:2] == [
        ("Shortlists: change shortlist", f"shortlist id {number}"),
        ("Shortlists: add shortlist", ""),
    ]
    assert "Bo Reed" in found["authors"]
    table = ada.ask("GET", "/api/activity-log.csv?author=Bo+Reed").body.decode()
    assert table.splitlines()[0] == "time,who,what,to what,by token"
    assert "change shortlist" in table
    assert PASSWORD not in table


def test_the_figures_name_nobody(app: Application, ada: Person, bo: Person) -> None:
    assert Person(app).ask("GET", "/api/health/live").status == 200
    assert Person(app).ask("GET", "/api/health/ready").status == 200
    text = bo.ask("GET", "/api/metrics").body.decode()
    assert 'acorn_request_seconds_count{method="POST",route="/session",status="401"}' in text
    assert "wrenfold" not in text
    assert "Bo" not in text
