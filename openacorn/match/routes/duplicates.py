"""Doubtful pairs and what is decided of them; splits, corrections, and where a business comes from."""

import sqlite3
from collections.abc import Callable
from typing import Any

import orjson
from fastapi import APIRouter, Query

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, decisions, listings
from openacorn.clock import utc_now
from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.core.match.normalise import name_tokens, own_domain, street_key
from openacorn.gather.reach import source_titles
from openacorn.match import user_decisions
from openacorn.match.schemas.duplicates import (
    CorrectionRequest,
    DecisionResponse,
    ForgetRequest,
    ListingResponse,
    OriginsResponse,
    PossibleDuplicateResponse,
    PossibleDuplicatesResponse,
    SideResponse,
    SplitRequest,
    VerdictRequest,
    VerdictResponse,
)

router = APIRouter(route_class=DeskRoute, tags=["matching"])
COMPARED: dict[str, Callable[[str], object]] = {
    "name": name_tokens,
    "street": street_key,
    "postcode": str,
    "phone": str,
    "website": lambda value: own_domain(value) or value,
    "trade": str,
}
"""Field → the form in which two sides are set against each other."""


def _side(conn: sqlite3.Connection, row: dict[str, Any]) -> SideResponse:
    titles = source_titles(conn)
    sources = [titles.get(source, source) for source in orjson.loads(row["sources"])]
    return SideResponse(
        **{**{name: row[name] for name in SideResponse.model_fields if name != "sources"}, "sources": sources}
    )


def _pair(conn: sqlite3.Connection, pair: decisions.PossibleDuplicate) -> PossibleDuplicateResponse | None:
    rows = businesses.get_businesses(conn, [pair.first, pair.second])
    if len(rows) < 2:
        return None
    left, right = rows
    agree = {
        field: ""
        if not left[field] or not right[field]
        else "same"
        if form(left[field]) == form(right[field])
        else "differs"
        for field, form in COMPARED.items()
    }
    metres = None
    if None not in (left["lat"], left["lon"], right["lat"], right["lon"]):
        metres = distance_m(Point(left["lat"], left["lon"]), Point(right["lat"], right["lon"]))
    return PossibleDuplicateResponse(
        probability=pair.probability, left=_side(conn, left), right=_side(conn, right), metres=metres, agree=agree
    )


@router.get("/duplicates")
def list_pairs(state: AppDep, limit: int = Query(default=50, ge=1, le=500)) -> PossibleDuplicatesResponse:
    """Pairs of businesses that may be one, the likeliest first."""
    with state.database.read() as conn:
        pairs = [result for pair in decisions.open_pairs(conn, limit) if (result := _pair(conn, pair)) is not None]
        return PossibleDuplicatesResponse(pairs=pairs, total=decisions.count_open(conn))


@router.post("/duplicates")
def decide(state: AppDep, asked: VerdictRequest) -> VerdictResponse:
    """Say whether two businesses are one. It holds on every later run."""
    with state.database.write() as conn:
        if asked.verdict == "one":
            kept = [user_decisions.join(conn, asked.one, asked.other, state.settings, utc_now())]
        else:
            user_decisions.keep_apart(conn, asked.one, asked.other, state.settings, utc_now())
            kept = [asked.one, asked.other]
        return VerdictResponse(businesses=kept, left=decisions.count_open(conn))


@router.post("/duplicates/forget")
def forget(state: AppDep, asked: ForgetRequest) -> VerdictResponse:
    """Take a verdict back; the listings are judged by their fields again."""
    with state.database.write() as conn:
        written = user_decisions.forget(conn, [asked.a], [asked.b], state.settings)
        return VerdictResponse(businesses=written, left=decisions.count_open(conn))


@router.get("/businesses/{business_id}/origins")
def origins(state: AppDep, business_id: int) -> OriginsResponse:
    """The listings a business was merged from, its branches, and what the user decided about it."""
    with state.database.read() as conn:
        row = businesses.get_business(conn, business_id)
        held = listings.listings_of(conn, business_id)
        branches = [
            _side(conn, other) for other in businesses.list_chain(conn, row["chain"]) if other["id"] != business_id
        ]
        titles = source_titles(conn)
        return OriginsResponse(
            listings=[
                ListingResponse(
                    id=item.id, seen_at=item.seen_at, source=titles.get(item.listing.source, item.listing.source),
                    extra=dict(item.listing.extra),
                    **{
                        name: getattr(item.listing, name)
                        for name in ListingResponse.model_fields
                        if name not in {"id", "seen_at", "source", "extra"}
                    },
                )
                for item in held
            ],
            decisions=[DecisionResponse.model_validate(item) for item in decisions.decided_about(conn, business_id)],
            corrections=businesses.corrections_of(conn, business_id),
            chain=row["chain"],
            branches=branches,
        )  # fmt: skip


@router.post("/businesses/{business_id}/split")
def split(state: AppDep, business_id: int, asked: SplitRequest) -> VerdictResponse:
    """Take listings out of a business: a merge undone. It stays undone on later runs."""
    with state.database.write() as conn:
        made = user_decisions.split(conn, business_id, asked.listings, state.settings, utc_now())
        return VerdictResponse(businesses=[business_id, *made], left=decisions.count_open(conn))


@router.put("/businesses/{business_id}/fields/{field}")
def correct(state: AppDep, business_id: int, field: str, asked: CorrectionRequest) -> OriginsResponse:
    """Correct a field; the user's word wins over every source and stays."""
    with state.database.write() as conn:
        user_decisions.correct(conn, business_id, field, asked.value, state.settings, utc_now())
    return origins(state, business_id)
