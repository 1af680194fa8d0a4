"""Audits: begin again, judge again from the store, what changed."""

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep, chosen_ids
from openacorn.api.threads import DeskRoute
from openacorn.audit.reaudit import evaluate_again, older_than
from openacorn.audit.schemas.audits import AuditsRequest, HistoryResponse, JudgedResponse, MadeResponse
from openacorn.business.store import businesses, history, pictures
from openacorn.errors import NotFound
from openacorn.gather.schemas.sweeps import RunStarted
from openacorn.runs.store import sweeps

router = APIRouter(route_class=DeskRoute, tags=["audits"])
EVENTS_SHOWN = 200


@router.post("/audits", status_code=201)
def audit_again(state: AppDep, asked: AuditsRequest) -> RunStarted:
    """Audit businesses again, in a run of its own that can be watched and stopped."""
    everybody = not asked.ids and asked.filter is None
    ids = chosen_ids(state, asked.ids, asked.filter)
    if asked.older_days is not None:
        with state.database.read() as conn:
            old = older_than(conn, asked.older_days)
        chosen = set(ids)
        ids = [business for business in old if everybody or business in chosen]
    run_id = state.runs.audit_again(ids, rendered=asked.rendered, whole=asked.whole, held_back=asked.held_back)
    with state.database.read() as conn:
        return RunStarted(sweep_id=sweeps.get_run(conn, run_id).sweep_id, run_id=run_id)


@router.post("/audits/judge")
def judge(state: AppDep) -> JudgedResponse:
    """Run all checks again on the evidence that is stored: no site is asked."""
    return JudgedResponse(changed=evaluate_again(state.database))


@router.get("/businesses/{business_id}/history")
def history_of(state: AppDep, business_id: int) -> HistoryResponse:
    """Every audit of a business, and what changed from one to the next."""
    with state.database.read() as conn:
        businesses.get_business(conn, business_id)
        return HistoryResponse(
            audits=[MadeResponse(at=at, website=website) for at, website in history.audits_made(conn, business_id)],
            events=history.events(conn, business_id, EVENTS_SHOWN),
        )


@router.get("/businesses/{business_id}/pictures/{kind}")
def picture(state: AppDep, business_id: int, kind: str) -> Response:
    """How the business's site looked on a "phone" or a "desk" (WebP)."""
    with state.database.read() as conn:
        body = pictures.get_picture(conn, business_id, kind)
    if body is None:
        raise NotFound(f"there is no picture {kind!r} of business {business_id}")
    return Response(body, media_type="image/webp", headers={"Cache-Control": "no-cache"})
