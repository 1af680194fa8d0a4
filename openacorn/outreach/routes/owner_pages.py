"""Owners' pages for the agency: make, look at, share, withdraw; replies; the letterhead."""

import asyncio
import sqlite3

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from starlette.background import BackgroundTask

from openacorn.api.deps import AppDep, AppState, chosen_ids
from openacorn.api.threads import DeskRoute
from openacorn.business.store import audits, businesses
from openacorn.clock import now
from openacorn.core.audit.check import all_checks
from openacorn.core.report.claims import select_claims
from openacorn.core.report.letterhead import Letterhead
from openacorn.errors import NotFound
from openacorn.gather.schemas.sweeps import RunStarted
from openacorn.outreach import owner_pages as jobs
from openacorn.outreach.owner_pages import PageOrder
from openacorn.outreach.public import HEADERS, drawn, pdf_of, picture, picture_of
from openacorn.outreach.schemas.owner_pages import (
    ByRequest,
    LetterheadRequest,
    LetterheadResponse,
    OwnerPageResponse,
    PageLineResponse,
    PagesRequest,
    PagesResponse,
    RepliesResponse,
    ReplyRequest,
    SectionsRequest,
)
from openacorn.outreach.store import owner_pages
from openacorn.outreach.store.owner_pages import OwnerPage
from openacorn.runs.store import sweeps

router = APIRouter(route_class=DeskRoute, tags=["owners' pages"])
SHOWN = 500


def address_of(state: AppState, token: str) -> str:
    """Where an owner opens a page: at the public address, if the installation has one, else on this machine."""
    return state.owners_address(f"/o/{token}")


def _response(state: AppState, conn: sqlite3.Connection, page: OwnerPage) -> OwnerPageResponse:
    findings = audits.list_findings(conn, page.business_id)
    withheld = select_claims(all_checks(), findings, {}, now()).withheld
    more, last = state.views.of(page.id)
    claimed = {claim.check for claim in page.draft.claims}
    return OwnerPageResponse(
        id=page.id, business_id=page.business_id, address=address_of(state, page.token),
        public=bool(state.settings.public_address), sections=list(page.sections), made_at=page.made_at,
        shared_at=page.shared_at, withdrawn_at=page.withdrawn_at, newer=page.facts is not None and page.facts != page.draft,
        views=page.views + more, viewed_at=last or page.viewed_at, claims=[claim.text for claim in page.draft.claims],
        no_longer=[claim.text for claim in page.facts.claims if claim.check not in claimed] if page.facts else [],
        withheld=list(withheld), language=page.draft.language, untranslated=list(page.draft.untranslated),
    )  # fmt: skip


@router.post("/owner-pages", status_code=201)
def make(state: AppDep, asked: PagesRequest) -> RunStarted:
    """Make pages in a run that can be watched and stopped; sites that were not looked at lately are looked at again first."""
    ids = chosen_ids(state, asked.ids, asked.filter)
    wanted = PageOrder(tuple(asked.sections), asked.service, asked.again, asked.share, asked.by.strip())
    run_id = state.runs.make_pages(ids, wanted)
    with state.database.read() as conn:
        return RunStarted(sweep_id=sweeps.get_run(conn, run_id).sweep_id, run_id=run_id)


@router.get("/owner-pages")
def list_pages(state: AppDep) -> PagesResponse:
    """The newest pages."""
    with state.database.read() as conn:
        found, total = owner_pages.list_pages(conn, SHOWN)
    lines = []
    for item in found:
        more, last = state.views.of(item.id)
        since = {
            "views": item.views + more,
            "viewed_at": last or item.viewed_at,
            "address": address_of(state, item.token),
        }
        lines.append(PageLineResponse.model_validate({name: getattr(item, name) for name in item.__slots__} | since))
    return PagesResponse(pages=lines, total=total)


@router.get("/owner-pages/{page_id}/preview", response_class=HTMLResponse)
def preview(state: AppDep, page_id: int) -> HTMLResponse:
    """The page as last made, for the agency's eyes: it counts as no view, and its form is shut."""
    with state.database.read() as conn:
        page = owner_pages.get_page(conn, page_id)
        html = drawn(conn, state.settings, page, page.draft)
    # the PDF stands beside it: who looks at the one may ask for the other
    return HTMLResponse(html, headers=HEADERS, background=BackgroundTask(state.press.warm))


@router.get("/owner-pages/{page_id}/phone.webp")
def phone(state: AppDep, page_id: int) -> Response:
    """The site on a phone, as the page as last made shows it."""
    with state.database.read() as conn:
        page = owner_pages.get_page(conn, page_id)
        return picture(picture_of(conn, page, page.draft))


@router.get("/owner-pages/{page_id}/pdf")
async def pdf(state: AppDep, page_id: int) -> Response:
    """The page as last made, as a PDF."""

    def found() -> OwnerPage:
        with state.database.read() as conn:
            return owner_pages.get_page(conn, page_id)

    page = await asyncio.to_thread(found)
    return await pdf_of(state, page, page.draft)


@router.get("/businesses/{business_id}/owner-page")
def page_of(state: AppDep, business_id: int) -> OwnerPageResponse | None:
    """A business's latest page, null before one was made."""
    with state.database.read() as conn:
        businesses.get_business(conn, business_id)
        page = owner_pages.list_latest(conn, business_id)
        return None if page is None else _response(state, conn, page)


@router.put("/owner-pages/{page_id}/sections")
def choose_sections(state: AppDep, page_id: int, asked: SectionsRequest) -> OwnerPageResponse:
    """Choose which parts are shown, also of a page that is shared: the facts stay as they are."""
    jobs.check_sections(asked.sections)
    with state.database.write() as conn:
        owner_pages.get_page(conn, page_id)
        owner_pages.set_sections(conn, page_id, asked.sections)
        return _response(state, conn, owner_pages.get_page(conn, page_id))


@router.post("/owner-pages/{page_id}/share")
def share(state: AppDep, page_id: int, asked: ByRequest) -> OwnerPageResponse:
    """Show the page, as last made, at its address."""
    with state.database.write() as conn:
        jobs.share(conn, page_id, asked.by.strip())
        return _response(state, conn, owner_pages.get_page(conn, page_id))


@router.post("/owner-pages/{page_id}/withdraw")
def withdraw(state: AppDep, page_id: int, asked: ByRequest) -> OwnerPageResponse:
    """Close the page's address for good."""
    with state.database.write() as conn:
        jobs.withdraw(conn, page_id, asked.by.strip())
        return _response(state, conn, owner_pages.get_page(conn, page_id))


def _replies(conn: sqlite3.Connection) -> RepliesResponse:
    found, left, total = owner_pages.list_replies(conn, SHOWN)
    return RepliesResponse(replies=found, left=left, total=total)


@router.get("/replies")
def list_replies(state: AppDep) -> RepliesResponse:
    """What owners wrote, what is to be answered first."""
    with state.database.read() as conn:
        return _replies(conn)


@router.put("/replies/{reply_id}")
def mark_reply(state: AppDep, reply_id: int, asked: ReplyRequest) -> RepliesResponse:
    """Note that a reply was answered, or not."""
    with state.database.write() as conn:
        owner_pages.mark_reply(conn, reply_id, done=asked.done)
        return _replies(conn)


def _head(conn: sqlite3.Connection, state: AppState) -> LetterheadResponse:
    head = jobs.letterhead(conn, state.settings)
    result = {name: getattr(head, name) for name in head.__slots__}
    return LetterheadResponse(**result, logo=owner_pages.logo(conn) is not None)


@router.get("/letterhead")
def letterhead(state: AppDep) -> LetterheadResponse:
    """How the agency shows itself to owners."""
    with state.database.read() as conn:
        return _head(conn, state)


@router.put("/letterhead")
def put_letterhead(state: AppDep, asked: LetterheadRequest) -> LetterheadResponse:
    """Change the letterhead; pages that are shared follow, as it is no finding."""
    with state.database.write() as conn:
        owner_pages.put_letterhead(conn, Letterhead(**asked.model_dump()))
        return _head(conn, state)


@router.put("/letterhead/logo")
async def put_logo(state: AppDep, request: Request) -> LetterheadResponse:
    """Keep a picture (its bytes as the body) as the logo."""
    sent = b""
    async for piece in request.stream():
        sent += piece
        if len(sent) > jobs.MOST_LOGO:
            break
    return await asyncio.to_thread(_keep_logo, state, sent)


def _keep_logo(state: AppState, sent: bytes) -> LetterheadResponse:
    body = jobs.logo_of(sent)
    with state.database.write() as conn:
        owner_pages.put_letterhead(conn, jobs.letterhead(conn, state.settings))
        owner_pages.put_logo(conn, body)
        return _head(conn, state)


@router.delete("/letterhead/logo")
def drop_logo(state: AppDep) -> LetterheadResponse:
    """Show no logo."""
    with state.database.write() as conn:
        owner_pages.put_logo(conn, None)
        return _head(conn, state)


@router.get("/letterhead/logo")
def logo(state: AppDep) -> Response:
    """The logo (PNG)."""
    with state.database.read() as conn:
        body = owner_pages.logo(conn)
    if body is None:
        raise NotFound("there is no logo")
    return Response(body, media_type="image/png", headers={"Cache-Control": "no-cache"})
