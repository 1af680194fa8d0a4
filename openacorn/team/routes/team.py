"""The team: who belongs to it, what each may do, and what each did."""

import csv
import io
from dataclasses import replace

from fastapi import APIRouter, Query, Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.api.who import IdentityDep
from openacorn.core.export.formats.csv import harmless
from openacorn.core.team.permission import MEANINGS, Permission
from openacorn.net.mail import send_notice
from openacorn.team import people
from openacorn.team.identity import NoAccount
from openacorn.team.schemas.team import (
    AccountRequest,
    AccountResponse,
    ActivitiesResponse,
    PermissionResponse,
    TeamResponse,
)
from openacorn.team.store import accounts, credentials
from openacorn.team.store.accounts import Account

router = APIRouter(route_class=DeskRoute, tags=["team"])
MOST_EXPORTED = 100_000


def _account(account: Account) -> AccountResponse:
    own = account.own_permissions
    return AccountResponse(
        id=account.id, email=account.email, name=account.name, role=account.role, permissions=sorted(account.permissions),
        own_permissions=None if own is None else [Permission(name) for name in own], active=account.active,
        waiting=not account.password, codes=bool(account.code_secret), seen_at=account.seen_at,
    )  # fmt: skip


def _response(state: AppState, link: str = "", mailed: str = "") -> TeamResponse:
    with state.database.read() as conn:
        everybody = [_account(account) for account in accounts.list_accounts(conn)]
    return TeamResponse(
        people=everybody, roles=people.role_titles(), link=link, mailed=mailed,
        permissions=[PermissionResponse(id=id_, meaning=meaning) for id_, meaning in MEANINGS.items()],
    )  # fmt: skip


def _link_for(state: AppState, account: Account) -> TeamResponse:
    """Make a link for somebody, and mail it if there is a mail server."""
    link = state.application_url(f"/welcome#{state.signing_in.make_link(account.id)}")
    mailed = ""
    if state.settings.mail.host:
        text = f"{state.settings.agency} invites you to Open Acorn.\n\nChoose your password here, within two days:\n{link}\n"
        mailed = send_notice(state.settings.mail, account.email, "Choose your password", text) or "sent"
    return _response(state, link, mailed)


@router.get("/team")
def show_team(state: AppDep) -> TeamResponse:
    """Everybody, with what each may do."""
    return _response(state)


@router.put("/team")
def save_account(state: AppDep, who: IdentityDep, asked: AccountRequest) -> TeamResponse:
    """Invite somebody, or change what somebody may do. A new person's link is in the answer."""
    if not who.account:
        raise NoAccount("there are no accounts yet")
    with state.database.write() as conn:
        if not asked.id:
            account = people.add_account(conn, who, asked.email, asked.name, asked.role, asked.own_permissions)
        else:
            before = accounts.get_account(conn, asked.id)
            own = None if asked.own_permissions is None else tuple(asked.own_permissions)
            changed = replace(
                before, email=asked.email, name=asked.name, role=asked.role, own_permissions=own, active=asked.active
            )
            account = people.change_account(conn, who, asked.id, changed)
    state.identities.forget()
    return _response(state) if asked.id else _link_for(state, account)


@router.post("/team/{number}/link")
def make_link(state: AppDep, who: IdentityDep, number: int) -> TeamResponse:
    """Make a link by which somebody chooses a new password; it is good once, for two days."""
    with state.database.read() as conn:
        account = accounts.get_account(conn, number)
    people.may_make_link(who, account)
    return _link_for(state, account)


@router.get("/activity-log")
def list_activities(
    state: AppDep,
    author: str = Query(default="", max_length=60),
    what: str = Query(default="", max_length=60),
    since: str = Query(default="", max_length=32),
    before: int = Query(default=0, ge=0, le=2**62),
    limit: int = Query(default=100, ge=1, le=500),
) -> ActivitiesResponse:
    """What people did, the last first; before: numbers under this alone, for the next page."""
    with state.database.read() as conn:
        found = credentials.list_activities(conn, limit + 1, author, what, since, before)
        authors = credentials.list_authors(conn)
    return ActivitiesResponse(activities=found[:limit], more=len(found) > limit, authors=authors)


@router.get("/activity-log.csv", response_class=Response)
def export_activities(state: AppDep, author: str = "", what: str = "", since: str = "") -> Response:
    """The log as a file, up to 100,000 lines, the last first."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["time", "who", "what", "to what", "by token"])
    with state.database.read() as conn:
        for credential in credentials.list_activities(conn, MOST_EXPORTED, author, what, since):
            rows.writerow(
                [
                    harmless(text)
                    for text in (
                        credential.at,
                        credential.author,
                        credential.what,
                        credential.subject,
                        credential.by_token,
                    )
                ]
            )
    name = {"Content-Disposition": 'attachment; filename="activity-log.csv"'}
    return Response(out.getvalue(), media_type="text/csv; charset=utf-8", headers=name)
