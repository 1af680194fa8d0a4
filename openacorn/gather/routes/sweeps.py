"""Sweeps: estimate, save, start."""

import asyncio

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.gather.facts import checked_groups, sources_of
from openacorn.core.match.relevance import rules_of
from openacorn.core.trades.catalogue import Catalogue
from openacorn.gather.estimate import SweepEstimate, estimate, held_points
from openacorn.gather.sample import Sample, sample
from openacorn.gather.schemas.sweeps import (
    PlanRequest,
    RunStarted,
    SweepRequest,
    SweepResponse,
    SweepSaved,
    plan_response,
)
from openacorn.gather.sources._source import UnknownSource, source_of
from openacorn.runs.store import sweeps as store
from openacorn.runs.store.sweeps import Plan, plan_to_json

router = APIRouter(route_class=DeskRoute, tags=["sweeps"])


def checked_plan(asked: PlanRequest, trades: Catalogue) -> Plan:
    """Return the plan if it can be carried out; raises AreaError, UnknownTrade, UnknownSource or RuleError."""
    # a group of facts brings the source that knows them along
    sources = tuple(dict.fromkeys([*asked.sources, *sources_of(checked_groups(tuple(asked.facts)))]))
    if not sources:
        raise UnknownSource("choose at least one source")
    for source in sources:
        source_of(source)
    plan = Plan(
        trades=tuple(trade.id for trade in trades.checked(asked.trades)),
        areas=tuple(area.model_dump(exclude_none=True) for area in asked.areas),
        sources=sources,
        wanted=asked.wanted,
        place=asked.place,
        rules=rules_of(asked.rules.model_dump()),
        most_requests=asked.most_requests,
        most_cost=asked.most_cost,
        language=asked.language,
        facts=checked_groups(tuple(asked.facts)),
    )
    _ = plan.territory  # raises what is wrong with it
    return plan


@router.get("/sweeps")
def list_sweeps(state: AppDep) -> list[SweepResponse]:
    """Saved sweeps, newest first; work of other kinds that ran, such as pages made for owners, is none."""
    with state.database.read() as conn:
        found = [(item, store.plan_from_json(item.plan)) for item in store.list_sweeps(conn)]
    return [
        SweepResponse(
            id=item.id, name=item.name, plan=plan_response(plan), created_at=item.created_at, last_run=item.last_run
        )
        for item, plan in found
        if plan.sources
    ]


@router.post("/sweeps/estimate")
def estimate_sweep(state: AppDep, asked: PlanRequest) -> SweepEstimate:
    """What a plan would take, before anything is asked of anybody."""
    plan = checked_plan(asked, state.trades())
    with state.snapshot.current() as grid:
        held = held_points(grid)
    with state.database.read() as conn:
        return estimate(conn, plan, state.settings, held)


@router.post("/sweeps/sample")
async def sample_sweep(state: AppDep, asked: PlanRequest) -> list[Sample]:
    """Some names that a plan would bring, by one question a source; nothing is kept."""
    plan = checked_plan(asked, await asyncio.to_thread(state.trades))
    return await sample(state.database, state.settings, plan)


@router.post("/sweeps", status_code=201)
def add_sweep(state: AppDep, asked: SweepRequest) -> SweepSaved:
    """Save a plan, and begin its first run unless it is for later."""
    plan = checked_plan(asked.plan, state.trades())
    with state.database.write() as conn:
        sweep_id = store.add_sweep(conn, asked.name.strip(), plan_to_json(plan), utc_now())
    return SweepSaved(sweep_id=sweep_id, run_id=state.runs.start(sweep_id) if asked.start else None)


@router.put("/sweeps/{sweep_id}")
def edit_sweep(state: AppDep, sweep_id: int, asked: SweepRequest) -> SweepSaved:
    """Change a saved plan, and run it if it is to start at once; earlier runs keep the plan they had."""
    plan = checked_plan(asked.plan, state.trades())
    with state.database.write() as conn:
        store.update_sweep(conn, sweep_id, asked.name.strip(), plan_to_json(plan))
    return SweepSaved(sweep_id=sweep_id, run_id=state.runs.start(sweep_id) if asked.start else None)


@router.post("/sweeps/{sweep_id}/runs", status_code=201)
def run_again(state: AppDep, sweep_id: int) -> RunStarted:
    """Begin another run of a saved sweep."""
    return RunStarted(sweep_id=sweep_id, run_id=state.runs.start(sweep_id))
