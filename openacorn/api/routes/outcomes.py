"""What came of contacts, and the chance of winning as learnt from it."""

import math
import sqlite3

from fastapi import APIRouter

from openacorn.api.deps import Desk
from openacorn.api.models.deeds import DeedTold
from openacorn.api.models.outcomes import (
    BinTold,
    ChanceTold,
    ContactAsked,
    CurvePoint,
    OddsAsked,
    OddsTold,
)
from openacorn.api.threads import DeskRoute
from openacorn.core.scoring.calibration import calibrate
from openacorn.core.scoring.winning import PRIOR
from openacorn.jobs import contacting, winning
from openacorn.jobs.contacting import Said
from openacorn.jobs.scoring import rescore
from openacorn.net.probes.site import now
from openacorn.store import deeds, outcomes, services

router = APIRouter(route_class=DeskRoute, tags=["outcomes"])


@router.post("/businesses/{business_id}/contacts", status_code=201)
def note(desk: Desk, business_id: int, asked: ContactAsked) -> DeedTold:
    """Note what came of a contact: history, stage on every list, standing, and what is learnt from it. The answer's id undoes it.

    The chance of winning is learnt anew, and best offers follow if values go by it.
    """
    said = Said(asked.result, asked.service, asked.note.strip(), asked.follow_up, asked.amount, asked.by.strip())
    with desk.database.write() as conn:
        number = contacting.note(conn, business_id, said, now(), desk.settings)
        told = DeedTold.model_validate(deeds.get_deed(conn, number))
        offered, follow = services.current(conn), outcomes.goes_by_learnt(conn)
    if follow:
        rescore(desk.database, desk.snapshot, offered)
    return told


def _odds(conn: sqlite3.Connection, of: str) -> OddsTold:
    offered, trials = services.current(conn), outcomes.trials(conn, winning.ripe_before())
    learnt = outcomes.odds(conn) or {"": PRIOR}
    usual, held = learnt[""], calibrate(trials)
    chosen, sold = learnt.get(of, usual), outcomes.earned(conn)
    return OddsTold(
        goes_by="learnt" if outcomes.goes_by_learnt(conn) else "prior",
        services=[
            ChanceTold(
                service=service.id, title=service.title, prior=PRIOR.chance(50),
                learnt=learnt.get(service.id, usual).chance(50),
                trials=sum(trial.service == service.id for trial in trials),
                won=sum(trial.service == service.id and trial.won for trial in trials), earned=sold.get(service.id, 0.0),
            )
            for service in offered
        ],
        prior_step=math.exp(PRIOR.slope), learnt_step=math.exp(usual.slope), trials=held.trials, won=held.won,
        prior_brier=held.prior_brier, fitted_brier=held.fitted_brier, needed=held.needed,
        bins=[BinTold.model_validate(item) for item in held.bins],
        curve=[
            CurvePoint(score=score, prior=PRIOR.chance(score), learnt=chosen.chance(score)) for score in range(0, 101, 5)
        ],
    )  # fmt: skip


@router.get("/odds")
def odds(desk: Desk, service: str = "") -> OddsTold:
    """The chance of winning, by the prior and as learnt; the curve of one service, or of one without outcomes."""
    with desk.database.read() as conn:
        return _odds(conn, service)


@router.put("/odds")
def choose(desk: Desk, asked: OddsAsked) -> OddsTold:
    """Let all values go by what was learnt, or by the prior; best offers follow."""
    with desk.database.write() as conn:
        outcomes.choose(conn, learnt=asked.goes_by == "learnt")
        offered, told = services.current(conn), _odds(conn, "")
    rescore(desk.database, desk.snapshot, offered)
    return told
