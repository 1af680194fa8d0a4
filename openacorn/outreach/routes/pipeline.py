"""Work on shortlists: the board of a list, moves on it, and what was done about a business."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, pipeline, shortlists
from openacorn.business.store.pipeline import STAGES, Activity, Move
from openacorn.clock import utc_now
from openacorn.outreach import results
from openacorn.outreach.schemas.pipeline import (
    ActivityRequest,
    BoardResponse,
    MovedResponse,
    MoveRequest,
)

router = APIRouter(route_class=DeskRoute, tags=["shortlists"])
SHOWN = 1000


@router.get("/shortlists/{shortlist_id}/board")
def board(state: AppDep, shortlist_id: int) -> BoardResponse:
    """Who is on a list, by stage, the most valuable first."""
    with state.database.read() as conn:
        shortlists.must_exist(conn, shortlist_id)
        members, counts = pipeline.list_members(conn, shortlist_id, SHOWN)
    return BoardResponse(stages=list(STAGES), counts=counts, members=members, shown=len(members))


@router.post("/shortlists/{shortlist_id}/members/move")
def move(state: AppDep, shortlist_id: int, asked: MoveRequest) -> MovedResponse:
    """Change stage, owner or follow-up day of members; each change is noted in the business's history.

    A stage that is reached by contact does what noting that contact does: every list, relationship, what is learnt.
    """
    what = Move(asked.stage, None if asked.owner is None else asked.owner.strip(), asked.follow_up)
    with state.database.write() as conn:
        shortlists.must_exist(conn, shortlist_id)
        changed = results.move(conn, shortlist_id, asked.ids, what, asked.by.strip(), utc_now(), state.settings)
        return MovedResponse(changed=changed)


@router.get("/businesses/{business_id}/activities")
def list_steps(state: AppDep, business_id: int) -> list[Activity]:
    """Everything done about a business on any list, the latest first."""
    with state.database.read() as conn:
        businesses.get_business(conn, business_id)
        return pipeline.list_activities(conn, business_id)


@router.post("/businesses/{business_id}/activities", status_code=201)
def add_step(state: AppDep, business_id: int, asked: ActivityRequest) -> list[Activity]:
    """Note something done about a business."""
    with state.database.write() as conn:
        businesses.get_business(conn, business_id)
        pipeline.add_activity(conn, business_id, asked.by.strip(), asked.text.strip(), utc_now())
        return pipeline.list_activities(conn, business_id)


@router.delete("/businesses/{business_id}/activities/{step_id}", status_code=204)
def drop_note(state: AppDep, business_id: int, step_id: int) -> None:
    """Forget a note; what was done stays."""
    with state.database.write() as conn:
        pipeline.delete_note(conn, business_id, step_id)
