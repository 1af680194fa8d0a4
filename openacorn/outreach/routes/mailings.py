"""Mail-merge files of a shortlist: look at it, send it off, fetch the file."""

import sqlite3

from fastapi import APIRouter, Query
from fastapi.responses import StreamingResponse

from openacorn.acting import acting_account
from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import action_log, shortlists
from openacorn.clock import utc_now
from openacorn.core.export.format import ExportRecord, all_formats
from openacorn.core.outreach.mailing import COLUMNS, Letter
from openacorn.core.team.allowance import Allowance
from openacorn.errors import NotFound
from openacorn.outreach.mailings import Mailing, send_off
from openacorn.outreach.pitch import Pitcher, angles_of
from openacorn.outreach.routes.owner_pages import address_of
from openacorn.outreach.schemas.mailings import MailingDraft, MailingRequest, SentOff
from openacorn.outreach.store import mailings
from openacorn.team.allowances import check_allowance

router = APIRouter(route_class=DeskRoute, tags=["mailings"])
FORMATS = ("csv", "xlsx")


def _letters(state: AppState, conn: sqlite3.Connection, shortlist_id: int, days: int) -> list[Letter]:
    shortlists.must_exist(conn, shortlist_id)
    ids = shortlists.member_ids(conn, shortlist_id)
    pitcher = Pitcher(conn, region=state.settings.region)
    holding = angles_of(conn, state.snapshot, ids, pitcher.now)
    mailing = Mailing(conn, pitcher, state.settings, days, lambda token: address_of(state, token))
    return mailing.letters(ids, holding)


@router.get("/shortlists/{shortlist_id}/mailing")
def draft(state: AppDep, shortlist_id: int, days: int = Query(default=60, ge=0, le=3650)) -> MailingDraft:
    """Who of a list would be written to, with what, and why others would not: nothing is noted yet."""
    with state.database.read() as conn:
        found = _letters(state, conn, shortlist_id, days)
        earlier = mailings.list_mailings(conn, shortlist_id)
    sent = sum(not letter.reason for letter in found)
    return MailingDraft(
        letters=found, sent=sent, left_out=len(found) - sent,
        earlier=earlier, public=bool(state.settings.public_address),
    )  # fmt: skip


@router.post("/shortlists/{shortlist_id}/mailings", status_code=201)
def send(state: AppDep, shortlist_id: int, asked: MailingRequest) -> SentOff:
    """Note a mailing as sent off: everybody in it is contacted from now on. The answer's action undoes it."""
    with state.database.read() as conn:
        letters = _letters(state, conn, shortlist_id, asked.days)
    with state.database.write() as conn:
        check_allowance(conn, acting_account(), (Allowance.CONTACTS,), len(letters))
        number = send_off(conn, shortlist_id, letters, asked.by.strip(), utc_now(), state.settings)
        action_id = action_log.get_action(conn, number)
    return SentOff(
        mailing=int(action_id.undo["mailing"]), action_id=number, sent=sum(not letter.reason for letter in letters)
    )


@router.get("/mailings/{number}.{form}")
def fetch(state: AppDep, number: int, form: str, left_out: bool = False) -> StreamingResponse:
    """The file of a mailing as it went out, "csv" or "xlsx"; with `left_out` also who was left out, without an address."""
    if form not in FORMATS:
        raise NotFound(f"a mailing comes as {' or '.join(FORMATS)}, not as {form}")
    with state.database.read() as conn:
        rows = [Letter(**row) for row in mailings.get_rows(conn, number)]
    columns = COLUMNS if left_out else COLUMNS[:-1]
    records = [ExportRecord(row.cells()[: len(columns)], {}) for row in rows if left_out or not row.reason]
    chosen = all_formats()[form]
    headers = {"Content-Disposition": f'attachment; filename="mailing-{number}.{chosen.suffix}"'}
    return StreamingResponse(chosen.write(columns, records), media_type=chosen.media_type, headers=headers)
