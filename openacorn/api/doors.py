"""Two doors: the application for this machine, and owners' pages for outside, each behind a port of its own."""

from fastapi import FastAPI
from fastapi.responses import Response
from starlette.types import ASGIApp, Receive, Scope, Send

from openacorn.api import errors
from openacorn.api.guards import Limit
from openacorn.outreach import public, public_calendar, public_origins, public_proposals, public_stop, public_texts
from openacorn.starter import public as public_sites

OWNERS_BODY = 64 * 1024
"""Bytes of the largest form that an owner can send: 3,000 characters, each in nine bytes as forms encode them, and room."""


def owners_app() -> FastAPI:
    """Owners' pages and nothing else: what a proxy may show to the world, under whatever name it asks."""
    app = FastAPI(openapi_url=None, docs_url=None, redoc_url=None)
    errors.install(app)
    app.include_router(public.assets)  # before what takes any word for a page
    app.include_router(public_stop.router)
    app.include_router(public_calendar.router)
    app.include_router(public_texts.router)
    app.include_router(public_sites.router)
    app.include_router(public_proposals.router)
    app.include_router(public_origins.router)
    app.include_router(public.router)
    app.add_api_route("/favicon.ico", _no_icon, include_in_schema=False)
    app.add_middleware(Limit, most=OWNERS_BODY)
    return app


def _no_icon() -> Response:
    """Browsers ask for one whatever a page says; there is none, and that is no fault."""
    return Response(status_code=204, headers={"Cache-Control": "max-age=86400"})


class Doors:
    """Leads a request to one of two applications by the port that it came in at, whatever it says of itself."""

    def __init__(self, desk: ASGIApp, owners: ASGIApp, owners_port: int) -> None:
        self._desk, self._owners, self._owners_port = desk, owners, owners_port

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Lead one request, or the start and the end of the server."""
        outside = scope["type"] == "http" and (scope.get("server") or ("", 0))[1] == self._owners_port
        await (self._owners if outside else self._desk)(scope, receive, send)
