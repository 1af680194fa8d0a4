"""What owners see of their new website: its files at an address that nobody can guess."""

import sqlite3

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import OwnersRoute
from openacorn.clock import utc_now
from openacorn.core.starter.draft import SiteDraft
from openacorn.outreach import public
from openacorn.outreach.public import PROGRAMS, no_such_page, withdrawn
from openacorn.starter.pictures import file_at
from openacorn.starter.sites import site_files, site_pictures_of
from openacorn.starter.store import starter_sites
from openacorn.starter.store.starter_sites import StarterSite

router = APIRouter(route_class=OwnersRoute, prefix="/o/site", include_in_schema=False)
HEADERS = public.HEADERS | {
    "Content-Security-Policy": "default-src 'none'; style-src 'self'; img-src 'self' data:; form-action mailto: 'self'; "
    "base-uri 'none'; frame-ancestors 'self'"
}
MEDIA = {
    "html": "text/html; charset=utf-8", "css": "text/css; charset=utf-8", "svg": "image/svg+xml", "png": "image/png",
    "txt": "text/plain; charset=utf-8", "xml": "application/xml", "webp": "image/webp", "avif": "image/avif",
}  # fmt: skip


def site_response(conn: sqlite3.Connection, site: StarterSite, draft: SiteDraft, path: str) -> Response:
    """A file of a website as its owner sees it."""
    body = file_at(conn, site.business_id, path)
    if body is None:
        shown = site_pictures_of(conn, site.business_id, draft, final=False)
        body = site_files(draft, site.hue, shown, asks=True).get(path or "index.html")
    if body is None:
        return Response(status_code=404, headers=HEADERS)
    return Response(body, media_type=MEDIA[(path or "index.html").rpartition(".")[2]], headers=HEADERS)


@router.get("/{token}")
def without_slash(token: str) -> Response:
    """Links within a site are relative to its folder."""
    return RedirectResponse(f"/o/site/{token}/", 308)


@router.get("/{token}/{path:path}")
def show(state: AppDep, request: Request, token: str, path: str = "") -> Response:
    """A file of a website that was shared."""
    with state.database.read() as conn:
        site = starter_sites.get_by_token(conn, token)
        if site is None or site.shared is None:
            return no_such_page(state)
        if site.withdrawn_at:
            return withdrawn(state, site.shared.facts.language)
        answer = site_response(conn, site, site.shared, path)
    if path in {"", "index.html"} and not PROGRAMS.search(request.headers.get("user-agent", "bot")):
        state.site_views.count(site.id, utc_now())
    return answer
