"""Sequences and who is in them."""

from typing import Annotated

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel
from openacorn.core.outreach.sequence import MOST_DAYS, MOST_STEPS, StepKind, When
from openacorn.outreach.enrolments import SequenceCandidate
from openacorn.outreach.store.sequences import EnrolmentState


class StepModel(RequestModel):
    """One step. after_days: working days after the step before; templates: ids, none for those that fit the business's offer."""

    kind: StepKind
    after_days: int = Field(default=0, ge=0, le=MOST_DAYS)
    templates: list[Annotated[str, Field(max_length=200)]] = Field(default=[], max_length=10)
    when: When = When.ALWAYS


class SequenceRequest(RequestModel):
    """A sequence to save; id 0: a new one. quiet_days: nobody who was contacted within so many is put in."""

    id: Id = 0
    name: str = Field(min_length=1, max_length=80)
    steps: list[StepModel] = Field(min_length=1, max_length=MOST_STEPS)
    quiet_days: int = Field(default=60, ge=0, le=3650)
    by: str = Field(default="", max_length=60)


class SequenceResponse(ResponseModel):
    """A sequence with how many are in it, by state."""

    id: int
    name: str
    steps: list[StepModel]
    quiet_days: int
    paused: bool
    active: int
    held: int
    stopped: int
    finished: int


class CandidatesRequest(RequestModel):
    """Businesses that might be put into a sequence: by id, of a shortlist, or all that pass a filter."""

    ids: list[Id] = Field(default=[], max_length=5000)
    shortlist: Id = 0
    filter: dict[str, str] | None = None
    by: str = Field(default="", max_length=60)


class CandidatesResponse(ResponseModel):
    """Who would be put in, and who would be left out, with the reason."""

    candidates: list[SequenceCandidate]
    taken: int
    left_out: int


class EnrolmentResponse(ResponseModel):
    """A business in a sequence. next: what it gets next, in words; next_at: when, "" if nothing comes; reason: why it is there."""

    id: int
    business_id: int
    business: str
    town: str
    address: str
    person: str
    state: EnrolmentState
    step: int
    next: str
    next_at: str
    reason: str


class EnrolmentRequest(RequestModel):
    """What to do with a business in a sequence; sequence_id: where to move it."""

    action: Annotated[str, Field(pattern="^(pause|resume|stop|skip|move)$")]
    sequence_id: Id = 0
    by: str = Field(default="", max_length=60)
