"""The calendar feed: follow-ups and appointments at an address that nobody finds by trying."""

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import OwnersRoute
from openacorn.outreach import owner_pages
from openacorn.outreach.appointments import calendar_of
from openacorn.outreach.public import HEADERS, no_such_page
from openacorn.outreach.store import appointments

router = APIRouter(route_class=OwnersRoute, prefix="/o/calendar", include_in_schema=False)


@router.get("/{token}.ics")
def feed(state: AppDep, token: str) -> Response:
    """The feed behind a token, for a calendar program that reads it again each hour."""
    with state.database.read() as conn:
        by = appointments.feed_owner(conn, token)
        if by is None:
            return no_such_page(state)
        name = owner_pages.letterhead(conn, state.settings).name
        body = calendar_of(conn, f"{name}: {by}" if by else name, by=by)
    return Response(body, media_type="text/calendar; charset=utf-8", headers=HEADERS)
