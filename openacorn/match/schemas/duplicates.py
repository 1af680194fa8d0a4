"""Doubtful pairs, decisions, corrections."""

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel


class SideResponse(ResponseModel):
    """One of two businesses that may be one."""

    id: int
    name: str
    trade: str
    street: str
    town: str
    postcode: str
    phone: str
    website: str
    email: str
    rating: float | None
    reviews: int | None
    lat: float | None
    lon: float | None
    sources: list[str]


class PossibleDuplicateResponse(ResponseModel):
    """Two businesses that may be one; agree: field → "same", "differs" or "" where one side has nothing."""

    probability: float
    left: SideResponse
    right: SideResponse
    metres: float | None
    agree: dict[str, str]


class PossibleDuplicatesResponse(ResponseModel):
    """The likeliest pairs, and how many there are."""

    pairs: list[PossibleDuplicateResponse]
    total: int


class VerdictRequest(RequestModel):
    """Are two businesses one?"""

    one: Id
    other: Id
    verdict: str = Field(pattern="^(one|two)$")


class VerdictResponse(ResponseModel):
    """The business (one) or businesses (two) after a verdict, and how many pairs are left."""

    businesses: list[int]
    left: int


class SplitRequest(RequestModel):
    """Listings that do not belong to the business."""

    listings: list[Id] = Field(min_length=1, max_length=1000)


class ForgetRequest(RequestModel):
    """A pair of listings whose verdict is taken back."""

    a: Id
    b: Id


class CorrectionRequest(RequestModel):
    """The user's word on a field; null takes it back."""

    value: str | int | float | None


class ListingResponse(ResponseModel):
    """What one source said, as received. extra: facts that only this source tells."""

    id: int
    source: str
    source_id: str
    seen_at: str
    name: str
    category: str
    street: str
    town: str
    postcode: str
    phone: str
    website: str
    email: str
    rating: float | None
    reviews: int | None
    rank: int | None
    extra: dict[str, str | int | float | bool]


class DecisionResponse(ResponseModel):
    """A verdict that holds for a business."""

    a: int
    b: int
    verdict: str
    at: str
    left_business: int | None
    right_business: int | None


class OriginsResponse(ResponseModel):
    """Where a business comes from: its listings, and what the user decided about it."""

    listings: list[ListingResponse]
    decisions: list[DecisionResponse]
    corrections: dict[str, str | int | float]
    chain: str
    branches: list[SideResponse]
