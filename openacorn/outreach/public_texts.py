"""Where a gateway tells of incoming texts: an address that nobody finds by trying."""

import asyncio

from fastapi import APIRouter, Request
from fastapi.responses import Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import OwnersRoute
from openacorn.core.outreach.text_gateway import GatewayError, IncomingText, read_webhook
from openacorn.outreach.public import HEADERS
from openacorn.outreach.store import texts
from openacorn.outreach.texting import take_in_text

router = APIRouter(route_class=OwnersRoute, prefix="/o/texts", include_in_schema=False)


def _take_in(state: AppState, token: str, kind: str, body: bytes) -> int:
    """HTTP status: 404 for an unknown address, 400 for what cannot be read."""
    with state.database.read() as conn:
        stored = texts.get_gateway(conn)
    if stored is None or stored.token != token:
        return 404
    try:
        found: list[IncomingText] = read_webhook(stored.gateway, kind, body)
    except GatewayError:
        return 400
    for item in found:
        with state.database.write() as conn:
            take_in_text(conn, item, state.settings)
    return 200 if found else 400


@router.post("/{token}")
async def incoming(state: AppDep, token: str, request: Request) -> Response:
    """A text that came in at the gateway."""
    body = await request.body()
    status = await asyncio.to_thread(_take_in, state, token, request.headers.get("content-type", ""), body)
    return Response(b"", status, headers=HEADERS)
