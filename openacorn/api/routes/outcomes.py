"""What came of contacts, and the chance of winning as learnt from it."""

import math

from fastapi import APIRouter

from openacorn.api.business_whole import outcomes_of
from openacorn.api.deps import Desk
from openacorn.api.models.outcomes import OddsTold, OutcomeAsked, OutcomeTold
from openacorn.jobs import winning
from openacorn.jobs.scoring import rescore
from openacorn.net.probes.site import now
from openacorn.store import outcomes, services

router = APIRouter(tags=["outcomes"])


@router.post("/businesses/{business_id}/outcomes", status_code=201)
def note(desk: Desk, business_id: int, asked: OutcomeAsked) -> list[OutcomeTold]:
    """Note what came of it; the chance of winning is learnt anew, and with it everybody's best offer."""
    with desk.database.write() as conn:
        winning.note(conn, business_id, asked.service, asked.stage, now(), asked.amount, asked.reason)
        offered = services.current(conn)
        found = outcomes_of(conn, business_id, offered)
    with desk.snapshot.current() as grid:
        rescore(desk.database, grid, offered)
    return found


@router.get("/odds")
def odds(desk: Desk) -> list[OddsTold]:
    """The chance of winning by service."""
    with desk.database.read() as conn:
        offered, tally = services.current(conn), outcomes.tally(conn, winning.ripe_before())
    return [
        OddsTold(
            service=service.id, at_50=service.odds.chance(50), step=math.exp(service.odds.slope),
            learnt_from=tally.get(service.id, (0, 0))[0], won=tally.get(service.id, (0, 0))[1],
        )
        for service in offered
    ]  # fmt: skip
