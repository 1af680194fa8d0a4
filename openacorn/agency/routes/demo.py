"""The demo: how to leave it."""

from fastapi import APIRouter, Query

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.errors import NotFound
from openacorn.outreach.coast_clock import keep_clock
from openacorn.outreach.passing_time import let_pass

router = APIRouter(route_class=DeskRoute, tags=["demo"])


@router.post("/demo/hours")
async def pass_hours(state: AppDep, hours: float = Query(gt=0, le=24 * 14)) -> int:
    """Let hours pass at the coast: what is due is done at its own moment. The answer is how many messages arrived."""
    if state.settings.world is None:
        raise NotFound("this is not the demo")
    taken = await let_pass(state.database, state.settings, state.sending, state.receiving, state.texting, hours)
    if state.leaving is not None:
        keep_clock(state.folder)
    return taken


@router.post("/demo/leave", status_code=202)
def leave_demo(state: AppDep) -> None:
    """End the demo and open the user's own data, empty at first, at the same address; the demo's data stay as they are."""
    if state.leaving is None:
        raise NotFound("this is not the demo")
    state.leaving.leave()
