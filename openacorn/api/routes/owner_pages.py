"""Owners' pages for the agency: make, look at, share, withdraw; replies; the letterhead."""

import asyncio
import sqlite3
from datetime import UTC, datetime

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from starlette.background import BackgroundTask

from openacorn.api.deps import LOOPBACK, Desk, Office, chosen_ids
from openacorn.api.models.owner_pages import (
    ByAsked,
    LetterheadAsked,
    LetterheadTold,
    OwnerPageTold,
    PageLineTold,
    PagesAsked,
    PagesTold,
    RepliesTold,
    ReplyAsked,
    ReplyTold,
    SectionsAsked,
    UnsaidTold,
)
from openacorn.api.models.sweeps import RunStarted
from openacorn.api.routes.owners import HEADERS, drawn, pdf_of
from openacorn.api.threads import DeskRoute
from openacorn.core.audit.check import all_checks
from openacorn.core.report.claims import sayable
from openacorn.core.report.letterhead import Letterhead
from openacorn.jobs import owner_pages as jobs
from openacorn.jobs.owner_pages import Wanted
from openacorn.store import audits, businesses, owner_pages, sweeps
from openacorn.store.owner_pages import OwnerPage
from openacorn.store.sweeps import NotFound

router = APIRouter(route_class=DeskRoute, tags=["owners' pages"])
SHOWN = 500


def address_of(desk: Office, token: str) -> str:
    """Where an owner opens a page: at the public address, if the installation has one, else on this machine."""
    base = desk.settings.public_address or f"http://{LOOPBACK}:{desk.owners_port}"
    return f"{base.rstrip('/')}/o/{token}"


def _told(desk: Office, conn: sqlite3.Connection, page: OwnerPage) -> OwnerPageTold:
    findings = audits.findings_of(conn, page.business_id)
    unsaid = sayable(all_checks(), findings, {}, datetime.now(UTC)).unsaid
    more, last = desk.views.of(page.id)
    return OwnerPageTold(
        id=page.id, business_id=page.business_id, address=address_of(desk, page.token),
        public=bool(desk.settings.public_address), sections=list(page.sections), made_at=page.made_at,
        shared_at=page.shared_at, withdrawn_at=page.withdrawn_at, newer=page.facts is not None and page.facts != page.draft,
        views=page.views + more, viewed_at=last or page.viewed_at, claims=[claim.text for claim in page.draft.claims],
        shared_claims=[claim.text for claim in page.facts.claims] if page.facts else [],
        unsaid=[UnsaidTold.model_validate(item) for item in unsaid],
    )  # fmt: skip


@router.post("/owner-pages", status_code=201)
def make(desk: Desk, asked: PagesAsked) -> RunStarted:
    """Make pages in a run that can be watched and stopped; sites that were not looked at lately are looked at again first."""
    ids = chosen_ids(desk, asked.ids, asked.filter)
    wanted = Wanted(tuple(asked.sections), asked.service, asked.again, asked.share, asked.by.strip())
    run_id = desk.runs.make_pages(ids, wanted)
    with desk.database.read() as conn:
        return RunStarted(sweep_id=sweeps.get_run(conn, run_id).sweep_id, run_id=run_id)


@router.get("/owner-pages")
def list_pages(desk: Desk) -> PagesTold:
    """The newest pages."""
    with desk.database.read() as conn:
        found, total = owner_pages.list_pages(conn, SHOWN)
    lines = []
    for item in found:
        more, last = desk.views.of(item.id)
        since = {
            "views": item.views + more,
            "viewed_at": last or item.viewed_at,
            "address": address_of(desk, item.token),
        }
        lines.append(PageLineTold.model_validate({name: getattr(item, name) for name in item.__slots__} | since))
    return PagesTold(pages=lines, total=total)


@router.get("/owner-pages/{page_id}/preview", response_class=HTMLResponse)
def preview(desk: Desk, page_id: int) -> HTMLResponse:
    """The page as last made, for the agency's eyes: it counts as no view, and its form is shut."""
    with desk.database.read() as conn:
        page = owner_pages.get(conn, page_id)
        html = drawn(conn, desk.settings, page, page.draft)
    # the PDF stands beside it: who looks at the one may ask for the other
    return HTMLResponse(html, headers=HEADERS, background=BackgroundTask(desk.press.warm))


@router.get("/owner-pages/{page_id}/pdf")
async def pdf(desk: Desk, page_id: int) -> Response:
    """The page as last made, as a PDF."""

    def found() -> OwnerPage:
        with desk.database.read() as conn:
            return owner_pages.get(conn, page_id)

    page = await asyncio.to_thread(found)
    return await pdf_of(desk, page, page.draft)


@router.get("/businesses/{business_id}/owner-page")
def page_of(desk: Desk, business_id: int) -> OwnerPageTold | None:
    """A business's latest page, null before one was made."""
    with desk.database.read() as conn:
        businesses.get_business(conn, business_id)
        page = owner_pages.latest_of(conn, business_id)
        return None if page is None else _told(desk, conn, page)


@router.put("/owner-pages/{page_id}/sections")
def choose_sections(desk: Desk, page_id: int, asked: SectionsAsked) -> OwnerPageTold:
    """Choose which parts are shown, also of a page that is shared: the facts stay as they are."""
    jobs.check_sections(asked.sections)
    with desk.database.write() as conn:
        owner_pages.get(conn, page_id)
        owner_pages.set_sections(conn, page_id, asked.sections)
        return _told(desk, conn, owner_pages.get(conn, page_id))


@router.post("/owner-pages/{page_id}/share")
def share(desk: Desk, page_id: int, asked: ByAsked) -> OwnerPageTold:
    """Show the page, as last made, at its address."""
    with desk.database.write() as conn:
        jobs.share(conn, page_id, asked.by.strip())
        return _told(desk, conn, owner_pages.get(conn, page_id))


@router.post("/owner-pages/{page_id}/withdraw")
def withdraw(desk: Desk, page_id: int, asked: ByAsked) -> OwnerPageTold:
    """Close the page's address for good."""
    with desk.database.write() as conn:
        jobs.withdraw(conn, page_id, asked.by.strip())
        return _told(desk, conn, owner_pages.get(conn, page_id))


def _replies(conn: sqlite3.Connection) -> RepliesTold:
    found, left, total = owner_pages.list_replies(conn, SHOWN)
    return RepliesTold(replies=[ReplyTold.model_validate(item) for item in found], left=left, total=total)


@router.get("/replies")
def list_replies(desk: Desk) -> RepliesTold:
    """What owners wrote, what is to be answered first."""
    with desk.database.read() as conn:
        return _replies(conn)


@router.put("/replies/{reply_id}")
def mark_reply(desk: Desk, reply_id: int, asked: ReplyAsked) -> RepliesTold:
    """Note that a reply was answered, or not."""
    with desk.database.write() as conn:
        owner_pages.mark_reply(conn, reply_id, done=asked.done)
        return _replies(conn)


def _head(conn: sqlite3.Connection, desk: Office) -> LetterheadTold:
    head = jobs.letterhead(conn, desk.settings)
    told = {name: getattr(head, name) for name in head.__slots__}
    return LetterheadTold(**told, logo=owner_pages.logo(conn) is not None)


@router.get("/letterhead")
def letterhead(desk: Desk) -> LetterheadTold:
    """How the agency shows itself to owners."""
    with desk.database.read() as conn:
        return _head(conn, desk)


@router.put("/letterhead")
def put_letterhead(desk: Desk, asked: LetterheadAsked) -> LetterheadTold:
    """Change the letterhead; pages that are shared follow, as it is no finding."""
    with desk.database.write() as conn:
        owner_pages.put_letterhead(conn, Letterhead(**asked.model_dump()))
        return _head(conn, desk)


@router.put("/letterhead/logo")
async def put_logo(desk: Desk, request: Request) -> LetterheadTold:
    """Keep a picture (its bytes as the body) as the logo."""
    sent = b""
    async for piece in request.stream():
        sent += piece
        if len(sent) > jobs.MOST_LOGO:
            break
    return await asyncio.to_thread(_keep_logo, desk, sent)


def _keep_logo(desk: Office, sent: bytes) -> LetterheadTold:
    body = jobs.logo_of(sent)
    with desk.database.write() as conn:
        owner_pages.put_letterhead(conn, jobs.letterhead(conn, desk.settings))
        owner_pages.put_logo(conn, body)
        return _head(conn, desk)


@router.delete("/letterhead/logo")
def drop_logo(desk: Desk) -> LetterheadTold:
    """Show no logo."""
    with desk.database.write() as conn:
        owner_pages.put_logo(conn, None)
        return _head(conn, desk)


@router.get("/letterhead/logo")
def logo(desk: Desk) -> Response:
    """The logo (PNG)."""
    with desk.database.read() as conn:
        body = owner_pages.logo(conn)
    if body is None:
        raise NotFound("there is no logo")
    return Response(body, media_type="image/png", headers={"Cache-Control": "no-cache"})
