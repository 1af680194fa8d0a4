"""From listings to businesses: compare within blocks, join what is surely one."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from rapidfuzz.fuzz import partial_ratio

from openacorn.core.gather.listing import Listing
from openacorn.core.match.compare import ALIKE, Ints, candidate_pairs, columns_of, compare
from openacorn.core.match.estimate import estimate
from openacorn.core.match.normalise import ListingRecord, common_words, record_of, region_of_phones
from openacorn.core.match.weights import ASK_AT, MERGE_AT, SHIPPED, probability
from openacorn.core.trades.catalogue import catalogue

Pair = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Clusters:
    """`groups`: record keys of each business, ascending, with the weakest link that joined each (1.0 for a single one).

    `doubtful`: pairs (a, b, probability) between groups, to ask the user about.
    """

    groups: tuple[tuple[int, ...], ...]
    doubtful: tuple[tuple[int, int, float], ...]
    weakest: tuple[float, ...]


def likely_pairs(
    records: Sequence[ListingRecord], least: float, *, learn: bool = False
) -> list[tuple[int, int, float]]:
    """(key, larger key, probability) of the pairs that meet in a block and reach `least`: the surest first, then as the
    records stand."""
    return _likely(records, *candidate_pairs(records), least, learn=learn)


def likely_of(records: Mapping[int, ListingRecord], met: Sequence[Pair], least: float) -> list[tuple[int, int, float]]:
    """The same of the pairs `met`, by key, that somebody else has seen meet."""
    place = {key: position for position, key in enumerate(records)}
    a, b = (np.fromiter((place[pair[side]] for pair in met), np.int64, len(met)) for side in (0, 1))
    return _likely(list(records.values()), a, b, least)


def _likely(
    records: Sequence[ListingRecord], a: Ints, b: Ints, least: float, *, learn: bool = False
) -> list[tuple[int, int, float]]:
    levels = compare(columns_of(records), a, b)
    chances = probability(levels, estimate(levels, len(records)) if learn else SHIPPED)
    keys = np.fromiter((record.key for record in records), np.int64, len(records))
    kept = chances >= least
    a, b, chances = a[kept], b[kept], chances[kept]
    order = np.lexsort((np.maximum(a, b), np.minimum(a, b), -chances))
    low, high = np.minimum(keys[a], keys[b]), np.maximum(keys[a], keys[b])
    return list(zip(low[order].tolist(), high[order].tolist(), chances[order].tolist(), strict=True))


def _other_house(a: ListingRecord, b: ListingRecord) -> bool:
    """At houses that no slip of the pen makes one: two rows of one source with ids of their own, or two with unlike phones.

    A third listing without an address must not bridge the two: it may be of either branch.
    """
    if not (a.street and b.street and a.number and b.number):
        return False
    apart = bool(a.source) and a.source == b.source and a.source_id != b.source_id
    if not apart and not (a.phone and b.phone and a.phone != b.phone):
        return False
    return a.number != b.number or partial_ratio(a.street, b.street) < ALIKE


class _Groups:
    """Groups under growth: who is together, how sure, and which may not meet."""

    def __init__(self, records: Sequence[ListingRecord], apart: frozenset[Pair]) -> None:
        self.of = {record.key: record.key for record in records}
        self.members = {record.key: [record.key] for record in records}
        self.weakest = {record.key: 1.0 for record in records}
        self.records = {record.key: record for record in records}
        self.apart: dict[int, set[int]] = defaultdict(set)
        for a, b in apart:
            self.apart[a].add(b)
            self.apart[b].add(a)

    def at_odds(self, a: int, b: int) -> bool:
        """Must the groups of a and b stay apart: split by the user, or each with a house of its own?"""
        left, right = self.members[self.of[a]], self.members[self.of[b]]
        for x in left:
            if self.apart and self.apart.get(x, set()).intersection(right):
                return True
            if any(_other_house(self.records[x], self.records[y]) for y in right):
                return True
        return False

    def join(self, a: int, b: int, chance: float) -> None:
        left, right = self.of[a], self.of[b]
        if len(self.members[left]) < len(self.members[right]):
            left, right = right, left
        for key in self.members[right]:
            self.of[key] = left
        self.members[left] += self.members.pop(right)
        self.weakest[left] = min(self.weakest[left], self.weakest.pop(right), chance)


def cluster(
    records: Iterable[ListingRecord],
    *,
    apart: frozenset[Pair] = frozenset(),
    together: frozenset[Pair] = frozenset(),
    merge_at: float = MERGE_AT,
    learn: bool = False,
) -> Clusters:
    """Join records into businesses at `merge_at`. `apart`, `together`: pairs of keys that a user has decided.

    `learn`: re-estimate the weights from these records, if they are enough; else the shipped ones hold.

    Surest pairs first, ties broken by the source and its id, so that the answer does not depend on the order of arrival. A
    pair that would bring together what must stay apart is asked about, not joined.
    """
    held = sorted(records, key=lambda record: (record.source, record.source_id, record.key))
    groups = _Groups(held, apart)
    for a, b in sorted(together):
        if a in groups.of and b in groups.of and groups.of[a] != groups.of[b]:
            groups.join(a, b, 1.0)
    doubtful = []
    for a, b, chance in likely_pairs(held, min(ASK_AT, merge_at), learn=learn):
        if groups.of[a] == groups.of[b] or (a, b) in apart:
            continue
        if chance < merge_at:
            doubtful.append((a, b, chance))
        elif not groups.at_odds(a, b):
            groups.join(a, b, chance)
    found = sorted((tuple(sorted(members)), groups.weakest[root]) for root, members in groups.members.items())
    return Clusters(
        tuple(members for members, _ in found),
        tuple((a, b, p) for a, b, p in doubtful if groups.of[a] != groups.of[b] and not groups.at_odds(a, b)),
        tuple(weakest for _, weakest in found),
    )


def match_all(listings: Mapping[int, Listing], region: str | None, *, merge_at: float = ASK_AT) -> Clusters:
    """Match a whole set at once, with nobody to ask: dull words and, in a large set, weights come from the set itself.

    `listings` by whatever key the caller has; at `merge_at` .5 what is more likely one than not is joined.
    """
    common = common_words(listing.name for listing in listings.values())
    region = region or region_of_phones(listing.phone for listing in listings.values())
    records = [record_of(key, listing, region, catalogue(), common=common) for key, listing in listings.items()]
    return cluster(records, merge_at=merge_at, learn=True)
