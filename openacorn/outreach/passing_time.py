"""Let time pass at the coast: its clock is moved from one thing that is due to the next, and each is done at its own moment."""

import asyncio
from datetime import datetime, timedelta

from openacorn import clock
from openacorn.db.database import Database
from openacorn.outreach.planning import planned
from openacorn.outreach.receiving import Receiving
from openacorn.outreach.sending import Sending
from openacorn.outreach.store import sequences
from openacorn.outreach.texting import Texting
from openacorn.settings import Settings

WAIT_FOR_ANSWERS_S = 0.5
"""Real seconds that the coast's people are given to answer what has just been sent."""

LOOK_EVERY = timedelta(hours=1)
"""At least so often the mailboxes are read meanwhile."""


def _next(database: Database, settings: Settings, until: datetime) -> datetime:
    """The next moment at which something is due, at most `until`."""
    now = clock.now()
    with database.read() as conn:
        found = planned(conn, settings, now, min(until, now + LOOK_EVERY))
        step = sequences.next_due(conn)
    moments = [item.at for item in found[:1]] + ([datetime.fromisoformat(step)] if step else [])
    return max(now, min([until, now + LOOK_EVERY, *moments]))


async def let_pass(
    database: Database, settings: Settings, sending: Sending, receiving: Receiving, texting: Texting, hours: float
) -> int:
    """Let so many hours pass; return how many messages arrived."""
    until, looked, taken, seen = clock.now() + timedelta(hours=hours), clock.now(), 0, -1
    while clock.now() < until:
        moment = await asyncio.to_thread(_next, database, settings, until)
        clock.set_back(clock.behind() - (moment - clock.now()))
        await sending.step()
        await texting.step()
        if sending.tried != seen and (clock.now() - looked >= LOOK_EVERY or clock.now() >= until):
            await asyncio.sleep(WAIT_FOR_ANSWERS_S)
            taken += await receiving.step()
            looked, seen = clock.now(), sending.tried
    return taken
