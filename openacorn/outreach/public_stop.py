"""Where whoever got a message opts out of further ones: a page with one button, and the one click of mail programs (RFC 8058)."""

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import OwnersRoute
from openacorn.business.store import businesses
from openacorn.core.report.render import notice
from openacorn.errors import NotFound
from openacorn.outreach import opt_outs
from openacorn.outreach import owner_pages as jobs
from openacorn.outreach.public import HEADERS
from openacorn.outreach.store.messages import Message

router = APIRouter(route_class=OwnersRoute, prefix="/o/stop", include_in_schema=False)


def _page(state: AppState, title: str, text: str, status: int = 200, button: str = "") -> HTMLResponse:
    with state.database.read() as conn:
        head = jobs.letterhead(conn, state.settings)
    return HTMLResponse(notice(head, title, text, button), status, headers=HEADERS)


def _message(state: AppState, token: str) -> Message | None:
    with state.database.read() as conn:
        try:
            return opt_outs.message_behind(conn, state.folder, token)
        except NotFound:
            return None


@router.get("/{token}")
def ask(state: AppDep, token: str) -> Response:
    """Ask before anything is changed: programs that look at links in mail open them too."""
    if _message(state, token) is None:
        return _page(state, "There is no such page", "Check the address: it must be copied whole.", 404)
    return _page(state, "No more messages?", "We will not write to you again.", button="Do not write to me again")


@router.post("/{token}")
def stop(state: AppDep, token: str) -> Response:
    """It holds at once, on every list and in every sequence; asked again, it changes nothing more."""
    message = _message(state, token)
    if message is None:
        return _page(state, "There is no such page", "Check the address: it must be copied whole.", 404)
    with state.database.write() as conn:
        if businesses.get_business(conn, message.business_id)["standing"] != jobs.REFUSED:
            opt_outs.opt_out(conn, message, state.settings, "asked for it by the link in a message")
    return _page(state, "It is noted", "We will not write to you again.")
