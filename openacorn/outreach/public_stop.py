"""Where the receiver of a message opts out of more: a page with one button, and the one click of mail programs (RFC 8058)."""

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import OwnersRoute
from openacorn.business.store import businesses
from openacorn.errors import NotFound
from openacorn.outreach import opt_outs
from openacorn.outreach import owner_pages as jobs
from openacorn.outreach.public import no_such_page, notice_page
from openacorn.outreach.store.messages import Message

router = APIRouter(route_class=OwnersRoute, prefix="/o/stop", include_in_schema=False)


def _message(state: AppState, token: str) -> Message | None:
    with state.database.read() as conn:
        try:
            return opt_outs.message_behind(conn, state.folder, token)
        except NotFound:
            return None


@router.get("/{token}")
def ask(state: AppDep, token: str) -> Response:
    """Ask before anything is changed: programs that look at links in mail open them too."""
    message = _message(state, token)
    if message is None:
        return no_such_page(state)
    title, text, button = "No more messages?", "We will not write to you again.", "Do not write to me again"
    return notice_page(state, title, text, 200, button, message.language)


@router.post("/{token}")
def stop(state: AppDep, token: str) -> Response:
    """It holds at once, on every list and in every sequence; asked again, it changes nothing more."""
    message = _message(state, token)
    if message is None:
        return no_such_page(state)
    with state.database.write() as conn:
        if businesses.get_business(conn, message.business_id)["relationship"] != jobs.REFUSED:
            opt_outs.opt_out(conn, message, state.settings, "asked for it by the link in a message")
    return notice_page(state, "It is noted", "We will not write to you again.", 200, language=message.language)
