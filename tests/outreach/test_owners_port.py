"""What the ports let through: owners' pages and nothing else on one, no other site's page on the other."""

import pytest
from starlette.requests import Request

from openacorn.outreach.public import sender_of
from openacorn.settings import Settings
from tests.application import Application
from tests.asking import answered, ids_of
from tests.outreach.contacted import app, folder, made, path_of

__all__ = ["app", "folder"]

pytestmark = pytest.mark.world


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
