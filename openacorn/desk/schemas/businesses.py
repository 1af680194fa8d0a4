"""Businesses: a page of the table, facets, and one business whole."""

from typing import Any

from openacorn.api.schemas import ResponseModel
from openacorn.audit.reputation import PeerGap
from openacorn.business.columns import Cell, Kind
from openacorn.core.audit.finding import Evidence
from openacorn.core.audit.group_grades import GroupGrade
from openacorn.core.desk.filter_words import Clause
from openacorn.core.desk.grid_parts import Histogram
from openacorn.core.score.fit import Signal
from openacorn.outreach.schemas.results import OutcomeResponse


class BusinessColumnResponse(ResponseModel):
    """A column of the table. kind: how its cells are written; table: can it be chosen; usual: is it sent with every page.

    sort: what to order by, "" if it cannot be; width: CSS pixels.
    """

    id: str
    heading: str
    kind: Kind
    table: bool
    usual: bool
    sort: str
    width: int


class GridPage(ResponseModel):
    """A page of the table: `columns` name the cells of each row. `total` pass the filter, `all` are held.

    next: the cursor of the next page, "" on the last. behind: a large change is on its way in and this shows only a part of it:
    ask again in a moment.
    """

    columns: list[str]
    rows: list[list[Cell]]
    total: int
    all: int
    sentence: str
    clauses: list[Clause]
    offset: int
    next: str
    behind: bool


class Facets(ResponseModel):
    """Facet → value → number of businesses, each facet counted without its own restriction. labels: facet → value → name."""

    total: int
    counts: dict[str, dict[str, int]]
    labels: dict[str, dict[str, str]]
    histograms: dict[str, Histogram]
    behind: bool


class PointsResponse(ResponseModel):
    """Pins of the selection as [id, lat, lon, offer, the number asked for]; `cut` if there were more than are sent."""

    points: list[tuple[int, float, float, str, float | None]]
    total: int
    cut: bool
    behind: bool


class FindingResponse(ResponseModel):
    """One check's answer."""

    check: str
    group: str
    title: str
    why: str
    outcome: str
    value: Any
    reason: str
    crashed: bool
    evidence: list[Evidence]


class FactResponse(ResponseModel):
    """A field, its value, who said it and when, and what others said."""

    field: str
    value: Any
    source: str
    source_id: str
    seen_at: str
    others: list[Any]


class TermResponse(ResponseModel):
    """Whole points lost to one cause."""

    part: str
    label: str
    check: str | None
    title: str
    points: int


class ChannelResponse(ResponseModel):
    """A way to reach the business."""

    kind: str
    value: str
    chance: float
    assumed: bool


class VerifiedResponse(ResponseModel):
    """What is known of an e-mail address or a number: the result and the stage that decided it; of a number its line."""

    result: str
    stage: str
    detail: str
    at: str
    line: str


class PersonResponse(ResponseModel):
    """Somebody to ask for. roles: "owner (website)" and so on; guessed: the address is one by its pattern only; profile: the
    address of their entry in a people directory."""

    name: str
    roles: list[str]
    address: str
    guessed: bool
    profile: str


class ContactResponse(ResponseModel):
    """A contact found on the business's pages. nature: "named, own domain" and so on, of e-mail addresses."""

    nature: str
    verified: VerifiedResponse | None

    kind: str
    value: str
    how: str
    url: str
    snippet: str


class OpportunityResponse(ResponseModel):
    """One service for the business; score and terms add up to 100."""

    service: str
    title: str
    state: str
    reason: str
    score: int | None
    value: float | None
    p_win: float | None
    margin: float
    need: float
    need_upper: float
    known_share: float
    confidence: float
    fit: float
    reach: float
    decided_by: str | None
    terms: list[TermResponse]


class PeerResponse(ResponseModel):
    """A near business of the same trade."""

    id: int
    name: str
    town: str
    reviews: int | None
    rating: float | None
    distance_m: float


class PeersResponse(ResponseModel):
    """The nearest of the same trade; *_rank: share of them that it is not below, null where not known."""

    count: int
    reviews_rank: float | None
    rating_rank: float | None
    nearest: list[PeerResponse]
    lacks: list[PeerGap]


class BusinessResponse(ResponseModel):
    """One business, whole."""

    id: int
    name: str
    trade: str
    trade_label: str
    category: str
    street: str
    town: str
    postcode: str
    lat: float | None
    lon: float | None
    distance_m: float | None
    phone: str
    website: str
    rating: float | None
    reviews: int | None
    hours: str
    rejected: str
    relationship: str
    audited_at: str | None
    audit_seconds: float | None
    chain: list[str]
    cut_short: str
    offer: str
    opportunities: list[OpportunityResponse]
    signals: list[Signal]
    channels: list[ChannelResponse]
    findings: list[FindingResponse]
    marks: list[GroupGrade]
    found: str
    pictures: dict[str, str]
    contacts: list[ContactResponse]
    people: list[PersonResponse]
    facts: list[FactResponse]
    shortlists: list[int]
    stages: list[str]
    outcomes: list[OutcomeResponse]
    tags: list[str]
    freshness: float | None
    first_seen: str
    platform: str
    chain_name: str
    founded: str
    revenue_band: str
    peers: PeersResponse | None
