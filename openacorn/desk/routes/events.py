"""What has changed, as numbers that grow: a screen asks again for what it shows when they do, and not every few seconds."""

from collections.abc import AsyncIterator

import orjson
from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import counts

router = APIRouter(route_class=DeskRoute, tags=["events"])
ALL = 0
"""The key that everybody watches under; runs have numbers of their own."""


@router.get("/events")
async def watch_changes(state: AppDep) -> StreamingResponse:
    """Server-sent events: {"businesses": …, "acts": …, "contacts": …, "inbox": …}, whenever one of them has grown."""

    def look() -> tuple[str, bool]:
        with state.database.read() as conn:
            return orjson.dumps(counts.change_numbers(conn)).decode(), False

    async def events() -> AsyncIterator[str]:
        async for text in state.watching.follow(ALL, look):
            yield f"data: {text}\n\n"

    return StreamingResponse(events(), media_type="text/event-stream", headers={"Cache-Control": "no-cache"})
