"""What owners see: the page at its address, its PDF, and what they send back. The one part that is meant for outside."""

import asyncio
import gzip
import re
import sqlite3
import time
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.background import BackgroundTask

from openacorn.api.deps import AppDep, AppState
from openacorn.api.proxies import client_address
from openacorn.api.threads import OwnersRoute
from openacorn.business.store import businesses
from openacorn.clock import now, utc_now
from openacorn.core.languages.catalogue import Translator
from openacorn.core.report.owners_page import OwnersFacts
from openacorn.core.report.pdf import font
from openacorn.core.report.render import notice, owners_page
from openacorn.net.ports import LOOPBACK
from openacorn.outreach import owner_pages as jobs
from openacorn.outreach import replies
from openacorn.outreach.store import owner_pages
from openacorn.outreach.store.owner_pages import OwnerPage
from openacorn.settings import Settings

router = APIRouter(route_class=OwnersRoute, prefix="/o", include_in_schema=False)
assets = APIRouter(route_class=OwnersRoute, prefix="/o", include_in_schema=False)
"""What pages are drawn with: the application needs it too, for previews."""

HEADERS = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; font-src 'self'; "
    "form-action 'self'; base-uri 'none'; frame-ancestors 'self'",
    "X-Robots-Tag": "noindex, nofollow",
    "Referrer-Policy": "same-origin",
    "X-Content-Type-Options": "nosniff",
    "Cache-Control": "no-store",
}
"""No script runs, nothing comes from elsewhere, no search engine keeps it, and the address is passed on to nobody."""

PROGRAMS = re.compile(r"bot|crawl|spider|preview|fetch|scan|curl|wget|python", re.I)
"""Programs that open links before people do (mail filters, messengers' previews): no view (common practice)."""

LOGO, PHONE = "/o/logo.png", "/o/phone.webp"


def picture_of(conn: sqlite3.Connection, page: OwnerPage, facts: OwnersFacts) -> bytes | None:
    """The picture that a page's facts show (WebP), None if they show none."""
    return owner_pages.get_picture(conn, page.id, facts.look.picture) if facts.look else None


def picture(body: bytes | None) -> Response:
    """A page's picture as an answer."""
    return Response(body or b"", 200 if body else 404, media_type="image/webp", headers=HEADERS)


def drawn(
    conn: sqlite3.Connection, settings: Settings, page: OwnerPage, facts: OwnersFacts, *,
    token: str = "", notice: str = "", printed: bool = False,
) -> str:  # fmt: skip
    """A page as HTML under the agency's letterhead."""
    head, logo = jobs.letterhead(conn, settings), owner_pages.logo(conn)
    look = (
        ""
        if facts.look is None
        else PHONE
        if printed
        else f"/o/{token}/phone.webp"
        if token
        else f"/api/owner-pages/{page.id}/phone.webp"
    )
    return owners_page(
        facts, head, sections=page.sections, made_at=page.shared_at or page.made_at, logo=LOGO if logo else "", look=look,
        token=token, opened=replies.stamp(page.token) if token else "", notice=notice, printed=printed,
    )  # fmt: skip


async def pdf_of(state: AppState, page: OwnerPage, facts: OwnersFacts) -> Response:
    """A page as a PDF."""

    def paper() -> tuple[str, dict[str, tuple[str, bytes]]]:
        with state.database.read() as conn:
            pictures = {
                LOGO: ("image/png", owner_pages.logo(conn)),
                PHONE: ("image/webp", picture_of(conn, page, facts)),
            }
            html = drawn(conn, state.settings, page, facts, printed=True)
        return html, {path: (kind, body) for path, (kind, body) in pictures.items() if body is not None}

    async with state.press.drawing:
        html, files = await asyncio.to_thread(paper)
    body = await state.press.pdf(html, files)
    name = re.sub(r"[^A-Za-z0-9]+", "-", facts.name).strip("-").lower() or "page"
    headers = {**HEADERS, "Content-Disposition": f'attachment; filename="{name}.pdf"'}
    return Response(body, media_type="application/pdf", headers=headers)


def notice_page(
    state: AppState, title: str, text: str, status: int, button: str = "", language: str = "en"
) -> HTMLResponse:
    """A page with one thing to say. button: posts to the page's own address."""
    with state.database.read() as conn:
        head = jobs.letterhead(conn, state.settings)
    return HTMLResponse(notice(head, title, text, button, language), status, headers=HEADERS)


def no_such_page(state: AppState) -> HTMLResponse:
    """For an address that leads nowhere."""
    return notice_page(state, "There is no such page", "Check the address: it must be copied whole.", 404)


def withdrawn(state: AppState, language: str) -> HTMLResponse:
    """For what was shared once and is no more."""
    return notice_page(
        state, "This page was withdrawn", "Write or call us if you would like to see it.", 410, language=language
    )


def shared_page(state: AppState, token: str) -> tuple[OwnerPage, OwnersFacts] | HTMLResponse:
    """The page at an address as it was shared; else what to tell the visitor."""
    with state.database.read() as conn:
        page = owner_pages.get_by_token(conn, token)
    if page is None or page.facts is None:
        return no_such_page(state)
    if page.withdrawn_at:
        return withdrawn(state, page.facts.language)
    return page, page.facts


@assets.get("/logo.png")
def logo(state: AppDep) -> Response:
    """The agency's logo."""
    with state.database.read() as conn:
        body = owner_pages.logo(conn)
    return Response(
        body or b"", 200 if body else 404, media_type="image/png", headers={"Cache-Control": "max-age=3600"}
    )


@assets.get("/fonts/{name}.woff2")
def typeface(name: str) -> Response:
    """A typeface that ships."""
    body = font(name)
    headers = {"Cache-Control": "public, max-age=604800"}
    return Response(body or b"", 200 if body else 404, media_type="font/woff2", headers=headers)


@router.api_route("/{token}", methods=["GET", "HEAD"])
def page(state: AppDep, request: Request, token: str, notice: str = "") -> Response:
    """An owner's page."""
    found = shared_page(state, token)
    if isinstance(found, HTMLResponse):
        return found
    page_found, facts = found
    person = request.method == "GET" and not PROGRAMS.search(request.headers.get("user-agent", "bot"))
    if person and not notice:
        state.views.count(page_found.id, utc_now())
    with state.database.read() as conn:
        html = drawn(
            conn,
            state.settings,
            page_found,
            facts,
            token=token,
            notice=Translator(facts.language).text(replies.SAID.get(notice, "")),
        )
    if "gzip" in request.headers.get("accept-encoding", ""):
        packed = {"Content-Encoding": "gzip", "Vary": "Accept-Encoding"}
        return HTMLResponse(gzip.compress(html.encode(), 6, mtime=0), headers={**HEADERS, **packed})
    return HTMLResponse(html, headers=HEADERS)


@router.get("/{token}/phone.webp")
def phone(state: AppDep, token: str) -> Response:
    """The site on a phone, as the page shows it."""
    found = shared_page(state, token)
    if isinstance(found, HTMLResponse):
        return found
    with state.database.read() as conn:
        return picture(picture_of(conn, *found))


@router.get("/{token}/page.pdf")
async def as_pdf(state: AppDep, token: str) -> Response:
    """An owner's page as a PDF."""
    found = await asyncio.to_thread(shared_page, state, token)
    return found if isinstance(found, HTMLResponse) else await pdf_of(state, *found)


def sender_of(settings: Settings, request: Request) -> str:
    """Who asks: the last address that a proxy we trust names, else who is connected to us.

    "" where that is this machine itself: a proxy that is not trusted asks for everybody, so nothing is known of the sender.
    """
    sender = client_address(settings, request.scope, request.headers)
    return "" if sender == LOOPBACK else sender


@router.post("/{token}/reply")
def reply(
    state: AppDep, request: Request, token: str,
    name: Annotated[str, Form(max_length=80)] = "",
    reach: Annotated[str, Form(max_length=120)] = "",
    text: Annotated[str, Form(max_length=3000)] = "",
    company: Annotated[str, Form(max_length=500)] = "",
    opened: Annotated[str, Form(max_length=200)] = "",
) -> Response:  # fmt: skip
    """What an owner writes to the agency."""
    found = shared_page(state, token)
    if isinstance(found, HTMLResponse):
        return found
    page_found = found[0]
    if not (text.strip() and reach.strip()):
        missing = "Go back and write a message, and how to reach you."
        return notice_page(state, "Something is missing", missing, 422, language=found[1].language)
    if not state.senders.allow(sender_of(state.settings, request), time.monotonic()):
        return _too_many(state, found[1].language)
    suspect = replies.suspicion(token, company, opened, text, now().timestamp())
    with state.database.write() as conn:
        kept, suspect = replies.receive_message(conn, page_found, name.strip(), reach.strip(), text.strip(), suspect)
        to = jobs.letterhead(conn, state.settings).email or state.settings.contact_address
    if not kept:
        return _too_many(state, found[1].language)
    word = (state.settings, to, found[1].name, name.strip(), reach.strip(), text.strip())
    after = None if suspect else BackgroundTask(replies.notify_agency, *word)
    return RedirectResponse(f"/o/{token}?notice=sent", 303, background=after)


def _too_many(state: AppState, language: str) -> HTMLResponse:
    said = "Yours was not sent. Call us, or try again in an hour."
    return notice_page(state, "That was too many messages at once", said, 429, language=language)


@router.post("/{token}/stop")
def stop(state: AppDep, token: str) -> Response:
    """The owner asks not to be contacted again: it holds at once, on every list; asked again, it changes nothing more."""
    found = shared_page(state, token)
    if isinstance(found, HTMLResponse):
        return found
    with state.database.read() as conn:
        refused = businesses.get_business(conn, found[0].business_id)["relationship"] == jobs.REFUSED
    if not refused:
        with state.database.write() as conn:
            replies.do_not_contact(conn, found[0].business_id, state.settings, "asked for it on the page")
    return RedirectResponse(f"/o/{token}?notice=stopped", 303)
