"""What owners see of a proposal: the page at its address, its PDF, and the form that accepts it."""

import sqlite3
import time
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import OwnersRoute
from openacorn.clock import now
from openacorn.core.languages.catalogue import Translator
from openacorn.core.report.render import proposal_page
from openacorn.outreach import owner_pages as jobs
from openacorn.outreach import proposals
from openacorn.outreach.public import HEADERS, LOGO, no_such_page, notice_page, sender_of, withdrawn
from openacorn.outreach.store import owner_pages
from openacorn.outreach.store import proposals as store
from openacorn.outreach.store.proposals import StoredProposal

router = APIRouter(route_class=OwnersRoute, prefix="/o/offer", include_in_schema=False)
SAID = {"accepted": "Thank you. We have your acceptance and will be in touch."}


def drawn(
    conn: sqlite3.Connection,
    state: AppState,
    found: StoredProposal,
    *,
    open: bool = False,
    notice: str = "",
    invoice: bool = False,
) -> str:
    """A proposal, or the invoice that would follow, under the agency's letterhead. open: can it be accepted here?"""
    head, logo = jobs.letterhead(conn, state.settings), owner_pages.logo(conn)
    return proposal_page(
        found.body, head, number=proposals.numbered(found), made_at=found.accepted_at or found.made_at, logo=LOGO if logo else "",
        token=found.token if open else "", accepted=(found.accepted_by, found.accepted_at) if found.accepted_at else None,
        notice=Translator(found.body.language).text(notice), invoice=invoice,
    )  # fmt: skip


def _shared(state: AppState, token: str) -> StoredProposal | HTMLResponse:
    with state.database.read() as conn:
        found = store.get_by_token(conn, token)
    if found is None or not found.shared_at:
        return no_such_page(state)
    if found.withdrawn_at:
        return withdrawn(state, found.body.language)
    return found


@router.get("/{token}")
def page(state: AppDep, token: str, notice: str = "") -> Response:
    """A proposal; it can be accepted until its last day has passed."""
    found = _shared(state, token)
    if isinstance(found, HTMLResponse):
        return found
    open = not found.accepted_at and not found.body.over(now().date())
    with state.database.read() as conn:
        return HTMLResponse(drawn(conn, state, found, open=open, notice=SAID.get(notice, "")), headers=HEADERS)


@router.post("/{token}/accept")
def accept(
    state: AppDep, request: Request, token: str,
    name: Annotated[str, Form(max_length=80)] = "", agreed: Annotated[str, Form(max_length=10)] = "",
) -> Response:  # fmt: skip
    """The owner accepts it."""
    found = _shared(state, token)
    if isinstance(found, HTMLResponse):
        return found
    language = found.body.language
    if not name.strip() or not agreed:
        return notice_page(
            state, "Something is missing", "Go back, write your name, and tick the box.", 422, language=language
        )
    sender = sender_of(state.settings, request)
    if not state.senders.allow(sender, time.monotonic()):
        return notice_page(
            state,
            "That was too many messages at once",
            "Yours was not sent. Call us, or try again in an hour.",
            429,
            language=language,
        )
    with state.database.write() as conn:
        won = proposals.accept(conn, found, name.strip(), sender, state.settings)
    if not won and not found.accepted_at:
        return notice_page(
            state, "This proposal is over", "Its last day has passed. Call us for a new one.", 410, language=language
        )
    return RedirectResponse(f"/o/offer/{token}?notice=accepted", 303)
