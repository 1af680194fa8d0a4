"""Schedules of sweeps, and notices."""

from dataclasses import asdict
from datetime import UTC, datetime

from fastapi import APIRouter

from openacorn.api.deps import Desk
from openacorn.api.models.schedules import NoticeTold, ScheduleAsked, ScheduleTold
from openacorn.api.threads import DeskRoute
from openacorn.jobs.scheduling import ScheduleError, next_times
from openacorn.store import schedules as store
from openacorn.store import sweeps
from openacorn.store.schedules import Schedule

router = APIRouter(route_class=DeskRoute, tags=["schedules"])
TIMES_SHOWN = 3


def _told(item: Schedule) -> ScheduleTold:
    kept = asdict(item)
    del kept["done_to"]
    return ScheduleTold(**kept, next=next_times(item, TIMES_SHOWN))


@router.get("/schedules")
def list_schedules(desk: Desk) -> list[ScheduleTold]:
    """Sweeps that run by themselves, with their next times."""
    with desk.database.read() as conn:
        return [_told(item) for item in store.list_schedules(conn)]


@router.put("/sweeps/{sweep_id}/schedule")
def set_schedule(desk: Desk, sweep_id: int, asked: ScheduleAsked) -> ScheduleTold:
    """Have a sweep run by itself."""
    item = Schedule(sweep_id, asked.every, asked.at, asked.webhook, asked.email, done_to=datetime.now(UTC).isoformat())
    told = _told(item)
    if not told.next:
        raise ScheduleError(f"{asked.at} is over; choose a time to come")
    with desk.database.write() as conn:
        sweeps.get_plan(conn, sweep_id)
        store.put_schedule(conn, item)
    desk.scheduling.put(item)
    return told


@router.delete("/sweeps/{sweep_id}/schedule", status_code=204)
def drop_schedule(desk: Desk, sweep_id: int) -> None:
    """Have a sweep run only when told to."""
    with desk.database.write() as conn:
        store.drop_schedule(conn, sweep_id)
    desk.scheduling.drop(sweep_id)


@router.get("/notices")
def list_notices(desk: Desk) -> list[NoticeTold]:
    """What happened while nobody looked, newest first."""
    with desk.database.read() as conn:
        return [NoticeTold.model_validate(item) for item in store.unseen_notices(conn)]


@router.post("/notices/seen", status_code=204)
def put_away(desk: Desk) -> None:
    """Put all notices away."""
    with desk.database.write() as conn:
        store.put_away(conn)
