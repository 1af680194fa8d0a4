"""New websites for businesses: begin, change, look at, share, take along."""

import asyncio
import re
import sqlite3

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, pictures
from openacorn.core.starter.colours import SETS
from openacorn.core.starter.copy_file import as_docx, as_markdown
from openacorn.core.starter.draft import Paragraph, PlacedPicture, Section
from openacorn.core.starter.themes import Theme, family_of, themes_for
from openacorn.core.writing.fidelity import Statement, check_rewrite, split_sentences
from openacorn.core.writing.helper import Wish, words_asked
from openacorn.net.writing_helper import helper_host, reword
from openacorn.outreach.schemas.owner_pages import ByRequest
from openacorn.outreach.schemas.sending import RewordResponse
from openacorn.starter import sites
from openacorn.starter.public import site_response
from openacorn.starter.schemas.sites import (
    CopyRewordRequest,
    RestoreRequest,
    SectionRequest,
    SiteRequest,
    SiteResponse,
    ThemeResponse,
    WebsiteResponse,
)
from openacorn.starter.store import starter_sites
from openacorn.starter.store.starter_sites import StarterSite

router = APIRouter(route_class=DeskRoute, tags=["new websites"])


def _site(state: AppState, conn: sqlite3.Connection, site: StarterSite) -> SiteResponse:
    draft = site.draft
    more, last = state.site_views.of(site.id)
    return SiteResponse(
        sections=list(draft.sections), pictures=list(draft.pictures), readability=sites.readability(draft), theme=draft.theme,
        colours=draft.colours, language=draft.facts.language, read_pages=draft.read_pages, questions=list(draft.questions),
        made_at=site.made_at, shared_at=site.shared_at, withdrawn_at=site.withdrawn_at,
        newer=site.shared is not None and site.shared != draft, address=state.owners_address(f"/o/site/{site.token}/"),
        public=bool(state.settings.public_address), views=site.views + more, viewed_at=last or site.viewed_at,
        versions=starter_sites.list_versions(conn, site.id), old=draft.facts.website, helper=helper_host(state.settings),
        form_to=draft.form_to, email=draft.facts.email,
        pictured=any(kind == "desk" for kind, _ in pictures.list_pictures(conn, site.business_id)),
    )  # fmt: skip


def _theme(theme: Theme, family: str) -> ThemeResponse:
    return ThemeResponse(id=theme.id, title=theme.title, about=theme.about, fits=family in theme.fits)


def _response(state: AppState, conn: sqlite3.Connection, business_id: int) -> WebsiteResponse:
    row, site = businesses.get_business(conn, business_id), starter_sites.find_site(conn, business_id)
    family = family_of(f"{row['trade']} {site.draft.facts.trade if site else ''}")
    return WebsiteResponse(
        name=row["name"], site=_site(state, conn, site) if site else None, colour_sets=list(SETS),
        themes=[_theme(theme, family) for theme in themes_for(family)],
    )  # fmt: skip


@router.get("/businesses/{business_id}/website")
def show(state: AppDep, business_id: int) -> WebsiteResponse:
    """The website begun for a business, and the themes that it can have."""
    with state.database.read() as conn:
        return _response(state, conn, business_id)


@router.post("/businesses/{business_id}/website", status_code=201)
def begin(state: AppDep, business_id: int, asked: ByRequest) -> WebsiteResponse:
    """Begin a website, or begin it again from what is known now; what there was stays among its versions."""
    with state.database.write() as conn:
        sites.begin(conn, business_id, asked.by.strip(), state.settings)
        return _response(state, conn, business_id)


def _section(asked: SectionRequest) -> Section:
    paragraphs = tuple(
        Paragraph(item.text.strip(), item.origin, item.where, item.title.strip(), item.old)
        for item in asked.paragraphs
        if item.text.strip() or item.title.strip()
    )
    return Section(asked.id, asked.page, asked.kind, asked.title.strip(), paragraphs, asked.rests_on, asked.shown)


@router.put("/businesses/{business_id}/website")
def change(state: AppDep, business_id: int, asked: SiteRequest) -> WebsiteResponse:
    """Save its outline, copy and look as the next version."""
    with state.database.write() as conn:
        shown = [PlacedPicture(item.id, item.alt.strip()) for item in asked.pictures]
        sections = [_section(item) for item in asked.sections]
        sites.change(
            conn, business_id, sections, shown, asked.theme, asked.colours, asked.form_to.strip(), asked.by.strip()
        )
        return _response(state, conn, business_id)


@router.post("/businesses/{business_id}/website/reword")
async def reword_copy(state: AppDep, business_id: int, asked: CopyRewordRequest) -> RewordResponse:
    """Let the writing helper word a paragraph again, and see whether it adds to what the website says; nothing is saved."""

    def read() -> Wish:
        with state.database.read() as conn:
            return sites.wish_for(starter_sites.get_site(conn, business_id).draft, asked.text.strip(), asked.tone)

    wish = await asyncio.to_thread(read)
    _, text = await reword(state.settings, wish)
    before = [Statement(sentence) for sentence in split_sentences(wish.text)]
    found = await asyncio.to_thread(check_rewrite, before, text, list(wish.facts), wish.language)
    return RewordResponse(
        subject="", text=text, holds=found.holds, subject_check=[], sentences=list(found.sentences), lost=list(found.lost),
        asked=words_asked(wish),
    )  # fmt: skip


@router.post("/businesses/{business_id}/website/restore")
def restore(state: AppDep, business_id: int, asked: RestoreRequest) -> WebsiteResponse:
    """Go back to an earlier version."""
    with state.database.write() as conn:
        sites.restore(conn, business_id, asked.number, asked.by.strip())
        return _response(state, conn, business_id)


@router.post("/businesses/{business_id}/website/share")
def share(state: AppDep, business_id: int, asked: ByRequest) -> WebsiteResponse:
    """Show it, as it stands, at its address."""
    with state.database.write() as conn:
        sites.share(conn, business_id, asked.by.strip())
        return _response(state, conn, business_id)


@router.post("/businesses/{business_id}/website/withdraw")
def withdraw(state: AppDep, business_id: int, asked: ByRequest) -> WebsiteResponse:
    """Close its address."""
    with state.database.write() as conn:
        sites.withdraw(conn, business_id, asked.by.strip())
        return _response(state, conn, business_id)


@router.get("/businesses/{business_id}/website/preview/{path:path}", response_class=Response)
def preview(state: AppDep, business_id: int, path: str) -> Response:
    """A file of it as it stands, for the agency's eyes: it counts as no view."""
    with state.database.read() as conn:
        site = starter_sites.get_site(conn, business_id)
        return site_response(conn, site, site.draft, path)


def _download(body: bytes, media_type: str, name: str, suffix: str) -> Response:
    stem = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "website"
    return Response(
        body, media_type=media_type, headers={"Content-Disposition": f'attachment; filename="{stem}.{suffix}"'}
    )


@router.get("/businesses/{business_id}/website.{form}", response_class=Response)
def download(state: AppDep, business_id: int, form: str) -> Response:
    """All of it as a ZIP archive, without what is still to be asked; or its copy alone as Markdown or as a DOCX document."""
    with state.database.read() as conn:
        site = starter_sites.get_site(conn, business_id)
        files = sites.final_files(conn, site) if form == "zip" else {}
    draft, name = site.draft, site.draft.facts.name
    if form == "md":
        return _download(as_markdown(draft).encode(), "text/markdown; charset=utf-8", name, "md")
    if form == "docx":
        word = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
        return _download(as_docx(draft), word, name, "docx")
    if form != "zip":
        raise sites.SiteError(f"there is no form {form!r}; choose zip, md or docx")
    return _download(sites.site_zip(files), "application/zip", name, "zip")
