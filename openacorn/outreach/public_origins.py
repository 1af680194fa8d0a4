"""Where the data about a business came from, for the person with the address of its page."""

import sqlite3

from fastapi import APIRouter
from fastapi.responses import HTMLResponse

from openacorn.api.deps import AppDep
from openacorn.api.threads import OwnersRoute
from openacorn.business.facts import facts_of
from openacorn.business.store import audits
from openacorn.core.languages.catalogue import Translator
from openacorn.core.report.origins import HeldFact, origin_lines, origins_page
from openacorn.gather.reach import title_of
from openacorn.outreach import owner_pages as jobs
from openacorn.outreach.public import HEADERS, shared_page
from openacorn.outreach.store import messages

router = APIRouter(route_class=OwnersRoute, prefix="/o", include_in_schema=False)


def _said_by(conn: sqlite3.Connection, source: str) -> str:
    return "" if source.startswith("file:") else title_of(conn, source)


@router.get("/{token}/data")
def show_origins(state: AppDep, token: str) -> HTMLResponse:
    """Each fact with its source and day, and when somebody wrote to them."""
    found = shared_page(state, token)
    if isinstance(found, HTMLResponse):
        return found
    page, shown = found
    with state.database.read() as conn:
        facts = [
            HeldFact(fact.field, str(fact.value), _said_by(conn, fact.listing.listing.source), fact.listing.seen_at)
            for fact in facts_of(conn, page.business_id, state.settings.region)
        ]
        contacts = [(one["kind"], one["value"], one["url"]) for one in audits.list_own_contacts(conn, page.business_id)]
        words = Translator(shown.language)
        sent = [words.day(one.sent_at) for one in messages.messages_of(conn, page.business_id) if one.sent_at]
        html = origins_page(
            jobs.letterhead(conn, state.settings), shown.name, origin_lines(facts, contacts, shown.language), sent, token=token,
            language=shown.language,
        )  # fmt: skip
    return HTMLResponse(html, headers=HEADERS)
