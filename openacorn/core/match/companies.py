"""Which entry of a company register stands behind a business: by name and town, with a confidence.

A register knows neither shop signs nor phones, and its address is often an accountant's. So an entry is never a
business of its own: it is joined to one that other sources list, or left alone.
"""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from openacorn.core.gather.listing import Listing
from openacorn.core.match.compare import LEVELS, SILENT, columns_of, compare
from openacorn.core.match.normalise import ListingRecord, record_of
from openacorn.core.trades.catalogue import Catalogue

JOIN_AT = 0.8
"""Below this an entry is not shown as the business's: a wrong owner's name on the phone costs the call."""

CLEARLY = 0.02
"""Of two entries this close, neither is taken: nobody can tell which it is."""

CLAIM = 0.1
"""A business whose claim to an entry is weaker than another's by more than this does not get it."""

PRIOR = math.log(0.05 / 0.95)
WORD_FOR_WORD = 5.2
NAME = dict(zip(LEVELS["name"], (1.2, 0.2, 2.2, -0.5, 0.0, -5.0), strict=True))
STREET = dict(zip(LEVELS["street"], (4.0, 1.5, -0.2, -0.7), strict=True))
TRADE = dict(zip(LEVELS["category"], (1.7, 0.0, -2.5), strict=True))
SAME_PLACE, OTHER_PLACE = 1.9, -1.4
"""Log-odds a comparison adds (set on the simulated coast, whose register has trading names, second companies and
registered offices elsewhere; see tests/core/match/test_companies.py)."""

MAX_BLOCK = 400
"""A word that so many names begin with is met only together with the place."""


@dataclass(frozen=True, slots=True)
class Join:
    """An entry of the register (its key) and how likely it is the business's (0–1)."""

    company: int
    confidence: float


def _names(listing: Listing) -> list[str]:
    trading = str(listing.extra.get("trading_as") or "")
    return [listing.name, trading] if trading else [listing.name]


def _keys(record: ListingRecord) -> set[str]:
    place = record.postcode or record.town
    words = record.core or record.full
    return {f"n{words}", *(f"w{word[:5]}" for word in words.split()), *(f"z{place}:{word}" for word in words.split())}


def _pairs(businesses: Sequence[ListingRecord], companies: Sequence[ListingRecord]) -> list[tuple[int, int]]:
    """Positions (business, company) that share a block."""
    blocks: dict[str, tuple[list[int], list[int]]] = defaultdict(lambda: ([], []))
    for side, records in enumerate((businesses, companies)):
        for position, record in enumerate(records):
            for key in _keys(record):
                blocks[key][side].append(position)
    small = (sides for sides in blocks.values() if len(sides[0]) * len(sides[1]) <= MAX_BLOCK**2)
    return sorted({(a, b) for left, right in small for a in left for b in right})


def _confidences(
    businesses: Sequence[ListingRecord], companies: Sequence[ListingRecord], pairs: Sequence[tuple[int, int]]
) -> list[float]:
    columns = columns_of([*businesses, *companies])
    a = np.fromiter((pair[0] for pair in pairs), np.int64, len(pairs))
    b = np.fromiter((pair[1] + len(businesses) for pair in pairs), np.int64, len(pairs))
    levels = compare(columns, a, b)
    odds = np.full(len(pairs), PRIOR)
    for field, weights in (("name", NAME), ("street", STREET), ("category", TRADE)):
        table = np.array([*weights.values(), 0.0])
        odds += np.where(levels[field] == SILENT, 0.0, table[levels[field]])
    exact = np.fromiter((businesses[i].full == companies[j].full for i, j in pairs), bool, len(pairs))
    odds += np.where(exact, WORD_FOR_WORD - np.array([*NAME.values()])[levels["name"]], 0.0)
    odds += [SAME_PLACE if _same_place(businesses[i], companies[j]) else OTHER_PLACE for i, j in pairs]
    return [float(value) for value in 1 / (1 + np.exp(-odds))]


def _same_place(a: ListingRecord, b: ListingRecord) -> bool:
    return bool((a.town and a.town == b.town) or (a.postcode and a.postcode == b.postcode))


def join_companies(
    businesses: Mapping[int, Listing], companies: Mapping[int, Listing], trades: Catalogue
) -> dict[int, Join]:
    """Business → the entry that is most likely its own, where one reaches JOIN_AT and stands clear of the next.

    businesses: as listings, by their ids; companies: a register's listings, by whatever key. A struck-off company is
    taken only where no living one fits.
    """
    left = [
        record_of(key, replace(item, source="", phone="", website=""), None, trades) for key, item in businesses.items()
    ]
    right = [
        record_of(key, replace(item, name=name), None, trades)
        for key, item in companies.items()
        for name in _names(item)
    ]
    pairs = _pairs(left, right)
    best: dict[int, dict[int, float]] = defaultdict(dict)
    claims: dict[int, float] = defaultdict(float)
    for (a, b), chance in zip(pairs, _confidences(left, right, pairs), strict=True):
        company = right[b].key
        known = best[left[a].key]
        known[company] = max(known.get(company, 0.0), chance)
        claims[company] = max(claims[company], chance)
    found: dict[int, Join] = {}
    for business, chances in best.items():
        ranked = sorted(chances.items(), key=lambda item: (companies[item[0]].status == "closed", -item[1], item[0]))
        # another business may have the better claim: branches of one name claim alike, a neighbour with half the name does not
        living = [item for item in ranked if item[1] >= JOIN_AT and item[1] >= claims[item[0]] - CLAIM]
        if not living or (len(living) > 1 and _as_good(living[0], living[1], companies)):
            continue
        found[business] = Join(living[0][0], round(living[0][1], 4))
    return found


def _as_good(first: tuple[int, float], second: tuple[int, float], companies: Mapping[int, Listing]) -> bool:
    same_state = companies[first[0]].status == companies[second[0]].status
    return same_state and first[1] - second[1] < CLEARLY
