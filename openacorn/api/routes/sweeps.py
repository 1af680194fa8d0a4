"""Sweeps: estimate, save, start."""

import json
from dataclasses import asdict

from fastapi import APIRouter

from openacorn.api.deps import Desk
from openacorn.api.models.sweeps import EstimateTold, PlanAsked, PlanTold, RunStarted, SweepAsked, SweepTold
from openacorn.core.geo.geodesy import checked_circle
from openacorn.core.trades.catalogue import checked_trades
from openacorn.jobs.estimating import estimate
from openacorn.jobs.queries import parse_plan
from openacorn.net.probes.site import now
from openacorn.store import sweeps as store
from openacorn.store.sweeps import Plan

router = APIRouter(tags=["sweeps"])


def checked_plan(asked: PlanAsked) -> Plan:
    """Return the plan if it can be carried out; raises AreaError or UnknownTrade."""
    checked_circle(asked.lat, asked.lon, asked.radius_m)
    trades = tuple(trade.id for trade in checked_trades(asked.trades))
    return Plan(trades, asked.lat, asked.lon, asked.radius_m, asked.wanted, asked.place)


@router.get("/sweeps")
def list_sweeps(desk: Desk) -> list[SweepTold]:
    """Saved sweeps, newest first."""
    with desk.database.read() as conn:
        found = store.list_sweeps(conn)
    return [
        SweepTold(
            id=item.id, name=item.name, plan=PlanTold.model_validate(parse_plan(item.plan)),
            created_at=item.created_at, last_run=item.last_run,
        )
        for item in found
    ]  # fmt: skip


@router.post("/sweeps/estimate")
def estimate_sweep(desk: Desk, asked: PlanAsked) -> EstimateTold:
    """What a plan would take, before anything is asked of anybody."""
    plan = checked_plan(asked)
    with desk.database.read() as conn:
        return EstimateTold.model_validate(estimate(conn, plan, desk.settings))


@router.post("/sweeps", status_code=201)
async def start_sweep(desk: Desk, asked: SweepAsked) -> RunStarted:
    """Save a plan and begin its first run."""
    plan = checked_plan(asked.plan)
    with desk.database.write() as conn:
        sweep_id = store.add_sweep(conn, asked.name.strip(), json.dumps(asdict(plan)), now())
    return RunStarted(sweep_id=sweep_id, run_id=desk.runs.start(sweep_id))


@router.post("/sweeps/{sweep_id}/runs", status_code=201)
async def run_again(desk: Desk, sweep_id: int) -> RunStarted:
    """Begin another run of a saved sweep."""
    return RunStarted(sweep_id=sweep_id, run_id=desk.runs.start(sweep_id))
