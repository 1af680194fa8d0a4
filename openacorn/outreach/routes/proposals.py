"""Proposals: make, change, share, withdraw, print."""

import asyncio
import sqlite3
from datetime import timedelta

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, services
from openacorn.clock import now
from openacorn.core.report.proposal import ProposalItem
from openacorn.outreach import proposals
from openacorn.outreach.proposals import VALID_DAYS, Terms
from openacorn.outreach.public import HEADERS, LOGO
from openacorn.outreach.public_proposals import drawn
from openacorn.outreach.schemas.owner_pages import ByRequest
from openacorn.outreach.schemas.proposals import OfferChoice, ProposalRequest, ProposalResponse, ProposalsResponse
from openacorn.outreach.store import owner_pages
from openacorn.outreach.store import proposals as store
from openacorn.outreach.store.proposals import StoredProposal

router = APIRouter(route_class=DeskRoute, tags=["proposals"])


def _terms(asked: ProposalRequest) -> Terms:
    items = tuple(ProposalItem(item.title.strip(), item.amount, item.monthly) for item in asked.items)
    return Terms(asked.service, items, asked.tax_percent, asked.valid_until, asked.note.strip())


def _proposal(state: AppState, found: StoredProposal) -> ProposalResponse:
    body = found.body
    return ProposalResponse(
        id=found.id, number=proposals.numbered(found), service=body.service, items=list(body.items), tax_percent=body.tax_percent,
        valid_until=body.valid_until, note=body.note, once=body.totals(monthly=False), monthly=body.totals(monthly=True),
        currency=body.currency, made_at=found.made_at, by=found.by, shared_at=found.shared_at, withdrawn_at=found.withdrawn_at,
        accepted_at=found.accepted_at, accepted_by=found.accepted_by, accepted_from=found.accepted_from,
        over=body.over(now().date()), address=state.owners_address(f"/o/offer/{found.token}"),
        public=bool(state.settings.public_address),
    )  # fmt: skip


def _response(state: AppState, conn: sqlite3.Connection, business_id: int) -> ProposalsResponse:
    row, offered = businesses.get_business(conn, business_id), services.list_services(conn)
    return ProposalsResponse(
        name=row["name"], proposals=[_proposal(state, found) for found in store.list_proposals(conn, business_id)],
        services=[OfferChoice(id=item.id, title=item.title, fee=item.fee, monthly=item.monthly) for item in offered],
        offer=row["offer"] or offered[0].id, valid_until=(now().date() + timedelta(days=VALID_DAYS)).isoformat(),
        currency=state.settings.currency,
    )  # fmt: skip


@router.get("/businesses/{business_id}/proposals")
def list_proposals(state: AppDep, business_id: int) -> ProposalsResponse:
    """A business's proposals, and what a new one begins with."""
    with state.database.read() as conn:
        return _response(state, conn, business_id)


@router.post("/businesses/{business_id}/proposals", status_code=201)
def make(state: AppDep, business_id: int, asked: ProposalRequest) -> ProposalsResponse:
    """Make a proposal; nobody outside sees it yet."""
    with state.database.write() as conn:
        proposals.make(conn, business_id, _terms(asked), asked.by.strip(), state.settings)
        return _response(state, conn, business_id)


@router.put("/proposals/{number}")
def change(state: AppDep, number: int, asked: ProposalRequest) -> ProposalsResponse:
    """Change a proposal that was not shared."""
    with state.database.write() as conn:
        proposals.change(conn, number, _terms(asked), state.settings)
        return _response(state, conn, store.get_proposal(conn, number).business_id)


@router.post("/proposals/{number}/share")
def share(state: AppDep, number: int, asked: ByRequest) -> ProposalsResponse:
    """Show it at its address, where it can be accepted."""
    with state.database.write() as conn:
        proposals.share(conn, number, asked.by.strip())
        return _response(state, conn, store.get_proposal(conn, number).business_id)


@router.post("/proposals/{number}/withdraw")
def withdraw(state: AppDep, number: int, asked: ByRequest) -> ProposalsResponse:
    """Close its address."""
    with state.database.write() as conn:
        proposals.withdraw(conn, number, asked.by.strip())
        return _response(state, conn, store.get_proposal(conn, number).business_id)


@router.get("/proposals/{number}/preview", response_class=HTMLResponse)
def preview(state: AppDep, number: int) -> HTMLResponse:
    """It as its owner sees it; it cannot be accepted here."""
    with state.database.read() as conn:
        return HTMLResponse(drawn(conn, state, store.get_proposal(conn, number)), headers=HEADERS)


async def _printed(state: AppState, number: int, name: str, *, invoice: bool) -> Response:
    def paper() -> tuple[str, dict[str, tuple[str, bytes]]]:
        with state.database.read() as conn:
            found, logo = store.get_proposal(conn, number), owner_pages.logo(conn)
            return drawn(conn, state, found, invoice=invoice), {LOGO: ("image/png", logo)} if logo else {}

    html, files = await asyncio.to_thread(paper)
    body = await state.press.pdf(html, files)
    return Response(
        body,
        media_type="application/pdf",
        headers={"Content-Disposition": f'attachment; filename="{name}-{number}.pdf"'},
    )


@router.get("/proposals/{number}/proposal.pdf", response_class=Response)
async def as_pdf(state: AppDep, number: int) -> Response:
    """It as a PDF."""
    return await _printed(state, number, "proposal", invoice=False)


@router.get("/proposals/{number}/invoice.pdf", response_class=Response)
async def invoice(state: AppDep, number: int) -> Response:
    """A draft of the invoice that follows from it, as a PDF."""
    return await _printed(state, number, "invoice", invoice=True)
