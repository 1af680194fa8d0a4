"""Plans that get past a source's cap: what to ask next, and what a sweep will take."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from openacorn.core.geo.geodesy import Circle, Point
from openacorn.core.geo.territory import Territory
from openacorn.core.geo.tiles import Tile, bounding_tile

NEARLY_FULL = 0.9
"""An answer of this share of the cap counts as full: capped services drop rows now and then, and a cut must not hide in that."""

FLOOR_M = 250.0
"""Tiles are not split below this side: pins are no finer than a few house numbers."""


@dataclass(frozen=True, slots=True)
class Query:
    """One question to a source: a trade's word in a tile or at a named place, one page of it.

    seen: rows on the pages before. cursor: address of this page, where the source gives one. With both a tile and a place it
    is asked at that place's centre for the order of the answer.
    """

    source: str
    trade: str
    word: str
    tile: Tile | None = None
    place: str = ""
    page: int = 1
    seen: int = 0
    cursor: str = ""

    @property
    def key(self) -> str:
        """Names the question within a run, so that it is never asked twice."""
        where = self.place if self.tile is None or self.ranks else self.tile.key or "root"
        kind = "ranks/" if self.ranks else ""
        return f"{kind}{self.source}/{self.trade}/{self.word}/{where}/{self.page}"

    @property
    def ranks(self) -> bool:
        """Is the order of the answer what is asked for? Such a question is never narrowed."""
        return self.tile is not None and bool(self.place)


@dataclass(frozen=True, slots=True)
class CutShort:
    """A place where a source holds more than it hands out, and nothing narrower is left to ask. side_m: of its tile, if any."""

    query: Query
    side_m: float | None


def first_by_tiles(source: str, words: Sequence[tuple[str, str]], territory: Territory) -> list[Query]:
    """One question a (trade, word) over each root tile of the territory."""
    return [Query(source, trade, word, tile) for trade, word in words for tile in territory.roots()]


def first_by_places(source: str, words: Sequence[tuple[str, str]], places: Sequence[str]) -> list[Query]:
    """One question a (trade, word) and place name, for sources that take only words."""
    return [Query(source, trade, word, place=place) for trade, word in words for place in places]


RANK_RADIUS_M = 10_000.0
"""How far around a town's centre is asked for ranks: a town and what lies about it (common practice)."""


def rank_questions(source: str, words: Sequence[tuple[str, str]], towns: Sequence[tuple[str, Point]]) -> list[Query]:
    """One question a (trade, word) at each town's centre, so that its order is known."""
    tiles = [(name, bounding_tile(Circle(centre, RANK_RADIUS_M / math.sqrt(2)))) for name, centre in towns]
    return [Query(source, trade, word, tile, place=name) for trade, word in words for name, tile in tiles]


def is_full(seen: int, cap: int) -> bool:
    """Did a query (all its pages: `seen` rows) run into the cap?"""
    return seen >= cap * NEARLY_FULL


def narrower(query: Query, words: tuple[str, ...], territory: Territory) -> tuple[Query, ...] | CutShort:
    """Return the questions that replace a full one.

    Four quarters (those that touch the territory) down to FLOOR_M; there, the trade's other words one by one, as each
    has a cap of its own; when those are used up too, CutShort. A named place has no quarters, only other words.
    """
    side = query.tile.side_m if query.tile else None
    if query.tile is not None and side is not None and side / 2 >= FLOOR_M:
        quarters = (tile for tile in query.tile.quarters() if territory.touches(tile))
        return tuple(Query(query.source, query.trade, query.word, tile) for tile in quarters)
    later = words[words.index(query.word) + 1 :] if query.word in words else ()
    if later:
        return (Query(query.source, query.trade, later[0], query.tile, query.place),)
    return CutShort(query, side)


COVER_OVERLAP = math.pi / 2
"""Area of the circle around a square tile, by the tile's area: what asking by radius reads twice."""


def expected_requests(rows: float, cap: int, page_size: int) -> int:
    """Requests to read `rows` evenly spread rows past `cap`, by walking the quadtree level by level."""
    tiles, total = 1, 0.0
    while True:
        in_tile = rows / tiles * COVER_OVERLAP
        answered = min(in_tile, cap)
        total += tiles * max(1, math.ceil(answered / page_size))
        if not is_full(int(answered), cap) or tiles > 4**12:
            return math.ceil(total)
        tiles *= 4


@dataclass(frozen=True, slots=True)
class KnownCounts:
    """What is held already of one trade: businesses in the territory, and per 10,000 residents where swept (None: nowhere)."""

    inside: int
    per_10k: float | None


UNCERTAINTY = {"held": 1.15, "own rate": 1.5, "prior": 3.0}
"""Factor up and down for the range of an estimate, by where it comes from (set on the simulated coast's towns)."""


def estimate_rows(prior_per_10k: float, residents: int, held: KnownCounts) -> tuple[float, str]:
    """Return (expected rows of a trade, where that comes from: a key of UNCERTAINTY)."""
    by_rate = (held.per_10k if held.per_10k is not None else prior_per_10k) * residents / 10_000
    if held.inside and held.inside >= by_rate * 0.8:
        return float(held.inside), "held"
    return max(by_rate, float(held.inside)), "own rate" if held.per_10k is not None else "prior"
