"""Angles: saved filters with live counts, the service they sell and how to begin."""

import numpy as np
from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import angles, services
from openacorn.clock import now, utc_now
from openacorn.core.audit.check import check_ids
from openacorn.core.desk.angle import Angle, shipped_angles
from openacorn.core.desk.filters import parse_filter
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.core.score.service import Service
from openacorn.desk.schemas.angles import AngleRequest, AngleResponse
from openacorn.errors import NotFound

router = APIRouter(route_class=DeskRoute, tags=["angles"])


def _response(grid: ScoredGrid, offered: dict[str, Service], angle: Angle) -> AngleResponse:
    mask = grid.select(parse_filter(angle.filter, check_ids()), now().timestamp())
    worth = 0.0
    if angle.service in offered:
        worth = float(np.nansum(grid.scores(offered[angle.service]).value[mask]))
    return AngleResponse(
        id=angle.id, name=angle.name, service=angle.service, line=angle.line, filter=dict(angle.filter),
        own=angle.id.startswith("own:"), count=int(mask.sum()), worth=round(worth, 2),
    )  # fmt: skip


@router.get("/angles")
def list_angles(state: AppDep) -> list[AngleResponse]:
    """Every angle, those with most value behind them first."""
    with state.database.read() as conn:
        own, offered = angles.own_angles(conn), {service.id: service for service in services.list_services(conn)}
    with state.snapshot.current() as grid:
        listed = [_response(grid, offered, angle) for angle in (*shipped_angles(), *own)]
    return sorted(listed, key=lambda angle: (-angle.worth, -angle.count, angle.name))


@router.post("/angles", status_code=201)
def add_angle(state: AppDep, asked: AngleRequest) -> AngleResponse:
    """Keep a filter as an angle."""
    parse_filter(asked.filter, check_ids())
    angle = Angle("", asked.name.strip(), asked.service, asked.line.strip(), asked.filter)
    with state.database.write() as conn:
        offered = {service.id: service for service in services.list_services(conn)}
        if asked.service and asked.service not in offered:
            raise NotFound(f"there is no service {asked.service!r}")
        number = angles.add_angle(conn, angle, utc_now())
    with state.snapshot.current() as grid:
        return _response(grid, offered, Angle(f"own:{number}", angle.name, angle.service, angle.line, angle.filter))


@router.delete("/angles/own/{number}", status_code=204)
def drop_angle(state: AppDep, number: int) -> None:
    """Forget one of the agency's own angles."""
    with state.database.write() as conn:
        angles.drop_angle(conn, number)
