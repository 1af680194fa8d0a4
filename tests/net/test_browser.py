"""A real browser on the coast's sites: what only it can see, and that it reaches no address it must not."""

import asyncio
import http.server
import threading
from typing import Any

import pytest

from openacorn.core.audit.evidence import Rendered
from openacorn.jobs.judging import Auditor, AuditTask
from openacorn.net.client import Client
from openacorn.net.probes.browser import BrowserProbe, browser_paths
from openacorn.settings import Settings
from openacorn.store.audits import StoredAudit, unpack_crawl
from tests.conftest import Coast

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
    said = outcomes(after)
    for check in ("real_site", "phone_found", "analytics", "ad_pixel", "headings"):
        assert before[check] == "unknown", check
    assert (said["real_site"], said["phone_found"], said["analytics"], said["meta_pixel"]) == ("ok", "ok", "ok", "ok")
    assert {kind: body[:4] for kind, body in after.pictures} == {"phone": b"RIFF", "desk": b"RIFF"}
    assert "seen in a browser" in after.findings["analytics"].reason


def test_tags_behind_a_manager_are_seen_to_fire_or_not(coast: Coast) -> None:
    managed = sites(coast, manager=True, transport="ok", redirect_to="", consent=False)
    with_pixel = next(row for row in managed if row["hidden_pixel"])
    without = next(row for row in managed if not row["hidden_pixel"])
    assert outcomes(audited(coast, with_pixel))["ad_pixel"] == "ok"
    said = outcomes(audited(coast, without))
    assert (said["analytics"], said["ad_pixel"]) == ("ok", "gap")  # only now may that be said


def test_what_sticks_out_on_a_phone_and_how_long_it_takes_is_measured(coast: Coast) -> None:
    plain = {"look": "modern", "transport": "ok", "redirect_to": "", "viewport": "ok"}
    wide = audited(coast, next(row for row in sites(coast, fixed_width=True, **plain) if row["delay_s"] == 0))
    assert (outcomes(wide)["overflow"], shown(wide).content_width >= 980) == ("gap", True)
    light = next(
        row
        for row in sites(coast, fixed_width=False, **plain)
        if row["images"] == 2 and row["image_kb"] <= 14 and row["js_kb"] < 40 and not row["pixels"]
    )
    fits = audited(coast, light)
    assert outcomes(fits)["overflow"] == "ok"
    assert 0.3 < shown(fits).load_s < 3.5  # two round trips of 150 ms at least
    heavy = audited(coast, next(row for row in sites(coast, transport="ok", image_kb=800, redirect_to="")))
    assert outcomes(heavy)["load_measured"] == "gap"
    assert shown(heavy).load_s == 0  # 6 MB at 200 kB a second are not there after 20


def test_the_browser_reaches_no_private_address() -> None:
    """A page may name any address; the proxy refuses what the client would, whatever the page does to get there."""
    reached: list[str] = []

    class Inside(http.server.BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            reached.append(self.path)
            self.send_response(200)
            self.end_headers()

        def log_message(self, *_: object) -> None:
            """Stay quiet."""

    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Inside)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        seen = asyncio.run(BrowserProbe(Settings()).look(f"http://127.0.0.1:{server.server_address[1]}/secret"))
        local = asyncio.run(BrowserProbe(Settings()).look(f"http://localhost:{server.server_address[1]}/secret"))
        assert reached == []
        allowed = BrowserProbe(Settings(), allow_private=True)
        asyncio.run(allowed.look(f"http://127.0.0.1:{server.server_address[1]}/open"))
    finally:
        server.shutdown()
        server.server_close()
    assert "/open" in reached
    # the browser's own error page is nothing that a site could be judged by
    assert (seen.rendered.failed, seen.rendered.page, seen.pictures) == ("the browser could not open it", None, {})
    assert "127.0.0.1" in seen.rendered.refused
    assert "localhost" in local.rendered.refused
