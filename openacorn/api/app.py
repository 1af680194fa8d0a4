"""The application: routes, errors, guards, and the built pages."""

import asyncio
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.middleware.base import RequestResponseEndpoint
from starlette.middleware.trustedhost import TrustedHostMiddleware

from openacorn.api import errors
from openacorn.api.deps import Office, check_ids
from openacorn.api.routes import (
    angles,
    audits,
    businesses,
    calls,
    catalogue,
    deeds,
    exports,
    gathering,
    imports,
    insight,
    mailings,
    matching,
    outcomes,
    owner_pages,
    owners,
    reading_plans,
    runs,
    schedules,
    services,
    shortlists,
    standings,
    sweeps,
    territories,
    verifications,
    work,
)
from openacorn.core.angles.angle import shipped_angles
from openacorn.core.audit.check import all_checks
from openacorn.core.export.format import all_formats
from openacorn.core.scoring.service import all_services
from openacorn.jobs.delivering import Deliveries
from openacorn.jobs.exporting import Exporter
from openacorn.jobs.importing import delete_abandoned
from openacorn.jobs.pool import Pool
from openacorn.jobs.replying import Senders
from openacorn.jobs.runs import Runs
from openacorn.jobs.scheduling import Scheduling
from openacorn.jobs.scoring import score_unscored
from openacorn.settings import Settings
from openacorn.sources._source import all_sources
from openacorn.store import own_trades, places, regions
from openacorn.store.db import Database
from openacorn.store.folder import DATABASE
from openacorn.store.snapshot import Snapshot

PAGES = Path(__file__).resolve().parents[2] / "web" / "dist"
LOOPBACK_NAMES = ["127.0.0.1", "localhost", "[::1]"]
"""Until accounts exist only this machine may ask, also by name: another site's page must not reach in by a name of its own."""

PARTS = (
    schedules,
    catalogue,
    sweeps,
    runs,
    gathering,
    territories,
    audits,
    verifications,
    reading_plans,
    imports,
    matching,
    standings,
    exports,
    businesses,
    shortlists,
    work,
    calls,
    mailings,
    owner_pages,
    angles,
    deeds,
    services,
    outcomes,
    insight,
)
"""Routes, those with fixed addresses before those that take anything in their place."""

SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})


def _warm(database: Database, snapshot: Snapshot) -> None:
    """What nobody should wait for: scores that an older version left out, and the table's columns."""
    score_unscored(database)
    snapshot.warm()


def _scan_plugins() -> None:
    """Find every plug-in now, so that a half-written file stops the start by its name."""
    all_checks()
    all_sources()
    all_services()
    all_formats()
    shipped_angles()


def _owners_only(public: str | None) -> Callable[[Request, RequestResponseEndpoint], Awaitable[Response]]:
    """Under the public name nothing can be reached but owners' pages: a proxy that forwards too much opens no more."""

    async def check(request: Request, proceed: RequestResponseEndpoint) -> Response:
        if public and request.url.hostname == public and not request.url.path.startswith("/o/"):
            return JSONResponse(errors.body("there is nothing here", "address", "check the address"), 404)
        return await proceed(request)

    return check


async def _same_origin(request: Request, proceed: RequestResponseEndpoint) -> Response:
    """Refuse writes that another site's page sends through the user's browser."""
    origin = request.headers.get("origin")
    if request.method not in SAFE_METHODS and origin and origin.partition("://")[2] != request.headers.get("host"):
        return JSONResponse(
            errors.body("this came from another site's page", "origin", "use the application's own pages"), 403
        )
    return await proceed(request)


def create_app(folder: Path, settings: Settings) -> FastAPI:
    """Return the application over the data in `folder`."""
    _scan_plugins()

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        database, pool = Database(folder / DATABASE), Pool(settings)
        runs = Runs(database, settings, pool)
        scheduling = Scheduling(database, settings, runs.start)
        runs.ended = scheduling.tell
        snapshot = Snapshot(database, check_ids)
        exporter = Exporter(database, snapshot, settings, check_ids)
        deliveries = Deliveries(database, exporter)
        scheduling.deliver, scheduling.deliver_waiting = deliveries.deliver_all, deliveries.deliver_waiting
        office = Office(folder, settings, database, runs, snapshot, scheduling, exporter, deliveries, Senders())
        app.state.office = office
        with database.write() as conn:
            places.fill_if_empty(conn)
            regions.fill_if_empty(conn)
            own_trades.adopt_trades(conn)
        delete_abandoned(database)
        office.runs.recover()
        scheduling.begin()
        warming = asyncio.create_task(asyncio.to_thread(_warm, database, snapshot))
        yield
        await warming
        scheduling.end()
        await office.runs.close()
        await pool.close()
        database.close()

    app = FastAPI(
        title="Open Acorn",
        version="0.1.0",
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=lifespan,
    )
    errors.install(app)
    app.middleware("http")(_same_origin)
    public = urlsplit(settings.public_address).hostname
    app.middleware("http")(_owners_only(public))
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=[*LOOPBACK_NAMES, *([public] if public else [])])
    for part in PARTS:
        app.include_router(part.router, prefix="/api")
    app.include_router(owners.router)
    _serve_pages(app)
    return app


def _serve_pages(app: FastAPI) -> None:
    """The built front end; every address that is no file is one of its screens."""

    @app.api_route("/api/{path:path}", methods=["GET", "POST", "PUT", "PATCH", "DELETE"], include_in_schema=False)
    def unknown_api(path: str) -> JSONResponse:
        return JSONResponse(errors.body(f"there is no /api/{path}", "address", "see /api/openapi.json"), 404)

    if (PAGES / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=PAGES / "assets"))

    # the files are known beforehand: no address, however odd, is ever looked up on the disk
    files = {str(file.relative_to(PAGES)): file for file in PAGES.glob("*") if file.is_file()}

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path in files:
            return FileResponse(files[path])
        if "index.html" not in files:
            return Response(
                "The pages are not built: start with ./acorn demo or ./acorn serve.", 503, media_type="text/plain"
            )
        return FileResponse(files["index.html"], headers={"Cache-Control": "no-cache"})
