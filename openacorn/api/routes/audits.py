"""Audits: begin again, judge anew from the store, what changed."""

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import Desk, chosen_ids
from openacorn.api.models.audits import AuditsAsked, EventTold, HistoryTold, JudgedTold, MadeTold
from openacorn.api.models.sweeps import RunStarted
from openacorn.api.threads import DeskRoute
from openacorn.jobs.auditing import judge_again, older_than
from openacorn.store import audits, businesses, history, sweeps
from openacorn.store.sweeps import NotFound

router = APIRouter(route_class=DeskRoute, tags=["audits"])
EVENTS_SHOWN = 200


@router.post("/audits", status_code=201)
def audit_again(desk: Desk, asked: AuditsAsked) -> RunStarted:
    """Audit businesses anew, in a run of its own that can be watched and stopped."""
    everybody = not asked.ids and asked.filter is None
    ids = chosen_ids(desk, asked.ids, asked.filter)
    if asked.older_days is not None:
        with desk.database.read() as conn:
            old = older_than(conn, asked.older_days)
        chosen = set(ids)
        ids = [business for business in old if everybody or business in chosen]
    run_id = desk.runs.audit_again(ids, rendered=asked.rendered, whole=asked.whole, held_back=asked.held_back)
    with desk.database.read() as conn:
        return RunStarted(sweep_id=sweeps.get_run(conn, run_id).sweep_id, run_id=run_id)


@router.post("/audits/judge")
def judge(desk: Desk) -> JudgedTold:
    """Run all checks anew on the evidence that is stored: no site is asked."""
    return JudgedTold(changed=judge_again(desk.database))


@router.get("/businesses/{business_id}/history")
def history_of(desk: Desk, business_id: int) -> HistoryTold:
    """Every audit of a business, and what changed from one to the next."""
    with desk.database.read() as conn:
        businesses.get_business(conn, business_id)
        return HistoryTold(
            audits=[MadeTold(at=at, website=website) for at, website in history.audits_made(conn, business_id)],
            events=[EventTold.model_validate(event) for event in history.events(conn, business_id, EVENTS_SHOWN)],
        )


@router.get("/businesses/{business_id}/pictures/{kind}")
def picture(desk: Desk, business_id: int, kind: str) -> Response:
    """How the business's site looked on a "phone" or a "desk" (WebP)."""
    with desk.database.read() as conn:
        body = audits.picture(conn, business_id, kind)
    if body is None:
        raise NotFound(f"there is no picture {kind!r} of business {business_id}")
    return Response(body, media_type="image/webp", headers={"Cache-Control": "no-cache"})
