"""The demo: how to leave it."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.errors import NotFound

router = APIRouter(route_class=DeskRoute, tags=["demo"])


@router.post("/demo/leave", status_code=202)
def leave_demo(state: AppDep) -> None:
    """End the demo and open the user's own data, empty at first, at the same address; the demo's data stay as they are."""
    if state.leaving is None:
        raise NotFound("this is not the demo")
    state.leaving.leave()
