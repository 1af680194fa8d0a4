"""The built front end: its files, and one page for every address that is none of them."""

from pathlib import Path
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, JSONResponse, Response

from openacorn.api import errors
from openacorn.api.packed import assets
from openacorn.api.who import is_known
from openacorn.core.desk.filters import FACETS

PAGES = Path(__file__).resolve().parents[2] / "web" / "dist"

TABLE = frozenset({"", "businesses"})
"""Addresses that open the table as such."""

ASKED_FIRST = (
    "/api/status",
    "/api/angles",
    "/api/businesses/facets?" + urlencode({"of": ",".join(FACETS)}),
    "/api/checks",
    "/api/services",
    "/api/columns",
    "/api/businesses?" + urlencode({"sort": "-value", "offset": 0, "limit": 100, "more": ""}),
    "/api/trades",
)
"""What the table asks for as soon as its code runs, letter by letter: the browser can ask while that is still on its way."""

LINK = ", ".join(f'<{address}>; rel=preload; as=fetch; crossorigin="anonymous"' for address in ASKED_FIRST)


def pages() -> APIRouter:
    """Routes to the front end; to be added last, as they take every address."""
    router = APIRouter()

    @router.api_route("/api/{path:path}", methods=["GET", "POST", "PUT", "PATCH", "DELETE"], include_in_schema=False)
    def unknown_api(path: str) -> JSONResponse:
        return JSONResponse(errors.body(f"there is no /api/{path}", "address", "see /api/openapi.json"), 404)

    router.include_router(assets(PAGES / "assets"))

    # the files are known beforehand: no address, however odd, is ever looked up on the disk
    files = {str(file.relative_to(PAGES)): file for file in PAGES.glob("*") if file.is_file()}

    @router.get("/{path:path}", include_in_schema=False)
    async def page(path: str, request: Request) -> Response:
        if path in files:
            return FileResponse(files[path])
        if "index.html" not in files:
            return Response(
                "The pages are not built: start with ./acorn demo or ./acorn serve.", 503, media_type="text/plain"
            )
        headers = {"Cache-Control": "no-cache"}
        if path in TABLE and not request.url.query and await is_known(request):
            headers["Link"] = LINK
        return FileResponse(files["index.html"], headers=headers)

    return router
