"""Services: what the agency sells; changed, tried before saving, saved with versions, restored."""

import re

import numpy as np
import numpy.typing as npt
from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, services
from openacorn.clock import utc_now
from openacorn.core.audit.check import check_ids
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.core.score.columns import ScoreColumns
from openacorn.core.score.opportunity import MIN_NEED_FOR_OFFER
from openacorn.core.score.service import Gate, Rule, Service, ServiceError
from openacorn.errors import NotFound
from openacorn.score.schemas.services import (
    GateModel,
    PreviewResponse,
    RankedResponse,
    RuleModel,
    SavedResponse,
    ServiceRequest,
    ServiceResponse,
    VersionResponse,
)
from openacorn.score.scorer import rescore

router = APIRouter(route_class=DeskRoute, tags=["services"])
Mask = npt.NDArray[np.bool_]
Positions = npt.NDArray[np.int64]
TOP = 25
BINS = 10


def _response(service: Service) -> ServiceResponse:
    return ServiceResponse(
        id=service.id, title=service.title, sentence=service.sentence, fee=service.fee, monthly=service.monthly,
        months=service.months, delivery=service.delivery, margin=service.margin,
        rules=[RuleModel(check=r.check, weight=r.weight, decisive=r.decisive, severity=dict(r.severity)) for r in service.rules],
        gates=[GateModel(check=g.check, passes=sorted(g.passes), otherwise=g.otherwise) for g in service.gates],
    )  # fmt: skip


def _made(service_id: str, asked: ServiceRequest) -> Service:
    """The service that was asked for. Raises ServiceError."""
    named = [rule.check for rule in asked.rules] + [gate.check for gate in asked.gates]
    strange = [check for check in named if check not in check_ids()]
    if strange:
        raise ServiceError(f"there is no check {strange[0]!r}")
    names = [rule.check for rule in asked.rules]
    if len(set(names)) < len(names):
        raise ServiceError("a check can stand in a service only once")
    return Service(
        service_id, asked.title.strip(), asked.sentence.strip(), asked.fee, asked.monthly, asked.months, asked.delivery,
        tuple(Rule(r.check, r.weight, r.decisive, dict(r.severity)) for r in asked.rules),
        tuple(Gate(g.check, frozenset(g.passes), g.otherwise or "it does not apply") for g in asked.gates),
    )  # fmt: skip


@router.get("/services")
def list_services(state: AppDep) -> list[ServiceResponse]:
    """What the agency sells, with fees, gates and rules."""
    with state.database.read() as conn:
        return [_response(service) for service in services.list_services(conn)]


@router.get("/services/removed")
def list_removed(state: AppDep) -> list[VersionResponse]:
    """Services that are offered no more, each in the wording by which it can be restored."""
    with state.database.read() as conn:
        found = [services.list_versions(conn, service.id)[0] for service in services.list_removed(conn)]
    return [VersionResponse(number=v.number, at=v.at, note=v.note, service=_response(v.service)) for v in found]


def _in_force(state: AppState, number: int, service_id: str) -> SavedResponse:
    """Score everybody again under the rules that are now in force."""
    with state.database.read() as conn:
        offered = services.list_services(conn)
    changed = rescore(state.database, state.snapshot, offered)
    chosen = next((service for service in offered if service.id == service_id), None)
    if chosen is None:
        with state.database.read() as conn:
            chosen = services.list_versions(conn, service_id)[0].service
    return SavedResponse(service=_response(chosen), version=number, changed=changed)


@router.post("/services", status_code=201)
def add_service(state: AppDep, asked: ServiceRequest) -> SavedResponse:
    """Make a service of one's own."""
    service_id = re.sub(r"\W+", "_", asked.title.strip().lower()).strip("_")[:40] or "service"
    with state.database.write() as conn:
        taken = {service.id for service in services.list_services(conn)}
        if service_id in taken:
            raise ServiceError(f"there is a service named {asked.title.strip()!r} already; choose another name")
        number = services.save_service(conn, _made(service_id, asked), utc_now(), asked.note or "made")
    return _in_force(state, number, service_id)


@router.put("/services/{service_id}")
def save_service(state: AppDep, service_id: str, asked: ServiceRequest) -> SavedResponse:
    """Put changed rules in force; the wording before is kept."""
    with state.database.write() as conn:
        services.get_service(conn, service_id)
        number = services.save_service(conn, _made(service_id, asked), utc_now(), asked.note or "changed")
    return _in_force(state, number, service_id)


@router.delete("/services/{service_id}")
def remove_service(state: AppDep, service_id: str) -> SavedResponse:
    """Offer a service no more; a version of it can be restored."""
    with state.database.write() as conn:
        number = services.save_service(
            conn, services.get_service(conn, service_id), utc_now(), "taken off", removed=True
        )
    return _in_force(state, number, service_id)


@router.get("/services/{service_id}/versions")
def list_versions(state: AppDep, service_id: str) -> list[VersionResponse]:
    """Every wording of a service, the newest first."""
    with state.database.read() as conn:
        found = services.list_versions(conn, service_id)
    return [VersionResponse(number=v.number, at=v.at, note=v.note, service=_response(v.service)) for v in found]


@router.post("/services/{service_id}/versions/{number}/restore")
def restore(state: AppDep, service_id: str, number: int) -> SavedResponse:
    """Put an earlier wording in force again, as a version of its own."""
    with state.database.write() as conn:
        found = {version.number: version.service for version in services.list_versions(conn, service_id)}
        if number not in found:
            raise NotFound(f"service {service_id!r} has no version {number}")
        note = "as shipped again" if number == 0 else f"version {number} again"
        made = services.save_service(conn, found[number], utc_now(), note)
    return _in_force(state, made, service_id)


def _places(scores: ScoreColumns, live: Mask) -> Positions:
    """Positions of businesses with a score, best first."""
    exact = np.where(live, scores.exact, np.nan)
    order = np.argsort(-np.nan_to_num(exact, nan=-1.0), kind="stable")
    return np.asarray(order[: int(np.count_nonzero(~np.isnan(exact)))], np.int64)


def _bins(scores: ScoreColumns, order: Positions) -> list[int]:
    counted, _ = np.histogram(scores.exact[order], BINS, (0, 100))
    return [int(count) for count in counted]


def _preview(grid: ScoredGrid, changed: Service, before: Service | None) -> tuple[PreviewResponse, list[int]]:
    live = (grid.ids >= 0) & grid.live()
    scores = grid.scores(changed)
    order = _places(scores, live)
    old = grid.scores(before) if before is not None else None
    order_before = _places(old, live) if old is not None else order[:0]
    place_before = np.full(len(grid), -1)
    place_before[order_before] = np.arange(len(order_before))
    top = order[:TOP]

    def whole(columns: ScoreColumns | None, at: int) -> int | None:
        return None if columns is None or np.isnan(columns.exact[at]) else round(float(columns.exact[at]))

    result = [
        RankedResponse(
            id=int(grid.ids[at]), name="", town="", score=whole(scores, at), before=whole(old, at), rank=rank,
            rank_before=int(place_before[at]) + 1 if place_before[at] >= 0 else None,
        )
        for rank, at in enumerate(top, 1)
    ]  # fmt: skip

    def offers(columns: ScoreColumns | None) -> int:
        return (
            0
            if columns is None
            else int(np.count_nonzero(live & ~np.isnan(columns.exact) & (columns.need >= MIN_NEED_FOR_OFFER)))
        )

    return PreviewResponse(
        top=result, bins=_bins(scores, order), bins_before=_bins(old, order_before) if old is not None else [0] * BINS,
        scored=len(order), scored_before=len(order_before), offers=offers(scores), offers_before=offers(old),
    ), [item.id for item in result]  # fmt: skip


@router.post("/services/preview")
def preview_new(state: AppDep, asked: ServiceRequest) -> PreviewResponse:
    """What a service would do that does not exist yet."""
    return _tried(state, _made("new", asked), None)


@router.post("/services/{service_id}/preview")
def preview(state: AppDep, service_id: str, asked: ServiceRequest) -> PreviewResponse:
    """What changed rules would do to the ranking; nothing is saved."""
    with state.database.read() as conn:
        before = services.get_service(conn, service_id)
    return _tried(state, _made(service_id, asked), before)


def _tried(state: AppState, changed: Service, before: Service | None) -> PreviewResponse:
    with state.snapshot.current() as grid:
        result, ids = _preview(grid, changed, before)
    with state.database.read() as conn:
        rows = {row["id"]: row for row in businesses.get_businesses(conn, ids)}
    for item in result.top:
        if item.id in rows:
            item.name, item.town = rows[item.id]["name"], rows[item.id]["town"]
    return result
