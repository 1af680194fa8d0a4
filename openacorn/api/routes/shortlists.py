"""Shortlists: make one, put businesses on it, take them off."""

from fastapi import APIRouter

from openacorn.api.deps import Desk, chosen_ids
from openacorn.api.models.shortlists import MembersAdded, MembersAsked, ShortlistAsked, ShortlistTold
from openacorn.api.threads import DeskRoute
from openacorn.jobs import desk as jobs
from openacorn.net.probes.site import now
from openacorn.store import shortlists as store

router = APIRouter(route_class=DeskRoute, tags=["shortlists"])


@router.get("/shortlists")
def list_shortlists(desk: Desk) -> list[ShortlistTold]:
    """All shortlists, newest first."""
    with desk.database.read() as conn:
        return [ShortlistTold.model_validate(item) for item in store.list_shortlists(conn)]


@router.post("/shortlists", status_code=201)
def add_shortlist(desk: Desk, asked: ShortlistAsked) -> ShortlistTold:
    """Make a shortlist."""
    at = now()
    with desk.database.write() as conn:
        shortlist_id = store.add_shortlist(conn, asked.name.strip(), at)
    return ShortlistTold(id=shortlist_id, name=asked.name.strip(), created_at=at, members=0)


@router.patch("/shortlists/{shortlist_id}", status_code=204)
def rename_shortlist(desk: Desk, shortlist_id: int, asked: ShortlistAsked) -> None:
    """Give a list another name."""
    with desk.database.write() as conn:
        store.rename_shortlist(conn, shortlist_id, asked.name.strip())


@router.delete("/shortlists/{shortlist_id}", status_code=204)
def drop_shortlist(desk: Desk, shortlist_id: int) -> None:
    """Forget a list; what was done about its businesses stays."""
    with desk.database.write() as conn:
        store.drop_shortlist(conn, shortlist_id)


@router.post("/shortlists/{shortlist_id}/members")
def add_members(desk: Desk, shortlist_id: int, asked: MembersAsked) -> MembersAdded:
    """Put businesses on a shortlist; those that are on it already stay as they are."""
    wanted = chosen_ids(desk, asked.ids, asked.filter)
    with desk.database.write() as conn:
        store.must_exist(conn, shortlist_id)
        deed, added = jobs.shortlist(conn, shortlist_id, wanted, now())
    return MembersAdded(added=added, asked=len(wanted), deed=deed)


@router.post("/shortlists/{shortlist_id}/members/remove")
def drop_members(desk: Desk, shortlist_id: int, asked: MembersAsked) -> MembersAdded:
    """Take businesses off a shortlist."""
    wanted = chosen_ids(desk, asked.ids, asked.filter)
    with desk.database.write() as conn:
        store.drop_members(conn, shortlist_id, wanted)
    return MembersAdded(added=0, asked=len(wanted), deed=None)
