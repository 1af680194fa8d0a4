"""Schedules of sweeps, and notices."""

from dataclasses import asdict

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.clock import now
from openacorn.pipeline.schemas.schedules import NoticeResponse, ScheduleRequest, ScheduleResponse
from openacorn.runs.scheduling import ScheduleError, next_times
from openacorn.runs.store import schedules as store
from openacorn.runs.store import sweeps
from openacorn.runs.store.schedules import Schedule

router = APIRouter(route_class=DeskRoute, tags=["schedules"])
TIMES_SHOWN = 3


def _response(item: Schedule, zone: str) -> ScheduleResponse:
    kept = asdict(item)
    del kept["done_to"]
    return ScheduleResponse(**kept, next=next_times(item, TIMES_SHOWN, zone))


@router.get("/schedules")
def list_schedules(state: AppDep) -> list[ScheduleResponse]:
    """Sweeps that run by themselves, with their next times."""
    with state.database.read() as conn:
        return [_response(item, state.settings.time_zone) for item in store.list_schedules(conn)]


@router.put("/sweeps/{sweep_id}/schedule")
def set_schedule(state: AppDep, sweep_id: int, asked: ScheduleRequest) -> ScheduleResponse:
    """Run a sweep on a schedule."""
    item = Schedule(sweep_id, asked.every, asked.at, asked.webhook, asked.email, done_to=now().isoformat())
    result = _response(item, state.settings.time_zone)
    if not result.next:
        raise ScheduleError(f"{asked.at} is over; choose a time to come")
    with state.database.write() as conn:
        sweeps.get_plan(conn, sweep_id)
        store.upsert_schedule(conn, item)
    state.scheduling.put(item)
    return result


@router.delete("/sweeps/{sweep_id}/schedule", status_code=204)
def drop_schedule(state: AppDep, sweep_id: int) -> None:
    """Have a sweep run only when started."""
    with state.database.write() as conn:
        store.delete_schedule(conn, sweep_id)
    state.scheduling.drop(sweep_id)


@router.get("/notices")
def list_notices(state: AppDep) -> list[NoticeResponse]:
    """What happened while nobody looked, newest first."""
    with state.database.read() as conn:
        return [NoticeResponse.model_validate(item) for item in store.unseen_notices(conn)]


@router.post("/notices/seen", status_code=204)
def put_away(state: AppDep) -> None:
    """Put all notices away."""
    with state.database.write() as conn:
        store.dismiss_notice(conn)
