"""Results of contacts, and the win probability learnt from them."""

import math
import sqlite3

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import action_log, outcomes, services
from openacorn.clock import utc_now
from openacorn.core.score.calibration import calibrate
from openacorn.core.score.winning import PRIOR
from openacorn.desk.schemas.actions import ActionResponse
from openacorn.outreach import results
from openacorn.outreach.results import ContactReport
from openacorn.outreach.schemas.results import (
    ContactRequest,
    CurvePoint,
    WinByChannel,
    WinModelRequest,
    WinModelResponse,
    WinProbabilityResponse,
)
from openacorn.score import win_model
from openacorn.score.scorer import rescore

router = APIRouter(route_class=DeskRoute, tags=["outcomes"])


@router.post("/businesses/{business_id}/contacts", status_code=201)
def note(state: AppDep, business_id: int, asked: ContactRequest) -> ActionResponse:
    """Log the result of a contact: history, stage on every list, relationship, win model. The answer's id undoes it.

    The chance of winning is learnt again, and best offers follow if values go by it.
    """
    answer = ContactReport(
        asked.result, asked.service, asked.note.strip(), asked.follow_up, asked.amount, asked.by.strip(), "call"
    )
    with state.database.write() as conn:
        number = results.record_result(conn, business_id, answer, utc_now(), state.settings)
        found = ActionResponse.model_validate(action_log.get_action(conn, number))
        offered, follow = services.list_services(conn), outcomes.use_learnt_model(conn)
    if follow:
        rescore(state.database, state.snapshot, offered)
    return found


def _odds(conn: sqlite3.Connection, of: str) -> WinModelResponse:
    offered, trials = services.list_services(conn), outcomes.trials(conn, win_model.ripe_before())
    learnt = outcomes.win_probability(conn) or {"": PRIOR}
    usual, held = learnt[""], calibrate(trials)
    chosen, sold = learnt.get(of, usual), outcomes.earned(conn)
    return WinModelResponse(
        goes_by="learnt" if outcomes.use_learnt_model(conn) else "prior",
        services=[
            WinProbabilityResponse(
                service=service.id, title=service.title, prior=PRIOR.chance(50),
                learnt=learnt.get(service.id, usual).chance(50),
                trials=sum(trial.service == service.id for trial in trials),
                won=sum(trial.service == service.id and trial.won for trial in trials), earned=sold.get(service.id, 0.0),
            )
            for service in offered
        ],
        prior_step=math.exp(PRIOR.slope), learnt_step=math.exp(usual.slope), trials=held.trials, won=held.won,
        prior_brier=held.prior_brier, fitted_brier=held.fitted_brier, needed=held.needed,
        bins=list(held.bins),
        channels=[
            WinByChannel(
                channel=channel, trials=sum(trial.channel == channel for trial in trials),
                won=sum(trial.channel == channel and trial.won for trial in trials), odds=math.exp(shift),
            )
            for channel, shift in sorted(outcomes.channel_shifts(conn).items(), key=lambda item: -item[1])
        ],
        curve=[
            CurvePoint(score=score, prior=PRIOR.chance(score), learnt=chosen.chance(score)) for score in range(0, 101, 5)
        ],
    )  # fmt: skip


@router.get("/win-model")
def odds(state: AppDep, service: str = "") -> WinModelResponse:
    """The chance of winning, by the prior and as learnt; the curve of one service, or of one without outcomes."""
    with state.database.read() as conn:
        return _odds(conn, service)


@router.put("/win-model")
def choose(state: AppDep, asked: WinModelRequest) -> WinModelResponse:
    """Let all values go by what was learnt, or by the prior; best offers follow."""
    with state.database.write() as conn:
        outcomes.select_model(conn, learnt=asked.goes_by == "learnt")
        offered, found = services.list_services(conn), _odds(conn, "")
    rescore(state.database, state.snapshot, offered)
    return found
