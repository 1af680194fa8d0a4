"""A sweep's questions: the first ones, what follows from an answer, and how they are stored as units."""

import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, replace

import numpy as np
import orjson

from openacorn.business.store import own_trades
from openacorn.core.gather.planning import (
    CutShort,
    Query,
    first_by_places,
    first_by_tiles,
    is_full,
    narrower,
    rank_questions,
)
from openacorn.core.geo.geodesy import Point, Points
from openacorn.core.geo.tiles import Tile
from openacorn.core.trades.catalogue import Catalogue
from openacorn.core.trades.local_words import local_words
from openacorn.core.trades.trade import Trade
from openacorn.gather.reach import source_in
from openacorn.gather.sources._source import Reading, Source
from openacorn.gather.store import places
from openacorn.runs.store.sweeps import Plan


def encode_query(query: Query) -> str:
    """A query as a unit's payload."""
    return orjson.dumps(asdict(query)).decode()


def decode_query(payload: str) -> Query:
    """A query out of a unit's payload."""
    raw = orjson.loads(payload)
    return Query(**raw | {"tile": Tile(**raw["tile"]) if raw.get("tile") else None})


def words_of(trade: Trade, language: str = "") -> tuple[str, ...]:
    """The words a trade is asked for by: in the plan's language first, then our own: the plural, and its synonyms, for tiles
    that are full at the floor."""
    return tuple(dict.fromkeys((*local_words(trade, language), trade.plural.lower(), *trade.words)))


def towns_in(conn: sqlite3.Connection, plan: Plan) -> dict[str, Point]:
    """The territory's towns and their centres."""
    centres = {town.name: Point(town.lat, town.lon) for town in places.towns(conn, plan.territory.bounds)}
    lats, lons = (
        np.array([getattr(centre, name) for centre in centres.values()], np.float64) for name in ("lat", "lon")
    )
    points = Points.of(lats, lons)
    inside = set(points.order[plan.territory.contains_many(points)].tolist())
    return {name: centre for number, (name, centre) in enumerate(centres.items()) if number in inside}


def places_in(conn: sqlite3.Connection, plan: Plan) -> list[str]:
    """Names of the territory's towns for sources that take only words; the areas' own names where no town is known."""
    return list(towns_in(conn, plan) or dict.fromkeys(area.name for area in plan.territory.areas))


def first_queries(conn: sqlite3.Connection, plan: Plan, source_id: str) -> list[Query]:
    """What a source is asked first: each trade over the whole territory, or at each of its towns.

    A source that knows about one business at a time is asked when that one is audited.
    """
    source = source_in(conn, source_id)
    if source.by == "business":
        return []
    if source.by == "once":
        return [Query(source_id, "", "all rows")]
    trades = own_trades.trades_there(conn)
    words = [
        (trade, word) for trade in plan.trades for word in words_of(trades.of(trade), plan.language)[: source.words]
    ]
    if source.by == "places":
        return first_by_places(source_id, words, places_in(conn, plan))
    first = first_by_tiles(source_id, words, plan.territory)
    if source.ranked and "rank" in plan.facts:
        first += rank_questions(source_id, words, list(towns_in(conn, plan).items()))
    return first


def follow_up(
    query: Query, reading: Reading, source: Source, plan: Plan, trades: Catalogue
) -> tuple[Sequence[Query], bool, CutShort | None]:
    """Return (what to ask next, was the answer full, where it was cut short if nothing is left to ask)."""
    seen = query.seen + len(reading.listings) + reading.unreadable + reading.left_out
    if reading.more and seen < source.cap:
        return [replace(query, page=query.page + 1, seen=seen, cursor=reading.cursor)], False, None
    if query.ranks:
        return [], False, None
    if not reading.cut and not is_full(seen, source.cap):
        return [], False, None
    after = narrower(query, words_of(trades.of(query.trade), plan.language), plan.territory)
    if isinstance(after, CutShort):
        return [], True, after
    return after, True, None
