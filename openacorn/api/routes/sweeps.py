"""Sweeps: estimate, save, start."""

import asyncio
from dataclasses import asdict

from fastapi import APIRouter

from openacorn.api.deps import Desk
from openacorn.api.models.sweeps import (
    AreaTold,
    EstimateTold,
    PlanAsked,
    PlanTold,
    RunStarted,
    SampleTold,
    SweepAsked,
    SweepTold,
)
from openacorn.api.threads import DeskRoute
from openacorn.core.facts import checked_groups, sources_of
from openacorn.core.relevance import rules_of
from openacorn.core.trades.catalogue import Catalogue
from openacorn.jobs.estimating import estimate, held_points
from openacorn.jobs.sampling import sample
from openacorn.net.probes.site import now
from openacorn.sources._source import UnknownSource, source_of
from openacorn.store import sweeps as store
from openacorn.store.sweeps import Plan, plan_to_json

router = APIRouter(route_class=DeskRoute, tags=["sweeps"])


def checked_plan(asked: PlanAsked, trades: Catalogue) -> Plan:
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


def told_plan(plan: Plan) -> PlanTold:
    """A plan as it is answered."""
    bounds = plan.territory.bounds if plan.areas else None
    return PlanTold(
        trades=list(plan.trades), areas=[AreaTold(**area) for area in plan.areas], sources=list(plan.sources), wanted=plan.wanted,
        place=plan.place, rules=asdict(plan.rules), most_requests=plan.most_requests,
        most_cost=plan.most_cost, language=plan.language, facts=list(plan.facts),
        bounds=[bounds.south, bounds.west, bounds.north, bounds.east] if bounds else None,
    )  # fmt: skip


@router.get("/sweeps")
def list_sweeps(desk: Desk) -> list[SweepTold]:
    """Saved sweeps, newest first."""
    with desk.database.read() as conn:
        found = store.list_sweeps(conn)
    return [
        SweepTold(
            id=item.id, name=item.name, plan=told_plan(store.plan_from_json(item.plan)),
            created_at=item.created_at, last_run=item.last_run,
        )
        for item in found
    ]  # fmt: skip


@router.post("/sweeps/estimate")
def estimate_sweep(desk: Desk, asked: PlanAsked) -> EstimateTold:
    """What a plan would take, before anything is asked of anybody."""
    plan = checked_plan(asked, desk.trades())
    with desk.snapshot.current() as grid:
        held = held_points(grid)
    with desk.database.read() as conn:
        return EstimateTold.model_validate(estimate(conn, plan, desk.settings, held))


@router.post("/sweeps/sample")
async def sample_sweep(desk: Desk, asked: PlanAsked) -> list[SampleTold]:
    """Some names that a plan would bring, by one question a source; nothing is kept."""
    plan = checked_plan(asked, await asyncio.to_thread(desk.trades))
    return [SampleTold.model_validate(item) for item in await sample(desk.database, desk.settings, plan)]


@router.post("/sweeps", status_code=201)
def start_sweep(desk: Desk, asked: SweepAsked) -> RunStarted:
    """Save a plan and begin its first run."""
    plan = checked_plan(asked.plan, desk.trades())
    with desk.database.write() as conn:
        sweep_id = store.add_sweep(conn, asked.name.strip(), plan_to_json(plan), now())
    return RunStarted(sweep_id=sweep_id, run_id=desk.runs.start(sweep_id))


@router.post("/sweeps/{sweep_id}/runs", status_code=201)
def run_again(desk: Desk, sweep_id: int) -> RunStarted:
    """Begin another run of a saved sweep."""
    return RunStarted(sweep_id=sweep_id, run_id=desk.runs.start(sweep_id))
