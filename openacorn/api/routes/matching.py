"""Doubtful pairs and what is decided of them; splits, corrections, and where a business comes from."""

import sqlite3
from collections.abc import Callable
from typing import Any

import orjson
from fastapi import APIRouter, Query

from openacorn.api.deps import Desk
from openacorn.api.models.matching import (
    CorrectionAsked,
    DecisionTold,
    DoubtsTold,
    DoubtTold,
    ForgetAsked,
    ListingTold,
    OriginsTold,
    SideTold,
    SplitAsked,
    VerdictAsked,
    VerdictTold,
)
from openacorn.api.threads import DeskRoute
from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.core.matching.normalise import name_tokens, own_domain, street_key
from openacorn.jobs import deciding
from openacorn.jobs.gathering import source_titles
from openacorn.net.probes.site import now
from openacorn.store import businesses, decisions, listings

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


def _side(conn: sqlite3.Connection, row: dict[str, Any]) -> SideTold:
    titles = source_titles(conn)
    sources = [titles.get(source, source) for source in orjson.loads(row["sources"])]
    return SideTold(**{**{name: row[name] for name in SideTold.model_fields if name != "sources"}, "sources": sources})


def _doubt(conn: sqlite3.Connection, pair: decisions.Doubt) -> DoubtTold | None:
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
    return DoubtTold(
        probability=pair.probability, left=_side(conn, left), right=_side(conn, right), metres=metres, agree=agree
    )


@router.get("/doubts")
def list_doubts(desk: Desk, limit: int = Query(default=50, ge=1, le=500)) -> DoubtsTold:
    """Pairs of businesses that may be one, the likeliest first."""
    with desk.database.read() as conn:
        pairs = [told for pair in decisions.open_doubts(conn, limit) if (told := _doubt(conn, pair)) is not None]
        return DoubtsTold(pairs=pairs, total=decisions.count_open(conn))


@router.post("/doubts")
def decide(desk: Desk, asked: VerdictAsked) -> VerdictTold:
    """Say whether two businesses are one. It holds on every later run."""
    with desk.database.write() as conn:
        if asked.verdict == "one":
            kept = [deciding.join(conn, asked.one, asked.other, desk.settings, now())]
        else:
            deciding.keep_apart(conn, asked.one, asked.other, desk.settings, now())
            kept = [asked.one, asked.other]
        return VerdictTold(businesses=kept, left=decisions.count_open(conn))


@router.post("/doubts/forget")
def forget(desk: Desk, asked: ForgetAsked) -> VerdictTold:
    """Take a verdict back; the listings are judged by their fields again."""
    with desk.database.write() as conn:
        written = deciding.forget(conn, [asked.a], [asked.b], desk.settings)
        return VerdictTold(businesses=written, left=decisions.count_open(conn))


@router.get("/businesses/{business_id}/origins")
def origins(desk: Desk, business_id: int) -> OriginsTold:
    """The listings a business was merged from, its branches, and what the user decided about it."""
    with desk.database.read() as conn:
        row = businesses.get_business(conn, business_id)
        held = listings.listings_of(conn, business_id)
        branches = [
            _side(conn, other) for other in businesses.of_chain(conn, row["chain"]) if other["id"] != business_id
        ]
        titles = source_titles(conn)
        return OriginsTold(
            listings=[
                ListingTold(
                    id=item.id, seen_at=item.seen_at, source=titles.get(item.listing.source, item.listing.source),
                    extra=dict(item.listing.extra),
                    **{
                        name: getattr(item.listing, name)
                        for name in ListingTold.model_fields
                        if name not in {"id", "seen_at", "source", "extra"}
                    },
                )
                for item in held
            ],
            decisions=[DecisionTold.model_validate(item) for item in decisions.decided_about(conn, business_id)],
            corrections=businesses.corrections_of(conn, business_id),
            chain=row["chain"],
            branches=branches,
        )  # fmt: skip


@router.post("/businesses/{business_id}/split")
def split(desk: Desk, business_id: int, asked: SplitAsked) -> VerdictTold:
    """Take listings out of a business: a merge undone. It stays undone on later runs."""
    with desk.database.write() as conn:
        made = deciding.split(conn, business_id, asked.listings, desk.settings, now())
        return VerdictTold(businesses=[business_id, *made], left=decisions.count_open(conn))


@router.put("/businesses/{business_id}/fields/{field}")
def correct(desk: Desk, business_id: int, field: str, asked: CorrectionAsked) -> OriginsTold:
    """Correct a field; the user's word wins over every source and stays."""
    with desk.database.write() as conn:
        deciding.correct(conn, business_id, field, asked.value, desk.settings, now())
    return origins(desk, business_id)
