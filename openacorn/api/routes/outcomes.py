"""What came of contacts, and the chance of winning as learnt from it."""

import math
import sqlite3

from fastapi import APIRouter

from openacorn.api.business_whole import outcomes_of
from openacorn.api.deps import Desk
from openacorn.api.models.outcomes import (
    BinTold,
    ChanceTold,
    CurvePoint,
    OddsAsked,
    OddsTold,
    OutcomeAsked,
    OutcomeTold,
)
from openacorn.core.scoring.calibration import calibrate
from openacorn.core.scoring.winning import PRIOR
from openacorn.jobs import winning
from openacorn.jobs.scoring import rescore
from openacorn.net.probes.site import now
from openacorn.store import outcomes, services

router = APIRouter(tags=["outcomes"])


@router.post("/businesses/{business_id}/outcomes", status_code=201)
def note(desk: Desk, business_id: int, asked: OutcomeAsked) -> list[OutcomeTold]:
    """Note what came of it; the chance of winning is learnt anew, and best offers follow if they go by it."""
    with desk.database.write() as conn:
        winning.note(conn, business_id, asked.service, asked.stage, now(), asked.amount, asked.reason)
        offered = services.current(conn)
        found, follow = outcomes_of(conn, business_id, offered), outcomes.goes_by_learnt(conn)
    if follow:
        with desk.snapshot.current() as grid:
            rescore(desk.database, grid, offered)
    return found


def _odds(conn: sqlite3.Connection, of: str) -> OddsTold:
    offered, trials = services.current(conn), outcomes.trials(conn, winning.ripe_before())
    learnt = outcomes.odds(conn) or {"": PRIOR}
    usual, held = learnt[""], calibrate(trials)
    chosen = learnt.get(of, usual)
    return OddsTold(
        goes_by="learnt" if outcomes.goes_by_learnt(conn) else "prior",
        services=[
            ChanceTold(
                service=service.id, title=service.title, prior=PRIOR.chance(50),
                learnt=learnt.get(service.id, usual).chance(50),
                trials=sum(trial.service == service.id for trial in trials),
                won=sum(trial.service == service.id and trial.won for trial in trials),
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
    with desk.snapshot.current() as grid:
        rescore(desk.database, grid, offered)
    return told
