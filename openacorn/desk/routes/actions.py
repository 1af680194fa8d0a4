"""What is done to many businesses at once, and undoing it."""

from fastapi import APIRouter, Query

from openacorn.api.deps import AppDep, chosen_ids
from openacorn.api.threads import DeskRoute
from openacorn.business.store import action_log
from openacorn.clock import utc_now
from openacorn.desk import actions as jobs
from openacorn.desk.schemas.actions import ActionRequest, ActionResponse

router = APIRouter(route_class=DeskRoute, tags=["desk"])


@router.post("/actions", status_code=201)
def do(state: AppDep, asked: ActionRequest) -> ActionResponse:
    """Reject, keep, tag, untag, shortlist or give a relationship; the answer's id undoes it."""
    ids = chosen_ids(state, asked.ids, asked.filter)
    with state.database.write() as conn:
        number = jobs.apply_action(conn, asked.kind, ids, asked.word, utc_now(), state.settings)
        return ActionResponse.model_validate(action_log.get_action(conn, number))


@router.get("/actions")
def list_actions(state: AppDep, limit: int = Query(default=20, ge=1, le=500)) -> list[ActionResponse]:
    """The latest actions, the last first."""
    with state.database.read() as conn:
        return [ActionResponse.model_validate(action_id) for action_id in action_log.list_actions(conn, limit)]


@router.post("/actions/{number}/undo")
def undo(state: AppDep, number: int) -> ActionResponse:
    """Take an action back."""
    with state.database.write() as conn:
        jobs.undo_action(conn, number, utc_now(), state.settings)
        return ActionResponse.model_validate(action_log.get_action(conn, number))
