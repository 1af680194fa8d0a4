"""What is done to many businesses at once, and undoing it."""

from fastapi import APIRouter, Query

from openacorn.api.deps import Desk, chosen_ids
from openacorn.api.models.deeds import DeedAsked, DeedTold
from openacorn.api.threads import DeskRoute
from openacorn.jobs import desk as jobs
from openacorn.net.probes.site import now
from openacorn.store import deeds

router = APIRouter(route_class=DeskRoute, tags=["desk"])


@router.post("/deeds", status_code=201)
def do(desk: Desk, asked: DeedAsked) -> DeedTold:
    """Reject, keep, tag, untag, shortlist or give a standing; the answer's id undoes it."""
    ids = chosen_ids(desk, asked.ids, asked.filter)
    with desk.database.write() as conn:
        number = jobs.do(conn, asked.kind, ids, asked.word, now(), desk.settings)
        return DeedTold.model_validate(deeds.get_deed(conn, number))


@router.get("/deeds")
def list_deeds(desk: Desk, limit: int = Query(default=20, ge=1, le=500)) -> list[DeedTold]:
    """The latest deeds, the last first."""
    with desk.database.read() as conn:
        return [DeedTold.model_validate(deed) for deed in deeds.latest(conn, limit)]


@router.post("/deeds/{number}/undo")
def undo(desk: Desk, number: int) -> DeedTold:
    """Take a deed back."""
    with desk.database.write() as conn:
        jobs.undo(conn, number, now(), desk.settings)
        return DeedTold.model_validate(deeds.get_deed(conn, number))
