"""Businesses: a page of the table, facets, and one business whole."""

from typing import Any

from openacorn.api.models.base import Told
from openacorn.api.models.outcomes import OutcomeTold

Cell = str | int | float | bool | None


class ClauseTold(Told):
    """A part of the filter's sentence, and the address parameter that it stands for."""

    key: str
    text: str


class GridPage(Told):
    """A page of the table: `columns` name the cells of each row. `total` pass the filter, `all` are held.

    behind: a large change is on its way in and this shows only a part of it: ask again in a moment.
    """

    columns: list[str]
    rows: list[list[Cell]]
    total: int
    all: int
    sentence: str
    clauses: list[ClauseTold]
    offset: int
    behind: bool


class HistogramTold(Told):
    """How a number is spread: equal bins from low to high, how many lie above, how many are known at all."""

    low: float
    high: float
    bins: list[int]
    above: int
    known: int


class Facets(Told):
    """Facet → value → number of businesses, each facet counted without its own restriction. labels: facet → value → name."""

    total: int
    counts: dict[str, dict[str, int]]
    labels: dict[str, dict[str, str]]
    histograms: dict[str, HistogramTold]
    behind: bool


class PointsTold(Told):
    """Pins of the selection as [id, lat, lon, offer, the number asked for]; `cut` if there were more than are sent."""

    points: list[tuple[int, float, float, str, float | None]]
    total: int
    cut: bool
    behind: bool


class EvidenceTold(Told):
    """Where, when, and what shows it."""

    url: str
    at: str
    snippet: str


class FindingTold(Told):
    """One check's answer."""

    check: str
    group: str
    title: str
    why: str
    outcome: str
    value: Any
    reason: str
    crashed: bool
    evidence: list[EvidenceTold]


class FactTold(Told):
    """A field, its value, who said it and when, and what others said."""

    field: str
    value: Any
    source: str
    source_id: str
    seen_at: str
    others: list[Any]


class TermTold(Told):
    """Whole points lost to one cause."""

    part: str
    label: str
    check: str | None
    title: str
    points: int


class SignalTold(Told):
    """A sign of ability to pay; value None: not known."""

    label: str
    weight: float
    value: float | None
    shown: str


class ChannelTold(Told):
    """A way to reach the business."""

    kind: str
    value: str
    chance: float
    assumed: bool


class VerifiedTold(Told):
    """What is known of an e-mail address or a number: the result and the stage that decided it; of a number its line."""

    result: str
    stage: str
    detail: str
    at: str
    line: str


class PersonTold(Told):
    """Somebody to ask for. roles: "owner (website)" and so on; guessed: the address is one by its pattern only; profile: the
    address of their entry in a people directory."""

    name: str
    roles: list[str]
    address: str
    guessed: bool
    profile: str


class ContactTold(Told):
    """A contact found on the business's pages. nature: "named, own domain" and so on, of e-mail addresses."""

    nature: str
    verified: VerifiedTold | None

    kind: str
    value: str
    how: str
    url: str
    snippet: str


class OpportunityTold(Told):
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
    terms: list[TermTold]


class MarkTold(Told):
    """A group of checks' mark for the owner, 0–100 (null: nothing is known), and the share of it that is known."""

    group: str
    mark: int | None
    known: float


class PeerTold(Told):
    """A near business of the same trade."""

    id: int
    name: str
    town: str
    reviews: int | None
    rating: float | None
    distance_m: float


class LackTold(Told):
    """What this business lacks and `have` of `of` peers (those of whom it is known) have."""

    check: str
    title: str
    have: int
    of: int


class PeersTold(Told):
    """The nearest of the same trade; *_rank: share of them that it is not below, null where not known."""

    count: int
    reviews_rank: float | None
    rating_rank: float | None
    nearest: list[PeerTold]
    lacks: list[LackTold]


class BusinessTold(Told):
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
    standing: str
    audited_at: str | None
    audit_seconds: float | None
    chain: list[str]
    cut_short: str
    offer: str
    opportunities: list[OpportunityTold]
    signals: list[SignalTold]
    channels: list[ChannelTold]
    findings: list[FindingTold]
    marks: list[MarkTold]
    found: str
    pictures: dict[str, str]
    contacts: list[ContactTold]
    people: list[PersonTold]
    facts: list[FactTold]
    shortlists: list[int]
    stages: list[str]
    outcomes: list[OutcomeTold]
    tags: list[str]
    freshness: float | None
    first_seen: str
    platform: str
    chain_name: str
    founded: str
    revenue_band: str
    peers: PeersTold | None
