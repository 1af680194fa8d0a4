"""Shortlists: make one, put businesses on it, take them off."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep, chosen_ids
from openacorn.api.threads import DeskRoute
from openacorn.business.store import shortlists as store
from openacorn.business.store.shortlists import Shortlist
from openacorn.clock import utc_now
from openacorn.desk import actions as jobs
from openacorn.outreach.schemas.shortlists import MembersAdded, MembersRequest, ShortlistChange, ShortlistRequest

router = APIRouter(route_class=DeskRoute, tags=["shortlists"])


@router.get("/shortlists")
def list_shortlists(state: AppDep) -> list[Shortlist]:
    """All shortlists, newest first."""
    with state.database.read() as conn:
        return store.list_shortlists(conn)


@router.post("/shortlists", status_code=201)
def add_shortlist(state: AppDep, asked: ShortlistRequest) -> Shortlist:
    """Make a shortlist."""
    at = utc_now()
    with state.database.write() as conn:
        shortlist_id = store.add_shortlist(conn, asked.name.strip(), at)
    return Shortlist(id=shortlist_id, name=asked.name.strip(), created_at=at, members=0)


@router.patch("/shortlists/{shortlist_id}", status_code=204)
def change_shortlist(state: AppDep, shortlist_id: int, asked: ShortlistChange) -> None:
    """Give a list another name or language."""
    with state.database.write() as conn:
        store.must_exist(conn, shortlist_id)
        if asked.name is not None:
            store.rename_shortlist(conn, shortlist_id, asked.name.strip())
        if asked.language is not None:
            store.set_language(conn, shortlist_id, asked.language)


@router.delete("/shortlists/{shortlist_id}", status_code=204)
def drop_shortlist(state: AppDep, shortlist_id: int) -> None:
    """Forget a list; what was done about its businesses stays."""
    with state.database.write() as conn:
        store.drop_shortlist(conn, shortlist_id)


@router.post("/shortlists/{shortlist_id}/members")
def add_members(state: AppDep, shortlist_id: int, asked: MembersRequest) -> MembersAdded:
    """Put businesses on a shortlist; those that are on it already stay as they are."""
    wanted = chosen_ids(state, asked.ids, asked.filter)
    with state.database.write() as conn:
        store.must_exist(conn, shortlist_id)
        action_id, added = jobs.shortlist(conn, shortlist_id, wanted, utc_now())
    return MembersAdded(added=added, asked=len(wanted), action_id=action_id)


@router.post("/shortlists/{shortlist_id}/members/remove")
def drop_members(state: AppDep, shortlist_id: int, asked: MembersRequest) -> MembersAdded:
    """Take businesses off a shortlist."""
    wanted = chosen_ids(state, asked.ids, asked.filter)
    with state.database.write() as conn:
        store.drop_members(conn, shortlist_id, wanted)
    return MembersAdded(added=0, asked=len(wanted), action_id=None)
