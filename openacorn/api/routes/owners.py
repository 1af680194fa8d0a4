"""What owners see: the page at its address, its PDF, and what they send back. The one part that is meant for outside."""

import gzip
import re
import sqlite3
import time
from datetime import UTC, datetime, timedelta
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.background import BackgroundTask

from openacorn.api.deps import Desk, Office
from openacorn.core.report.owners_page import OwnersFacts
from openacorn.core.report.pdf import font, to_pdf
from openacorn.core.report.render import notice, owners_page
from openacorn.jobs import owner_pages as jobs
from openacorn.jobs import replying
from openacorn.net.probes.site import now
from openacorn.settings import Settings
from openacorn.store import owner_pages
from openacorn.store.owner_pages import OwnerPage

router = APIRouter(prefix="/o", include_in_schema=False)

HEADERS = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; font-src 'self'; "
    "form-action 'self'; base-uri 'none'; frame-ancestors 'self'",
    "X-Robots-Tag": "noindex, nofollow",
    "Referrer-Policy": "same-origin",
    "X-Content-Type-Options": "nosniff",
    "Cache-Control": "no-store",
}
"""No script runs, nothing comes from elsewhere, no search engine keeps it, and the address is told to nobody."""

PROGRAMS = re.compile(r"bot|crawl|spider|preview|fetch|scan|curl|wget|python", re.I)
"""Programs that open links before people do (mail filters, messengers' previews): no view (common practice)."""

LOGO = "/o/logo.png"
PAGE_REPLIES, PAGE_WINDOW = 5, timedelta(hours=1)
"""So many replies a page an hour are more than anybody writes, and few enough to be read."""


def drawn(
    conn: sqlite3.Connection, settings: Settings, page: OwnerPage, facts: OwnersFacts, *,
    token: str = "", said: str = "", printed: bool = False,
) -> str:  # fmt: skip
    """A page as HTML under the agency's letterhead."""
    head, logo = jobs.letterhead(conn, settings), owner_pages.logo(conn)
    return owners_page(
        facts, head, sections=page.sections, made_at=page.shared_at or page.made_at, logo=LOGO if logo else "", token=token,
        opened=replying.stamp(page.token, time.time()) if token else "", said=said, printed=printed,
    )  # fmt: skip


def pdf_of(conn: sqlite3.Connection, settings: Settings, page: OwnerPage, facts: OwnersFacts) -> Response:
    """A page as a PDF."""
    logo = owner_pages.logo(conn)
    files = {LOGO: ("image/png", logo)} if logo else {}
    name = re.sub(r"[^A-Za-z0-9]+", "-", facts.name).strip("-").lower() or "page"
    body = to_pdf(drawn(conn, settings, page, facts, printed=True), files)
    headers = {**HEADERS, "Content-Disposition": f'attachment; filename="{name}.pdf"'}
    return Response(body, media_type="application/pdf", headers=headers)


def _notice(desk: Office, title: str, text: str, status: int) -> HTMLResponse:
    with desk.database.read() as conn:
        head = jobs.letterhead(conn, desk.settings)
    return HTMLResponse(notice(head, title, text), status, headers=HEADERS)


def _shared(desk: Office, token: str) -> tuple[OwnerPage, OwnersFacts] | HTMLResponse:
    """The page at an address as it was shared; else what to tell who asks."""
    with desk.database.read() as conn:
        page = owner_pages.by_token(conn, token)
    if page is None or page.facts is None:
        return _notice(desk, "There is no such page", "Check the address: it must be copied whole.", 404)
    if page.withdrawn_at:
        return _notice(desk, "This page was withdrawn", "Write or call us if you would like to see it.", 410)
    return page, page.facts


@router.get("/logo.png")
def logo(desk: Desk) -> Response:
    """The agency's logo."""
    with desk.database.read() as conn:
        body = owner_pages.logo(conn)
    return Response(
        body or b"", 200 if body else 404, media_type="image/png", headers={"Cache-Control": "max-age=3600"}
    )


@router.get("/fonts/{name}.woff2")
def typeface(name: str) -> Response:
    """A typeface that ships."""
    body = font(name)
    headers = {"Cache-Control": "public, max-age=604800"}
    return Response(body or b"", 200 if body else 404, media_type="font/woff2", headers=headers)


@router.api_route("/{token}", methods=["GET", "HEAD"])
def page(desk: Desk, request: Request, token: str, said: str = "") -> Response:
    """An owner's page."""
    found = _shared(desk, token)
    if isinstance(found, HTMLResponse):
        return found
    told, facts = found
    person = request.method == "GET" and not PROGRAMS.search(request.headers.get("user-agent", "bot"))
    if person and not said:
        with desk.database.write() as conn:
            owner_pages.count_view(conn, told.id, now())
    with desk.database.read() as conn:
        html = drawn(conn, desk.settings, told, facts, token=token, said=replying.SAID.get(said, ""))
    if "gzip" in request.headers.get("accept-encoding", ""):
        packed = {"Content-Encoding": "gzip", "Vary": "Accept-Encoding"}
        return HTMLResponse(gzip.compress(html.encode(), 6, mtime=0), headers={**HEADERS, **packed})
    return HTMLResponse(html, headers=HEADERS)


@router.get("/{token}/page.pdf")
def as_pdf(desk: Desk, token: str) -> Response:
    """An owner's page as a PDF."""
    found = _shared(desk, token)
    if isinstance(found, HTMLResponse):
        return found
    with desk.database.read() as conn:
        return pdf_of(conn, desk.settings, *found)


@router.post("/{token}/reply")
def reply(
    desk: Desk, request: Request, token: str,
    name: Annotated[str, Form(max_length=80)] = "",
    reach: Annotated[str, Form(max_length=120)] = "",
    text: Annotated[str, Form(max_length=3000)] = "",
    company: Annotated[str, Form(max_length=500)] = "",
    opened: Annotated[str, Form(max_length=200)] = "",
) -> Response:  # fmt: skip
    """What an owner writes to the agency."""
    found = _shared(desk, token)
    if isinstance(found, HTMLResponse):
        return found
    told = found[0]
    if not (text.strip() and reach.strip()):
        return _notice(desk, "Something is missing", "Go back and write a message, and how to reach you.", 422)
    since = (datetime.now(UTC) - PAGE_WINDOW).isoformat(timespec="seconds")
    sender = request.client.host if request.client else ""
    with desk.database.write() as conn:
        full = owner_pages.count_replies(conn, told.id, since) >= PAGE_REPLIES
        if not full and desk.senders.allow(sender, time.monotonic()):
            suspect = replying.suspicion(token, company, opened, text, time.time())
            replying.receive(conn, told, name.strip(), reach.strip(), text.strip(), suspect)
            to = jobs.letterhead(conn, desk.settings).email or desk.settings.contact_address
            word = (desk.settings, to, found[1].name, name.strip(), reach.strip(), text.strip())
            after = None if suspect else BackgroundTask(replying.tell_agency, *word)
            return RedirectResponse(f"/o/{token}?said=sent", 303, background=after)
    return _notice(
        desk, "That was too many messages at once", "Yours was not sent. Call us, or try again in an hour.", 429
    )


@router.post("/{token}/stop")
def stop(desk: Desk, token: str) -> Response:
    """The owner asks not to be contacted again: it holds at once, on every list."""
    found = _shared(desk, token)
    if isinstance(found, HTMLResponse):
        return found
    with desk.database.write() as conn:
        replying.stop(conn, found[0], desk.settings)
    return RedirectResponse(f"/o/{token}?said=stopped", 303)
