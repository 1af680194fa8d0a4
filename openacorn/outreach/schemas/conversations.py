"""Conversations: what was written to a business and what came back."""

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel
from openacorn.core.outreach.message_template import LONGEST
from openacorn.outreach.store.incoming import Arrived


class InboxResponse(ResponseModel):
    """arrived: what came, what is to be answered first; left: how many of it wait for an answer."""

    arrived: list[Arrived]
    left: int


class Turn(ResponseModel):
    """One message of a conversation. ours: did we send it? number: among messages, or among what arrived; state: of ours; kind: of
    theirs."""

    ours: bool
    number: int
    at: str
    who: str
    subject: str
    text: str
    state: str
    kind: str
    attachments: list[str]


class ConversationResponse(ResponseModel):
    """Everything between us and a business, the first first. answer_to: number of what an answer would answer, 0 for nothing;
    address: where it would go."""

    business_id: int
    business: str
    turns: list[Turn]
    answer_to: int
    address: str


class DoneRequest(RequestModel):
    """Is nothing left to do about it?"""

    done: bool


class AnswerRequest(RequestModel):
    """What is answered. answers: number of what arrived."""

    answers: Id
    text: str = Field(min_length=1, max_length=LONGEST)
    by: str = Field(default="", max_length=60)
