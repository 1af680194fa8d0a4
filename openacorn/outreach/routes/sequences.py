"""Sequences: save them, put businesses in, see what each gets next, and change that."""

import sqlite3

from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState, chosen_ids
from openacorn.api.threads import DeskRoute
from openacorn.business.store import shortlists
from openacorn.clock import utc_now
from openacorn.core.outreach.sequence import Sequence, SequenceStep, check_sequence
from openacorn.errors import Conflict
from openacorn.outreach import enrolments
from openacorn.outreach.enrolments import SequenceCandidate
from openacorn.outreach.pitch import Pitcher
from openacorn.outreach.schemas.sequences import (
    CandidatesRequest,
    CandidatesResponse,
    EnrolmentRequest,
    EnrolmentResponse,
    SequenceRequest,
    SequenceResponse,
    StepModel,
)
from openacorn.outreach.store import messages, sequences
from openacorn.outreach.store.sequences import EnrolmentLine, StoredSequence

router = APIRouter(route_class=DeskRoute, tags=["sequences"])
SHOWN = 1000


def _step(step: SequenceStep) -> StepModel:
    return StepModel(kind=step.kind, after_days=step.after_days, templates=list(step.templates), when=step.when)


def _response(found: StoredSequence) -> SequenceResponse:
    return SequenceResponse(
        id=found.id, name=found.sequence.name, steps=[_step(step) for step in found.sequence.steps],
        quiet_days=found.sequence.quiet_days, paused=found.paused, active=found.active, held=found.held, stopped=found.stopped,
        finished=found.finished,
    )  # fmt: skip


def _list(conn: sqlite3.Connection) -> list[SequenceResponse]:
    return [_response(found) for found in sequences.list_sequences(conn)]


@router.get("/sequences")
def list_sequences(state: AppDep) -> list[SequenceResponse]:
    """All sequences with how many are in them."""
    with state.database.read() as conn:
        return _list(conn)


@router.put("/sequences")
def save_sequence(state: AppDep, asked: SequenceRequest) -> list[SequenceResponse]:
    """Save a sequence."""
    steps = tuple(SequenceStep(step.kind, step.after_days, tuple(step.templates), step.when) for step in asked.steps)
    sequence = Sequence(asked.name.strip(), steps, quiet_days=asked.quiet_days)
    check_sequence(sequence)
    with state.database.write() as conn:
        sequences.save_sequence(conn, asked.id, sequence, utc_now(), asked.by.strip())
        return _list(conn)


@router.delete("/sequences/{sequence_id}")
def delete_sequence(state: AppDep, sequence_id: int) -> list[SequenceResponse]:
    """Take away a sequence that no business has been in."""
    with state.database.write() as conn:
        sequences.delete_sequence(conn, sequence_id)
        return _list(conn)


@router.post("/sequences/{sequence_id}/pause")
def pause_sequence(state: AppDep, sequence_id: int, paused: bool = True) -> list[SequenceResponse]:
    """Pause a sequence for everybody in it, or let it go on."""
    with state.database.write() as conn:
        sequences.pause_sequence(conn, sequence_id, paused=paused)
        found = _list(conn)
    state.sending.wake()
    return found


def _candidates(state: AppState, sequence_id: int, asked: CandidatesRequest) -> list[SequenceCandidate]:
    with state.database.read() as conn:
        ids = (
            shortlists.member_ids(conn, asked.shortlist)
            if asked.shortlist
            else chosen_ids(state, asked.ids, asked.filter)
        )
        return enrolments.candidates(
            conn, Pitcher(conn, region=state.settings.region), state.settings, sequence_id, ids
        )


def _counted(found: list[SequenceCandidate]) -> CandidatesResponse:
    taken = sum(not item.reason for item in found)
    return CandidatesResponse(candidates=found, taken=taken, left_out=len(found) - taken)


@router.post("/sequences/{sequence_id}/candidates")
def list_candidates(state: AppDep, sequence_id: int, asked: CandidatesRequest) -> CandidatesResponse:
    """Who would be put into a sequence, and who would be left out, with the reason: nothing is changed."""
    return _counted(_candidates(state, sequence_id, asked))


@router.post("/sequences/{sequence_id}/enrolments", status_code=201)
def enrol(state: AppDep, sequence_id: int, asked: CandidatesRequest) -> CandidatesResponse:
    """Put businesses into a sequence; its first step follows at once."""
    found = _candidates(state, sequence_id, asked)
    with state.database.write() as conn:
        made = enrolments.enrol(conn, sequence_id, found, asked.by.strip())
    state.sending.wake()
    return CandidatesResponse(candidates=found, taken=len(made), left_out=len(found) - len(made))


def _next(conn: sqlite3.Connection, line: EnrolmentLine, steps: tuple[SequenceStep, ...]) -> tuple[str, str]:
    """(what comes next, when) of an enrolment, in words."""
    enrolment = line.enrolment
    if enrolment.state not in {"active", "paused"}:
        return "", ""
    if not enrolment.next_at:
        waiting = messages.waiting_of(conn, enrolment.id)
        words = f"step {enrolment.step + 1}: e-mail"
        return (f"{words}, to be approved" if waiting == "to approve" else f"{words}, in the queue"), ""
    following = enrolment.step + 1
    return (
        f"step {following + 1}: {steps[following].kind}" if following < len(steps) else "the end"
    ), enrolment.next_at


def _lines(conn: sqlite3.Connection, sequence_id: int) -> list[EnrolmentResponse]:
    steps = sequences.get_sequence(conn, sequence_id).sequence.steps
    found = []
    for line in sequences.list_enrolments(conn, sequence_id, SHOWN):
        following, at = _next(conn, line, steps)
        shared = {
            name: getattr(line.enrolment, name)
            for name in ("id", "business_id", "address", "person", "state", "step", "reason")
        }
        found.append(EnrolmentResponse(business=line.business, town=line.town, next=following, next_at=at, **shared))
    return found


@router.get("/sequences/{sequence_id}/enrolments")
def list_enrolments(state: AppDep, sequence_id: int) -> list[EnrolmentResponse]:
    """Who is in a sequence, what each gets next and why."""
    with state.database.read() as conn:
        return _lines(conn, sequence_id)


@router.post("/enrolments/{number}")
def change_enrolment(state: AppDep, number: int, asked: EnrolmentRequest) -> list[EnrolmentResponse]:
    """Pause a business, let it go on, skip what comes next, stop it, or move it to another sequence."""
    by = asked.by.strip() or "you"
    with state.database.write() as conn:
        enrolment = sequences.get_enrolment(conn, number)
        wanted = {"pause": "active", "resume": "paused"}.get(asked.action)
        if enrolment.state not in ({wanted} if wanted else {"active", "paused"}):
            raise Conflict(f"this business is {enrolment.state} in the sequence: it cannot {asked.action}")
        if asked.action == "pause":
            sequences.change_enrolment(conn, number, state="paused", reason=f"paused by {by}")
        elif asked.action == "resume":
            sequences.change_enrolment(conn, number, state="active", reason="")
        elif asked.action == "skip":
            enrolments.skip(conn, enrolment, f"skipped by {by}")
        elif asked.action == "stop":
            enrolments.end(conn, enrolment, f"stopped by {by}")
        else:
            enrolments.move(conn, enrolment, asked.sequence_id, by)
        found = _lines(conn, enrolment.sequence_id)
    state.sending.wake()
    return found
