"""A real browser on the coast's sites: what only it can see, and that it reaches no address it must not."""

import asyncio
import contextlib
import http.server
import multiprocessing
import os
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from openacorn.audit.auditor import Auditor, AuditTask
from openacorn.business.store.audits import StoredAudit, unpack_crawl
from openacorn.core.audit.checks.overflow import evaluate as evaluate_overflow
from openacorn.core.audit.evidence import Rendered
from openacorn.core.audit.finding import Outcome
from openacorn.net.client import Client
from openacorn.net.probes.browser import BrowserProbe, BrowserVisit, sort_log
from openacorn.net.probes.browser_session import browser_paths
from openacorn.net.probes.proxy import GuardedProxy
from openacorn.net.pulse import Pulse
from openacorn.net.resolver import GuardedResolver
from openacorn.settings import Settings
from tests.conftest import Coast
from tests.net.serving import serving as serving_by

pytestmark = [pytest.mark.world, pytest.mark.browser]
AT = "2026-09-01T00:00:00+00:00"


def sites(coast: Coast, **wanted: Any) -> list[dict[str, Any]]:
    return [row for row in coast.read("sites.json") if all(row[name] == value for name, value in wanted.items())]


def audited(coast: Coast, site: dict[str, Any], *, rendered: bool = True) -> StoredAudit:
    async def run() -> StoredAudit:
        async with Client(coast.settings) as client:
            task = AuditTask(
                1, site["name"], f"https://{site['host']}/", "s", AT, rendered=rendered, phone=site["phone"]
            )
            return await Auditor(client, coast.settings, client).audit(task)

    return asyncio.run(run())


def shown(audit: StoredAudit) -> Rendered:
    assert audit.crawl is not None
    rendered = unpack_crawl(audit.crawl).rendered
    assert rendered is not None
    assert not rendered.failed
    return rendered


def outcomes(audit: StoredAudit) -> dict[str, str]:
    return {check: str(finding.outcome) for check, finding in audit.findings.items()}


def test_a_page_that_a_script_builds_is_read_after_it_ran(coast: Coast) -> None:
    assert browser_paths() is not None
    site = next(
        row for row in sites(coast, look="script", transport="ok", redirect_to="") if row["phone_where"] == "home"
    )
    before, after = outcomes(audited(coast, site, rendered=False)), audited(coast, site)
    answer = outcomes(after)
    for check in ("real_site", "phone_found", "headings"):
        assert before[check] == "unknown", check
    assert (before["analytics"], before["ad_pixel"]) == ("ok", "ok")  # the bundle was read
    assert (answer["real_site"], answer["phone_found"], answer["analytics"], answer["meta_pixel"]) == (
        "ok",
        "ok",
        "ok",
        "ok",
    )
    assert {kind: body[:4] for kind, body in after.pictures} == {"phone": b"RIFF", "desk": b"RIFF"}
    assert "seen in a browser" in after.findings["phone_found"].reason


def test_tags_behind_a_manager_are_seen_to_fire_or_not(coast: Coast) -> None:
    managed = sites(coast, manager=True, transport="ok", redirect_to="", consent=False, blocked=False, stranger=False)
    with_pixel = next(row for row in managed if row["hidden_pixel"])
    without = next(row for row in managed if not row["hidden_pixel"])
    assert outcomes(audited(coast, with_pixel))["ad_pixel"] == "ok"
    answer = outcomes(audited(coast, without))
    assert (answer["analytics"], answer["ad_pixel"]) == ("ok", "gap")  # only now may that be said


def test_a_manager_that_does_not_load_leaves_its_tags_open(coast: Coast) -> None:
    blocked = next(
        row for row in sites(coast, blocked=True, redirect_to="") if row["transport"] in {"ok", "plain_http"}
    )
    answer = outcomes(audited(coast, blocked))
    assert (answer["analytics"], answer["ad_pixel"]) == ("unknown", "unknown")


def test_what_sticks_out_on_a_phone_and_how_long_it_takes_is_measured(coast: Coast) -> None:
    plain = {"look": "modern", "transport": "ok", "redirect_to": "", "viewport": "ok", "analytics": ""}
    wide = audited(coast, next(row for row in sites(coast, fixed_width=True, **plain) if row["delay_s"] == 0))
    assert (outcomes(wide)["overflow"], shown(wide).content_width >= 980) == ("gap", True)
    light = next(
        row
        for row in sites(coast, fixed_width=False, **plain)
        if row["images"] == 2 and row["image_kb"] <= 14 and row["js_kb"] < 40 and not row["pixels"]
    )
    fits = audited(coast, light)
    assert outcomes(fits)["overflow"] == "ok"
    assert shown(fits).load_s > 0.3  # two round trips of 150 ms at least; how much more is the machine's affair
    heavy = audited(coast, next(row for row in sites(coast, transport="ok", image_kb=800, redirect_to="")))
    assert outcomes(heavy)["load_measured"] == "gap"
    assert shown(heavy).load_s == 0  # 6 MB at 200 kB a second are not there after 20


POPUPS = b"""<title>Tangle</title><h1>Brightwater Locks</h1><script>
for (let i = 0; i < 5; i++) window.open('/other', 'w' + i); alert('hello');
document.addEventListener('visibilitychange', () => window.open('/again'));</script>"""
ENDLESS = b"<title>Endless</title><script>setTimeout(() => { for (;;); }, 200)</script>"
CALLS_OUT = b"""<title>Calls out</title><script>const peer = new RTCPeerConnection({iceServers: [{urls: 'stun:127.0.0.1:PORT'}]});
peer.createDataChannel('x'); peer.createOffer().then(offer => peer.setLocalDescription(offer));</script>"""


@contextlib.contextmanager
def serving(page: bytes) -> Iterator[tuple[str, list[str]]]:
    """A server on loopback with one page at every address: (its address, the paths asked for)."""
    reached: list[str] = []

    class Handler(http.server.BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            reached.append(self.path)
            self.send_response(200)
            self.send_header("Content-Type", "text/html")
            self.end_headers()
            self.wfile.write(page)

        def log_message(self, *_: object) -> None:
            """Stay quiet."""

    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}/", reached
    finally:
        server.shutdown()
        server.server_close()


def browsers_left() -> list[str]:
    """Command lines of the probe's browsers that these tests started and that still run; others run beside them."""
    mine, found = f"PYTEST_XDIST_WORKER={os.environ.get('PYTEST_XDIST_WORKER', '')}".encode(), []
    for process in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            line = (process / "cmdline").read_bytes()
            ours = "PYTEST_XDIST_WORKER" not in os.environ or mine in (process / "environ").read_bytes().split(b"\0")
            if ours and b"acorn-browser-" in line and b"crashpad" not in line:
                found.append(line.decode(errors="replace")[:200])
    return found


def looked_at(url: str, **how: Any) -> tuple[BrowserVisit, float]:
    """What the probe saw, and the longest time that its own loop stood still."""

    async def run() -> tuple[BrowserVisit, float]:
        pulse, began = Pulse(), time.monotonic()
        beating = asyncio.create_task(pulse.beat_on())
        seen = await BrowserProbe(Settings(), allow_private=True, **how).look(url)
        beating.cancel()
        return seen, pulse.stood_still(began, 5)

    return asyncio.run(run())


def test_windows_and_questions_that_a_page_opens_are_not_in_the_way() -> None:
    with serving(POPUPS) as (url, _):
        seen, stood_still = looked_at(url)
    assert (seen.rendered.failed, set(seen.pictures), stood_still) == ("", {"phone", "desk"}, 0)
    assert seen.rendered.page is not None
    assert seen.rendered.page.title == "Tangle"
    assert browsers_left() == []


def test_a_page_that_never_ends_costs_its_own_time_and_nothing_else() -> None:
    with serving(ENDLESS) as (url, _):
        seen, stood_still = looked_at(url, seconds=12)
    assert (seen.rendered.failed, stood_still) == ("the browser was not done after 12 s", 0)
    assert browsers_left() == []


@pytest.mark.parametrize(("user", "sandboxed"), [(0, False), (1000, True)])
def test_chromiums_sandbox_is_left_out_for_the_superuser_alone(
    monkeypatch: pytest.MonkeyPatch, user: int, sandboxed: bool
) -> None:
    """Only the superuser can have a browser without one: Chromium refuses to start otherwise."""
    started: list[list[str]] = []

    def remote(_line: object, options: Any) -> None:
        started.append(options.arguments)
        raise RuntimeError("far enough")

    monkeypatch.setattr("openacorn.net.probes.browser_session.os.geteuid", lambda: user)
    monkeypatch.setattr("selenium.webdriver.Remote", remote)
    seen = asyncio.run(BrowserProbe(Settings()).look("http://gull.example/"))
    assert "far enough" in seen.rendered.failed
    assert ("--no-sandbox" not in started[0]) is sandboxed


NOBODY = 65534


def look_as_nobody(url: str) -> None:
    """In a process of its own: as it is where the program does not run as the superuser, which is to be the rule."""
    os.setgroups([])
    os.setgid(NOBODY)
    os.setuid(NOBODY)
    seen, _ = looked_at(url, seconds=40)
    os._exit(0 if seen.rendered.page is not None and seen.rendered.page.title == "Sandboxed" else 1)


def renderers_of(user: int) -> list[tuple[str, str]]:
    """(command line, process namespace) of the processes in which a user's Chromium runs pages."""
    found = []
    for process in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            line = (process / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
            if "--type=renderer" in line and process.stat().st_uid == user:
                found.append((line, os.readlink(process / "ns" / "pid")))
    return found


@pytest.mark.skipif(os.geteuid() != 0, reason="only the superuser can look as somebody else")
def test_pages_of_a_common_user_run_in_chromiums_sandbox() -> None:
    """What runs a page stands in a namespace of its own, from which none of the user's processes can be seen."""
    looked_at("http://nowhere.invalid/")  # what is imported late is there before the user changes
    with serving(b"<title>Sandboxed</title><p>" + b"Kind care. " * 50) as (url, _):
        child = multiprocessing.get_context("fork").Process(target=look_as_nobody, args=(url,))
        child.start()
        found: list[tuple[str, str]] = []
        while child.is_alive() and not found:
            found = renderers_of(NOBODY)
            time.sleep(0.02)
        child.join()
    assert child.exitcode == 0
    assert found
    assert all("--no-sandbox" not in line and space != os.readlink("/proc/self/ns/pid") for line, space in found)


def test_no_call_leaves_past_the_proxy() -> None:
    """WebRTC asks by UDP, which a proxy for HTTP never sees."""
    with closing(socket.socket(socket.AF_INET, socket.SOCK_DGRAM)) as canary:
        canary.bind(("127.0.0.1", 0))
        canary.settimeout(0.1)
        with serving(CALLS_OUT.replace(b"PORT", str(canary.getsockname()[1]).encode())) as (url, reached):
            seen, _ = looked_at(url)
        assert "/" in reached
        assert seen.rendered.failed == ""
        with pytest.raises(TimeoutError):
            canary.recv(100)


def test_the_browser_reaches_no_private_address() -> None:
    """A page may name any address; the proxy refuses what the client would, whatever the page does to get there."""
    with serving(b"<title>Inside</title>") as (url, reached):
        seen = asyncio.run(BrowserProbe(Settings()).look(url + "secret"))
        local = asyncio.run(BrowserProbe(Settings()).look(url.replace("127.0.0.1", "localhost") + "secret"))
        assert reached == []
        looked_at(url + "open")
    assert "/open" in reached
    # the browser's own error page is nothing that a site could be judged by
    assert (seen.rendered.failed, seen.rendered.page, seen.pictures) == ("the browser could not open it", None, {})
    assert "127.0.0.1" in seen.rendered.refused
    assert "localhost" in local.rendered.refused


def test_a_connection_that_a_page_left_hanging_ends_with_the_browser() -> None:
    """A far end that never says a word, and a connection that the browser never used."""
    asked: list[bytes] = []

    async def run() -> list[bytes]:
        ended = asyncio.Event()

        async def silent(reader: asyncio.StreamReader, _writer: asyncio.StreamWriter) -> None:
            asked.append(await reader.read())  # all that comes, once the other side has closed
            ended.set()

        async with serving_by(silent) as url:
            host = url.removeprefix("http://")
            async with GuardedProxy(GuardedResolver(None, False, [host])) as proxy:
                unused, used = [await asyncio.open_connection("127.0.0.1", proxy.port) for _ in range(2)]
                used[1].write(f"CONNECT {host} HTTP/1.1\r\n\r\n".encode())
                assert b"200" in await used[0].readuntil(b"\r\n\r\n")
                used[1].write(b"hello")
                await used[1].drain()
                await asyncio.sleep(0.2)
            await asyncio.wait_for(ended.wait(), 5)
            left = [await asyncio.wait_for(reader.read(), 5) for reader, _ in (used, unused)]
            for _, writer in (used, unused):
                writer.close()
            return left

    assert asyncio.run(run()) == [b"", b""]
    assert asked == [b"hello"]


def test_files_that_did_not_come_are_told_from_those_that_the_page_gave_up() -> None:
    def sent(number: str, url: str) -> dict[str, Any]:
        return {"method": "Network.requestWillBeSent", "params": {"requestId": number, "request": {"url": url}}}

    def ended(number: str, kind: str, **more: Any) -> dict[str, Any]:
        return {"method": "Network.loadingFailed", "params": {"requestId": number, "type": kind, **more}}

    answered = {"requestId": "3", "type": "Stylesheet", "response": {"status": 404}}
    log = [
        sent("1", "https://a.example/tags.js"), sent("2", "https://a.example/given-up.js"), sent("3", "https://a.example/site.css"),
        sent("4", "https://a.example/x.png"), sent("5", "data:image/png;base64,"), ended("1", "Script"),
        ended("2", "Script", canceled=True), ended("4", "Image"), {"method": "Network.responseReceived", "params": answered},
    ]  # fmt: skip
    asked, lost = sort_log(log)
    assert asked == [f"https://a.example/{name}" for name in ("tags.js", "given-up.js", "site.css", "x.png")]
    assert [(file.url, str(file.kind)) for file in lost] == [
        ("https://a.example/tags.js", "script"),
        ("https://a.example/site.css", "style"),
    ]
    shown = Rendered("https://a.example/", "2026-09-01", width=390, content_width=980, lost=tuple(lost))
    assert evaluate_overflow(shown).outcome is Outcome.UNKNOWN
    assert evaluate_overflow(replace(shown, lost=())).outcome is Outcome.GAP
