"""Proposals to businesses."""

from decimal import Decimal

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel, SomeDay
from openacorn.core.report.proposal import ProposalItem, Totals


class ItemRequest(RequestModel):
    """A line. amount: without tax, in the agency's currency."""

    title: str = Field(min_length=1, max_length=200)
    amount: Decimal = Field(ge=0, le=10_000_000, decimal_places=2)
    monthly: bool = False


class ProposalRequest(RequestModel):
    """What is offered."""

    service: str = Field(min_length=1, max_length=60)
    items: list[ItemRequest] = Field(min_length=1, max_length=30)
    tax_percent: Decimal = Field(default=Decimal(0), ge=0, le=50, decimal_places=2)
    valid_until: SomeDay
    note: str = Field(default="", max_length=2000)
    by: str = Field(default="", max_length=60)


class ProposalResponse(ResponseModel):
    """A proposal. once, monthly: its sums; address: where the owner accepts it; over: has its last day passed?"""

    id: int
    number: str
    service: str
    items: list[ProposalItem]
    tax_percent: Decimal
    valid_until: str
    note: str
    once: Totals
    monthly: Totals
    currency: str
    made_at: str
    by: str
    shared_at: str
    withdrawn_at: str
    accepted_at: str
    accepted_by: str
    accepted_from: str
    over: bool
    address: str
    public: bool


class OfferChoice(ResponseModel):
    """A service that can be offered, with its usual fees in the agency's currency: once, and a month."""

    id: str
    title: str
    fee: float
    monthly: float


class ProposalsResponse(ResponseModel):
    """A business's proposals, the newest first, and what a new one begins with."""

    name: str
    proposals: list[ProposalResponse]
    services: list[OfferChoice]
    offer: str
    valid_until: str
    currency: str
