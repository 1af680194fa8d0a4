"""The routers of all rooms: one file a noun in a room's `routes` folder, each with its `router`, found by scan."""

from collections.abc import Iterable

from fastapi import APIRouter
from fastapi.routing import APIRoute

from openacorn.agency import routes as agency
from openacorn.audit import routes as audit
from openacorn.bulk import routes as bulk
from openacorn.desk import routes as desk
from openacorn.gather import routes as gather
from openacorn.hooks import routes as hooks
from openacorn.match import routes as match
from openacorn.outreach import routes as outreach
from openacorn.pipeline import routes as pipeline
from openacorn.plugins import scan
from openacorn.privacy import routes as privacy
from openacorn.score import routes as score
from openacorn.starter import routes as starter
from openacorn.team import routes as team

ROOMS = (agency, gather, match, audit, score, desk, outreach, starter, hooks, team, privacy, bulk, pipeline)


def operations(parts: Iterable[APIRouter]) -> list[tuple[str, str]]:
    """(method, path) of all that routers do; paths without /api, with their slots."""
    routes = [route for router in parts for route in router.routes if isinstance(route, APIRoute)]
    return [(method, route.path) for route in routes for method in sorted(route.methods or ())]


def routers() -> list[APIRouter]:
    """Every room's routers. Raises PluginError for a file without one."""
    return [router for room in ROOMS for router in scan(room, "router", APIRouter)]
