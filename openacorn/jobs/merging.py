"""New listings into businesses: compare with their neighbours, merge, judge relevance."""

import sqlite3
from collections.abc import Sequence

from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.core.matching.cluster import cluster
from openacorn.core.matching.compare import MAX_BLOCK
from openacorn.core.matching.merge import Fact, merge
from openacorn.core.matching.normalise import block_keys, record_of
from openacorn.core.trades.catalogue import TRADES, trade_of
from openacorn.core.trades.trade import names_trade
from openacorn.settings import Settings
from openacorn.store import businesses, listings
from openacorn.store.listings import Held
from openacorn.store.sweeps import Plan

OUTSIDE, CLOSED = "outside the circle", "permanently closed"


def _trade(held: Sequence[Held], facts: dict[str, Fact]) -> tuple[str, bool]:
    """Return (trade, is it really of that trade?): by category first, then by name, else what the search was for."""
    for said in [item.listing.category for item in held] + [str(facts["name"].value)]:
        wanted = trade_of(held[0].trade)
        for trade in (wanted, *TRADES):
            if names_trade(trade, said):
                return trade.id, True
    return held[0].trade, False


def _rejected(facts: dict[str, Fact], trade: str, sure: bool, plan: Plan) -> str:
    if facts.get("status") and facts["status"].value == "closed":
        return CLOSED
    if not sure or trade not in plan.trades:
        category = facts["category"].value if "category" in facts else "no category"
        return f"another trade: {category}"
    if "lat" in facts and "lon" in facts:
        pin = Point(float(facts["lat"].value), float(facts["lon"].value))
        if not plan.circle.contains(pin):
            return OUTSIDE
    return ""


def _distance(facts: dict[str, Fact], plan: Plan, settings: Settings) -> float | None:
    if "lat" not in facts or "lon" not in facts:
        return None
    start = Point(*settings.home) if settings.home else plan.circle.centre
    return distance_m(start, Point(float(facts["lat"].value), float(facts["lon"].value)))


def absorb(conn: sqlite3.Connection, plan: Plan, new: Sequence[int], settings: Settings) -> list[int]:
    """Merge the listings `new` with what they touch; return the businesses that were written.

    Only neighbours (listings that share a block key, and their businesses) are compared, so the work of a page does
    not grow with what is held. A business that an earlier sweep holds is not rejected by a later one's circle or trades.
    """
    for held in listings.get_listings(conn, new):
        listings.put_keys(conn, held.id, block_keys(record_of(held.id, held.listing, settings.region)))
    around = {item.id: item for item in listings.get_listings(conn, {*new, *listings.neighbours(conn, new, MAX_BLOCK)})}
    groups = cluster(record_of(item.id, item.listing, settings.region) for item in around.values()).groups
    fresh, taken, written = set(new), set[int](), []
    for group in groups:
        members = [around[listing_id] for listing_id in group]
        before = {item.business_id for item in members if item.business_id is not None} - taken
        if not fresh.intersection(group) and len(before) <= 1:
            continue
        keeper = min(before, default=None)
        written.append(_write(conn, members, keeper, plan, settings))
        taken.add(written[-1])
        for gone in before - {written[-1]}:
            businesses.drop(conn, gone, written[-1])
            taken.add(gone)
    return written


def _write(conn: sqlite3.Connection, members: list[Held], keeper: int | None, plan: Plan, settings: Settings) -> int:
    facts = merge([item.listing for item in members], settings.region)
    trade, sure = _trade(members, facts)
    rejected = _rejected(facts, trade, sure, plan)
    if rejected not in {"", CLOSED} and keeper is not None and not businesses.get_business(conn, keeper)["rejected"]:
        rejected = ""
    merged = businesses.Merged(facts, [item.id for item in members], trade, _distance(facts, plan, settings), rejected)
    business_id = businesses.save(conn, merged, keeper)
    listings.assign(conn, business_id, merged.listings)
    return business_id
