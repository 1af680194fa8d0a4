"""The application: routes, errors, guards, and the built pages."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import Depends, FastAPI

from openacorn import __version__
from openacorn.agency.leaving import Leaving
from openacorn.api import errors
from openacorn.api.app_state import open_app_state
from openacorn.api.conditions import IfMatch, Once, Rate
from openacorn.api.document import ABOUT, complete, operation_id
from openacorn.api.doors import Doors, owners_app
from openacorn.api.guards import HEADERS, Limit, Refuse, Tell
from openacorn.api.metrics import Measure, Metrics
from openacorn.api.packed import LEAST_BYTES, PackAnswers
from openacorn.api.pages import pages
from openacorn.api.permissions import permissions_needed
from openacorn.api.routers import operations, routers
from openacorn.api.who import Identify, changed_by, check_permission
from openacorn.bulk.routes import bulk
from openacorn.core.audit.check import all_checks
from openacorn.core.desk.angle import shipped_angles
from openacorn.core.export.format import all_formats
from openacorn.core.score.service import all_services
from openacorn.gather.routes import imports
from openacorn.gather.sources._source import all_sources
from openacorn.outreach import public
from openacorn.outreach.template_library import shipped_templates
from openacorn.settings import Settings

BODY = 16 * 1024 * 1024
"""Bytes of the largest request, files apart: a region of 100,000 corners, a pasted list of 20,000 businesses."""

LARGER = {
    "/api/imports/pasted": BODY,
    "/api/imports": imports.LARGEST_FILE + 1,
    "/api/everything": bulk.LARGEST_FILE + 1,
}


def _scan_plugins() -> None:
    """Find every plug-in now, so that a half-written file stops the start by its name."""
    all_checks()
    all_sources()
    all_services()
    all_formats()
    shipped_angles()
    shipped_templates()


def create_application(
    folder: Path, settings: Settings, ports: tuple[int, int], leaving: Leaving | None = None
) -> Doors:
    """Return all that listens: the application over the data in `folder`, and owners' pages behind the second port."""
    outside = owners_app()
    return Doors(create_app(folder, settings, ports, outside, leaving), outside, ports[1])


def create_app(
    folder: Path,
    settings: Settings,
    ports: tuple[int, int] = (0, 0),
    outside: FastAPI | None = None,
    leaving: Leaving | None = None,
) -> FastAPI:
    """Return the application for this machine. outside: shares what it holds; ports: where the two are to be found;
    leaving: the way out of the demo."""
    _scan_plugins()
    metrics = Metrics()

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        async with open_app_state(folder, settings, ports, metrics, leaving) as state:
            for part in filter(None, (app, outside)):
                part.state.app_state = state
            yield

    app = FastAPI(
        title="Open Acorn",
        version=__version__,
        description=ABOUT.strip(),
        generate_unique_id_function=operation_id,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=lifespan,
    )
    errors.install(app)
    # the last one added is the first that a request meets
    app.add_middleware(Limit, most=BODY, larger=LARGER)
    app.add_middleware(IfMatch, changed_by=changed_by)
    app.add_middleware(Once)
    app.add_middleware(Rate)
    app.add_middleware(Identify)
    app.add_middleware(Refuse, settings=settings)
    app.add_middleware(Measure, metrics=metrics)
    app.add_middleware(PackAnswers, minimum_size=LEAST_BYTES, compresslevel=5)
    app.add_middleware(Tell, headers=HEADERS, settings=settings)
    parts = routers()
    for part in parts:
        app.include_router(part, prefix="/api", dependencies=[Depends(check_permission)])
    app.state.permissions = permissions_needed(operations(parts))
    app.openapi = complete(app)  # type: ignore[method-assign]
    app.include_router(public.assets)
    app.include_router(pages())
    return app
