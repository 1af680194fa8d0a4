"""What is done to many businesses at once, undoing it, and notes."""

from fastapi import APIRouter, Query

from openacorn.api.deps import Desk, chosen_ids
from openacorn.api.models.deeds import DeedAsked, DeedTold, MemoAsked, MemoTold
from openacorn.jobs import desk as jobs
from openacorn.net.probes.site import now
from openacorn.store import deeds

router = APIRouter(tags=["desk"])


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


@router.get("/businesses/{business_id}/memos")
def list_memos(desk: Desk, business_id: int) -> list[MemoTold]:
    """Notes on a business, the latest first."""
    with desk.database.read() as conn:
        return [MemoTold.model_validate(memo) for memo in deeds.memos(conn, business_id)]


@router.post("/businesses/{business_id}/memos", status_code=201)
def add_memo(desk: Desk, business_id: int, asked: MemoAsked) -> MemoTold:
    """Keep a note."""
    at = now()
    with desk.database.write() as conn:
        return MemoTold(id=deeds.add_memo(conn, business_id, at, asked.text.strip()), at=at, text=asked.text.strip())


@router.delete("/businesses/{business_id}/memos/{memo_id}", status_code=204)
def drop_memo(desk: Desk, business_id: int, memo_id: int) -> None:
    """Forget a note."""
    with desk.database.write() as conn:
        deeds.drop_memo(conn, business_id, memo_id)
