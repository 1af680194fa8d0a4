"""Who else has a business open."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.api.who import IdentityDep
from openacorn.team.schemas.team import PresenceRequest

router = APIRouter(route_class=DeskRoute, tags=["team"])


@router.post("/businesses/{business_id}/presence")
async def note_presence(state: AppDep, who: IdentityDep, business_id: int, asked: PresenceRequest) -> list[str]:
    """Say every 15 seconds that you have a business open, or that you close it; the answer is who else has it open."""
    return state.presence.note(business_id, who.name, leaves=asked.leaves)
