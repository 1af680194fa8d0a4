"""Who has which businesses."""

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel
from openacorn.outreach.schemas.calls import CallResponse
from openacorn.outreach.store.appointments import Appointment
from openacorn.outreach.store.assignment import AnswerForYou, NewForYou


class AssignmentRuleRequest(RequestModel):
    """A rule. trade: "" for any; territory_id: null for anywhere; people: names, who take turns by how much they have."""

    trade: str = Field(default="", max_length=120)
    territory_id: Id | None = None
    people: list[str] = Field(min_length=1, max_length=100)


class AssignmentRulesRequest(RequestModel):
    """All rules, in the order in which they are tried."""

    rules: list[AssignmentRuleRequest] = Field(max_length=200)


class AssignmentRuleResponse(ResponseModel):
    """A rule with its territory's name."""

    trade: str
    territory_id: int | None
    territory: str
    people: list[str]


class AssignmentRulesResponse(ResponseModel):
    """All rules; open: person → businesses they have that are neither won, lost nor parked."""

    rules: list[AssignmentRuleResponse]
    open: dict[str, int]


class AssignedResponse(ResponseModel):
    """assigned: person → how many more they have; left: members that no rule gave to anybody."""

    assigned: dict[str, int]
    left: int


class MyDay(ResponseModel):
    """What waits for somebody today. more: part → how many there are beyond what is listed."""

    name: str
    due: list[CallResponse]
    appointments: list[Appointment]
    answers: list[AnswerForYou]
    page_replies: list[AnswerForYou]
    new: list[NewForYou]
    more: dict[str, int]
