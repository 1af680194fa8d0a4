"""Work on shortlists: the board of a list, moves on it, and what was done about a business."""

from fastapi import APIRouter

from openacorn.api.deps import Desk
from openacorn.api.models.work import BoardTold, MemberTold, MoveAsked, MovedTold, StepAsked, StepTold
from openacorn.api.threads import DeskRoute
from openacorn.jobs import contacting
from openacorn.net.probes.site import now
from openacorn.store import businesses, shortlists, work
from openacorn.store.work import STAGES, Move

router = APIRouter(route_class=DeskRoute, tags=["shortlists"])
SHOWN = 1000


@router.get("/shortlists/{shortlist_id}/board")
def board(desk: Desk, shortlist_id: int) -> BoardTold:
    """Who is on a list, by stage, the most valuable first."""
    with desk.database.read() as conn:
        shortlists.must_exist(conn, shortlist_id)
        members, counts = work.members(conn, shortlist_id, SHOWN)
    told = [MemberTold.model_validate(member) for member in members]
    return BoardTold(stages=list(STAGES), counts=counts, members=told, shown=len(told))


@router.post("/shortlists/{shortlist_id}/members/move")
def move(desk: Desk, shortlist_id: int, asked: MoveAsked) -> MovedTold:
    """Change stage, owner or follow-up day of members; each change is noted in the business's history.

    A stage that is reached by contact does what noting that contact does: every list, standing, what is learnt.
    """
    what = Move(asked.stage, None if asked.owner is None else asked.owner.strip(), asked.follow_up)
    with desk.database.write() as conn:
        shortlists.must_exist(conn, shortlist_id)
        changed = contacting.move(conn, shortlist_id, asked.ids, what, asked.by.strip(), now(), desk.settings)
        return MovedTold(changed=changed)


@router.get("/businesses/{business_id}/steps")
def list_steps(desk: Desk, business_id: int) -> list[StepTold]:
    """Everything done about a business on any list, the latest first."""
    with desk.database.read() as conn:
        businesses.get_business(conn, business_id)
        return [StepTold.model_validate(step) for step in work.steps(conn, business_id)]


@router.post("/businesses/{business_id}/steps", status_code=201)
def add_step(desk: Desk, business_id: int, asked: StepAsked) -> list[StepTold]:
    """Note something done about a business."""
    with desk.database.write() as conn:
        businesses.get_business(conn, business_id)
        work.add_step(conn, business_id, asked.by.strip(), asked.text.strip(), now())
        return [StepTold.model_validate(step) for step in work.steps(conn, business_id)]


@router.delete("/businesses/{business_id}/steps/{step_id}", status_code=204)
def drop_note(desk: Desk, business_id: int, step_id: int) -> None:
    """Forget a note; what was done stays."""
    with desk.database.write() as conn:
        work.drop_note(conn, business_id, step_id)
