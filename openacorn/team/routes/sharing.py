"""Who sees a list or a territory; and who the colleagues are."""

import sqlite3

from fastapi import APIRouter

from openacorn.acting import reading_as
from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.api.who import IdentityDep
from openacorn.business.store import shares
from openacorn.business.store.shares import Kind, Sharing
from openacorn.errors import NotFound
from openacorn.team.identity import EVERYBODY, Identity, NoAccount, NotPermitted
from openacorn.team.schemas.sharing import ColleagueResponse, SharingRequest, SharingResponse
from openacorn.team.store import accounts

router = APIRouter(route_class=DeskRoute, tags=["team"])


def _colleagues(conn: sqlite3.Connection) -> list[ColleagueResponse]:
    return [ColleagueResponse(id=one.id, name=one.name) for one in accounts.list_accounts(conn) if one.active]


def _there(conn: sqlite3.Connection, kind: Kind, thing: int) -> Sharing:
    if not shares.may_see(conn, kind, thing):
        raise NotFound(f"there is no {kind} {thing}")
    return shares.get_sharing(conn, kind, thing)


def _is_mine(who: Identity, sharing: Sharing) -> bool:
    return not reading_as() or sharing.made_by in {None, who.account}


def _response(conn: sqlite3.Connection, who: Identity, kind: Kind, thing: int) -> SharingResponse:
    found, colleagues = _there(conn, kind, thing), _colleagues(conn)
    made_by = next((one.name for one in colleagues if one.id == found.made_by), "")
    return SharingResponse(
        private=found.private,
        people=list(found.people),
        made_by=made_by,
        mine=_is_mine(who, found),
        colleagues=colleagues,
    )


def _save(state: AppDep, who: Identity, kind: Kind, thing: int, asked: SharingRequest) -> SharingResponse:
    if who is EVERYBODY:
        raise NoAccount("there is nobody yet to share anything with")
    with state.database.write() as conn:
        if not _is_mine(who, _there(conn, kind, thing)):
            raise NotPermitted("only the person who made it, an owner or a manager can change who sees it")
        shares.set_sharing(conn, kind, thing, asked.people, who.account, private=asked.private)
        return _response(conn, who, kind, thing)


@router.get("/colleagues")
def list_colleagues(state: AppDep) -> list[ColleagueResponse]:
    """Everybody who can sign in, by name."""
    with state.database.read() as conn:
        return _colleagues(conn)


@router.get("/shortlists/{shortlist_id}/sharing")
def get_list_sharing(state: AppDep, who: IdentityDep, shortlist_id: int) -> SharingResponse:
    """Who sees a shortlist."""
    with state.database.read() as conn:
        return _response(conn, who, "shortlist", shortlist_id)


@router.put("/shortlists/{shortlist_id}/sharing")
def share_list(state: AppDep, who: IdentityDep, shortlist_id: int, asked: SharingRequest) -> SharingResponse:
    """Say who sees a shortlist."""
    return _save(state, who, "shortlist", shortlist_id, asked)


@router.get("/territories/{territory_id}/sharing")
def get_territory_sharing(state: AppDep, who: IdentityDep, territory_id: int) -> SharingResponse:
    """Who sees a territory."""
    with state.database.read() as conn:
        return _response(conn, who, "territory", territory_id)


@router.put("/territories/{territory_id}/sharing")
def share_territory(state: AppDep, who: IdentityDep, territory_id: int, asked: SharingRequest) -> SharingResponse:
    """Say who sees a territory."""
    return _save(state, who, "territory", territory_id, asked)
