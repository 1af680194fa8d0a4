"""A sweep's questions: the first ones, what follows from an answer, and how they are stored as units."""

from dataclasses import asdict

import orjson

from openacorn.core.geo.tiles import Tile, bounding_tile
from openacorn.core.planning import CutShort, Query, is_full, narrower
from openacorn.core.trades.catalogue import trade_of
from openacorn.sources._source import Reading, Source
from openacorn.store.sweeps import Plan


def parse_plan(text: str) -> Plan:
    """A plan out of the JSON that is stored of it."""
    raw = orjson.loads(text)
    return Plan(**{**raw, "trades": tuple(raw["trades"])})


def encode_query(query: Query) -> str:
    """A query as a unit's payload."""
    return orjson.dumps(asdict(query)).decode()


def decode_query(payload: str) -> Query:
    """A query out of a unit's payload."""
    raw = orjson.loads(payload)
    return Query(raw["trade"], raw["word"], Tile(**raw["tile"]), raw["page"], raw["seen"])


def words_of(trade_id: str) -> tuple[str, ...]:
    """The words a trade is asked for by: the plural first, then its synonyms, for tiles that are full at the floor."""
    trade = trade_of(trade_id)
    return (trade.plural.lower(), *trade.words)


def first_queries(plan: Plan) -> list[Query]:
    """One question a trade, over the whole territory."""
    root = bounding_tile(plan.circle)
    return [Query(trade, words_of(trade)[0], root) for trade in plan.trades]


def follow_up(query: Query, reading: Reading, source: Source, plan: Plan) -> tuple[list[Query], bool, CutShort | None]:
    """Return (what to ask next, was the answer full, where it was cut short if nothing is left to ask)."""
    seen = query.seen + len(reading.listings) + reading.unreadable
    if reading.more and query.page * source.page_size < source.cap:
        return [Query(query.trade, query.word, query.tile, query.page + 1, seen)], False, None
    if not is_full(seen, source.cap):
        return [], False, None
    after = narrower(query, words_of(query.trade), plan.circle)
    if isinstance(after, CutShort):
        return [], True, after
    return list(after), True, None
